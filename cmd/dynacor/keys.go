package main

import (
	"context"
	"encoding/base64"
	"errors"
	"fmt"
	"time"

	"dynacor/core/record"
	"dynacor/internal/app"
	"dynacor/internal/keys"
	"dynacor/internal/store"
)

type keyListCmd struct{ database }

func (c keyListCmd) Run(ctx context.Context) error {
	return c.on(ctx, func(a *app.App) error {
		list, err := a.Keys(ctx)
		if err != nil {
			return err
		}
		for _, k := range list {
			fmt.Printf("%s  %s  %s\n", record.KeyID(k.Public), base64.StdEncoding.EncodeToString(k.Public), lasts(k))
		}
		return nil
	})
}

// lasts says in words for which time a key holds.
func lasts(k record.Key) string {
	out := "from the beginning"
	if !k.From.IsZero() {
		out = "from " + k.From.UTC().Format(time.RFC3339)
	}
	if k.Until != nil {
		out += " to " + k.Until.UTC().Format(time.RFC3339)
	}
	if k.Revoked != nil {
		out += "; not believed from " + k.Revoked.UTC().Format(time.RFC3339) + " on: " + k.RevokeReason
	}
	return out
}

type keyRotateCmd struct {
	database
	signing
	New    string `help:"File of the new key." required:"" type:"path"`
	Reason string `help:"Why." required:""`
}

// Run makes the new key one of the site's before the old one ends, so that a server can seal at every moment.
func (c keyRotateCmd) Run(ctx context.Context) error {
	old, err := c.signing.open()
	if err != nil {
		return err
	}
	secret, err := c.signing.secret()
	if err != nil {
		return err
	}
	fresh, err := keys.Create(c.New, secret)
	if err != nil {
		return err
	}
	if err := fresh.Carry(old); err != nil {
		return err
	}
	now := time.Now().UTC().Truncate(time.Second)
	if err := store.AddKey(ctx, c.DatabaseURL, fresh.ID(), fresh.Public(), &now, c.Reason); err != nil {
		return err
	}
	if err := store.EndKey(ctx, c.DatabaseURL, old.ID(), now); err != nil {
		return err
	}
	fmt.Printf("Key %s takes the place of %s. Start every server anew with --key %s; records sealed before hold as "+
		"they did.\n", fresh.ID(), old.ID(), c.New)
	return nil
}

type keyRevokeCmd struct {
	database
	ID     string    `arg:"" help:"Identifier of the key."`
	From   time.Time `help:"From when on nothing of it is believed (RFC 3339)." required:""`
	Reason string    `help:"Why; everybody who verifies a record reads it." required:""`
}

func (c keyRevokeCmd) Run(ctx context.Context) error {
	if c.Reason == "" {
		return errors.New("say why the key is revoked")
	}
	if err := store.RevokeKey(ctx, c.DatabaseURL, c.ID, c.From.UTC(), c.Reason); err != nil {
		return err
	}
	fmt.Printf("Nothing that key %s signed from %s on is believed.\n", c.ID, c.From.UTC().Format(time.RFC3339))
	return nil
}
