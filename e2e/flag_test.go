package e2e

import "github.com/go-rod/rod/lib/launcher/flags"

func flag(name string) flags.Flag { return flags.Flag(name) }
