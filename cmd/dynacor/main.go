// Command dynacor is the whole program: the demo, the server, and the tools to look after both.
package main

import (
	"context"
	"errors"
	"fmt"
	"io"
	"os"
	"os/signal"
	"syscall"

	"github.com/alecthomas/kong"

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
	Verify  verifyCmd  `cmd:"" help:"Check a sealed record file, which needs no database; or, with --database, everything that is kept."`
	Explain explainCmd `cmd:"" help:"Show a run from inside: its entries, what the rules found at each, and how it stands."`
	Backup  backupCmd  `cmd:"" help:"Write everything that is kept into one file. The signing key is not in it: keep its files apart."`
	Restore restoreCmd `cmd:"" help:"Fill an empty database from such a file, and look through everything afterwards."`
	Anchor  struct {
		Make   anchorMakeCmd   `cmd:"" help:"Anchor now everything that is new; a server does so daily."`
		Export anchorExportCmd `cmd:"" help:"Write an anchor as JSON, to be kept by somebody outside."`
	} `cmd:"" help:"What tells of a removed record or a rewritten history, kept outside."`
	Standin  standinCmd  `cmd:"" help:"Run simulated tools that send what they measure: to try, to teach, to test."`
	Mailbox  mailboxCmd  `cmd:"" help:"Take mail as a mail server does, and write it to files: to try, to teach, to test."`
	Calc     calcCmd     `cmd:"" help:"Work out a calculation of the catalogue. Needs no database."`
	Schedule scheduleCmd `cmd:"" help:"Plan who does what, with which tool, by when. Needs no database."`
	Lab      labCmd      `cmd:"" help:"Compute what each bolt does while its neighbours are tightened, from a file of cases."`
	User     struct {
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
	k := kong.Parse(&cli, kong.Name("dynacor"),
		kong.Description("Carries a bolted joint from paper to a record that will still be believed in ten years."))
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

type versionCmd struct{}

func (versionCmd) Run() error {
	fmt.Println("dynacor", version)
	return nil
}
