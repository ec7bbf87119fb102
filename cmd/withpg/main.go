// Command withpg runs a command beside one throw-away PostgreSQL: withpg go test ./...
package main

import (
	"context"
	"errors"
	"fmt"
	"os"
	"os/exec"
	"os/signal"
	"syscall"

	"dynacor/internal/store/storetest"
)

func main() { os.Exit(run()) }

func run() int {
	if len(os.Args) < 2 {
		fmt.Fprintln(os.Stderr, "usage: withpg COMMAND [ARGUMENTS]")
		return 2
	}
	s, _, stop, err := storetest.Cluster(context.Background(), false)
	if err != nil {
		fmt.Fprintln(os.Stderr, err)
		return 1
	}
	defer stop()
	signal.Ignore(syscall.SIGINT) // the command gets it too and ends by itself
	c := exec.Command(os.Args[1], os.Args[2:]...)
	c.Stdin, c.Stdout, c.Stderr = os.Stdin, os.Stdout, os.Stderr
	c.Env = append(os.Environ(), storetest.Env+"="+s.URL("postgres"))
	if err := c.Run(); err != nil {
		var failed *exec.ExitError
		if errors.As(err, &failed) {
			return max(failed.ExitCode(), 1)
		}
		fmt.Fprintln(os.Stderr, err)
		return 1
	}
	return 0
}
