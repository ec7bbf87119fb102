// Command dynacor is the whole program: the demo, the server, and the tools to look after both.
package main

import (
	"context"
	"crypto/ed25519"
	"encoding/base64"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"os"
	"os/signal"
	"syscall"
	"time"

	"github.com/alecthomas/kong"

	"dynacor/core/record"
	"dynacor/core/run"
	"dynacor/internal/app"
)

// version is set when a release is built.
var version = "0.1.0"

var cli struct {
	Demo    demoCmd    `cmd:"" help:"Start a private PostgreSQL with the invented Tarn Skerry Tidal Station and serve it."`
	Serve   serveCmd   `cmd:"" help:"Serve on a PostgreSQL of your own."`
	Migrate migrateCmd `cmd:"" help:"Bring the database up to date."`
	Import  importCmd  `cmd:"" help:"Import a joint register (CSV)."`
	Export  exportCmd  `cmd:"" help:"Write the joint register as CSV."`
	Verify  verifyCmd  `cmd:"" help:"Check a sealed record file. Needs no database."`
	Standin standinCmd `cmd:"" help:"Run simulated tools that send what they measure: to try, to teach, to test."`
	Calc    calcCmd    `cmd:"" help:"Work out a calculation of the catalogue. Needs no database."`
	User    struct {
		Add    userAddCmd    `cmd:"" help:"Add a person."`
		PIN    userPINCmd    `cmd:"" name:"pin" help:"Give a person a new PIN and lift a lock."`
		Role   userRoleCmd   `cmd:"" help:"Give a person another role."`
		Retire userRetireCmd `cmd:"" help:"End what a person may do here."`
		Return userReturnCmd `cmd:"" help:"Let a retired person sign in again."`
	} `cmd:"" help:"People who can sign in."`
	Key struct {
		List   keyListCmd   `cmd:"" help:"Show the public keys, and from when to when each holds."`
		Rotate keyRotateCmd `cmd:"" help:"Make a new signing key that takes the place of the present one."`
		Revoke keyRevokeCmd `cmd:"" help:"Believe nothing that a key signed from a time on."`
	} `cmd:"" help:"The keys that records are sealed with."`
	Version versionCmd `cmd:"" help:"Say which version this is."`
}

func main() {
	k := kong.Parse(&cli, kong.Name("dynacor"), kong.Description("Carries a bolted joint from paper to a record that will still be believed in ten years."))
	ctx, stop := signal.NotifyContext(context.Background(), syscall.SIGINT, syscall.SIGTERM)
	defer stop()
	k.BindTo(ctx, (*context.Context)(nil))
	if err := k.Run(); err != nil {
		var bad verdictError
		if !errors.As(err, &bad) {
			fmt.Fprintln(os.Stderr, "dynacor:", err)
		}
		stop()
		os.Exit(1)
	}
}

type importCmd struct {
	database
	File string `arg:"" help:"Register as CSV; - reads standard input."`
	By   string `help:"Name of the engineer who answers for it." required:""`
	Try  bool   `help:"Only say what would be done."`
}

func (c importCmd) Run(ctx context.Context) error {
	a, pool, err := c.open(ctx)
	if err != nil {
		return err
	}
	defer pool.Close()
	who, err := person(ctx, a, c.By)
	if err != nil {
		return err
	}
	data, err := read(c.File)
	if err != nil {
		return err
	}
	res, err := a.Import(ctx, app.Actor{Person: who, Device: "command line"}, data, !c.Try)
	if err != nil {
		return err
	}
	for _, e := range res.Errors {
		fmt.Fprintf(os.Stderr, "line %d, %s: %q %s. %s\n", e.Line, e.Column, e.Value, e.What, e.Remedy)
	}
	if len(res.Errors) > 0 {
		return fmt.Errorf("%d lines are wrong. Nothing was imported", res.ErrorRows)
	}
	word := "imported"
	if c.Try {
		word = "would be imported"
	}
	fmt.Printf("%d new, %d changed, %d as they were: %s\n", res.New, res.Changed, res.Same, word)
	return nil
}

func person(ctx context.Context, a *app.App, name string) (run.Person, error) {
	list, err := a.People(ctx)
	if err != nil {
		return run.Person{}, err
	}
	for _, p := range list {
		if p.Name == name {
			return p, nil
		}
	}
	return run.Person{}, fmt.Errorf("there is nobody named %q. Add a person with: dynacor user add", name)
}

func read(file string) ([]byte, error) {
	if file == "-" {
		return io.ReadAll(os.Stdin)
	}
	return os.ReadFile(file)
}

type exportCmd struct{ database }

func (c exportCmd) Run(ctx context.Context) error {
	a, pool, err := c.open(ctx)
	if err != nil {
		return err
	}
	defer pool.Close()
	return a.Export(ctx, os.Stdout)
}

// verdictError ends the program with 1 without another message.
type verdictError struct{}

func (verdictError) Error() string { return "the record does not hold" }

type verifyCmd struct {
	File string   `arg:"" help:"Sealed record (JSON); - reads standard input."`
	Key  []string `help:"Public key (base64) that is trusted; without one the key in the file is taken, and said."`
	JSON bool     `help:"Write the report as JSON." name:"json"`
}

func (c verifyCmd) Run() error {
	data, err := read(c.File)
	if err != nil {
		return err
	}
	var known []record.Key
	for _, k := range c.Key {
		b, err := base64.StdEncoding.DecodeString(k)
		if err != nil || len(b) != ed25519.PublicKeySize {
			return fmt.Errorf("--key %q is not a public key in base64", k)
		}
		known = append(known, record.Trust(b)...)
	}
	r := record.Verify(data, known)
	if c.JSON {
		if err := json.NewEncoder(os.Stdout).Encode(r); err != nil {
			return err
		}
	} else {
		print(r, len(known) > 0)
	}
	if !r.OK {
		return verdictError{}
	}
	return nil
}

func print(r record.Report, trusted bool) {
	if r.OK {
		fmt.Printf("The record holds: %s, joint %s, sealed %s, %d events.\n", r.Number, r.Joint, r.SealedAt.Format(time.RFC3339), r.EventCount)
	} else {
		fmt.Printf("The record does not hold: %s %s\n", r.Number, r.Joint)
	}
	for _, c := range r.Checked {
		fmt.Println("  checked:", c)
	}
	for _, p := range r.Problems {
		fmt.Println("  wrong:  ", p)
	}
	if r.OK && !trusted {
		fmt.Printf("  note:    the key %s was taken from the file. Compare it with the site's, or give it with --key.\n", r.KeyID)
	}
}

type versionCmd struct{}

func (versionCmd) Run() error {
	fmt.Println("dynacor", version)
	return nil
}
