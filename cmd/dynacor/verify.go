package main

import (
	"context"
	"crypto/ed25519"
	"encoding/base64"
	"encoding/json"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"time"

	"dynacor/core/pressuretest"
	"dynacor/core/record"
	"dynacor/internal/app"
)

// verdictError ends the program with 1 without another message.
type verdictError struct{}

func (verdictError) Error() string { return "the record does not hold" }

type verifyCmd struct {
	File     string   `arg:"" optional:"" help:"Sealed record (JSON), a folder or a ZIP archive of them; - reads standard input."`
	Key      []string `help:"Trusted public key (base64); without one the key in the file is taken, and said."`
	JSON     bool     `help:"Write the report as JSON." name:"json"`
	Database string   `help:"PostgreSQL address: look through everything that is kept there instead of a file."`
	Anchor   []string `help:"File of an anchor that was kept outside; the database must hold the same." type:"existingfile"`
}

func (c verifyCmd) Run(ctx context.Context) error {
	if c.Database != "" {
		return verifyDatabase(ctx, c.Database, c.Anchor)
	}
	if c.File == "" {
		return errors.New("name the file of a sealed record, or --database")
	}
	var known []record.Key
	for _, k := range c.Key {
		b, err := base64.StdEncoding.DecodeString(k)
		if err != nil || len(b) != ed25519.PublicKeySize {
			return fmt.Errorf("--key %q is not a public key in base64", k)
		}
		known = append(known, record.Trust(b)...)
	}
	if f, err := os.Stat(c.File); err == nil && f.IsDir() || strings.EqualFold(filepath.Ext(c.File), ".zip") {
		return verifyMany(c.File, known, c.JSON)
	}
	data, err := read(c.File)
	if err != nil {
		return err
	}
	r := verifyFile(data, known)
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

// verifyFile verifies a sealed record, or the sealed sheet of a test under pressure.
func verifyFile(data []byte, known []record.Key) record.Report {
	if pressuretest.Is(data) {
		return pressuretest.Report(data, known)
	}
	return record.Verify(data, known)
}

// verifyDatabase looks through everything that is kept, and says what does not hold.
func verifyDatabase(ctx context.Context, url string, anchors []string) error {
	outside := map[int]string{}
	for _, path := range anchors {
		text, err := os.ReadFile(path)
		if err != nil {
			return err
		}
		var f app.AnchorFile
		if err := json.Unmarshal(text, &f); err != nil || f.Anchor.Format != record.AnchorFormat {
			return fmt.Errorf("%s is not an anchor", path)
		}
		if outside[f.Anchor.Number], err = f.Anchor.Hash(); err != nil {
			return err
		}
	}
	a, pool, err := database{url}.open(ctx)
	if err != nil {
		return err
	}
	defer pool.Close()
	h, err := a.VerifyAll(ctx, outside)
	if err != nil {
		return err
	}
	fmt.Printf("Looked through %d runs with %d events, %d records with %d additions, %d of other sites, %d tests, "+
		"%d books, %d pictures, %d anchors.\n", h.Runs, h.Events, h.Records, h.Additions, h.Elsewhere, h.Tests, h.Books,
		h.Photos, h.Anchors)
	for _, p := range h.Problems {
		fmt.Println("  wrong:", p)
	}
	if len(h.Problems) > 0 {
		fmt.Println("What is kept does not hold. Change nothing; compare with the backups.")
		return verdictError{}
	}
	fmt.Println("Everything holds.")
	return nil
}

func print(r record.Report, trusted bool) {
	if r.OK {
		fmt.Printf("The record holds: %s, joint %s, sealed %s, %d events.\n", r.Number, r.Joint,
			r.SealedAt.Format(time.RFC3339), r.EventCount)
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
		fmt.Printf("  note:    the key %s was taken from the file. Compare it with the site's, or give it "+
			"with --key.\n", r.KeyID)
	}
}

type anchorMakeCmd struct {
	database
	signing
}

func (c anchorMakeCmd) Run(ctx context.Context) error {
	key, err := c.signing.open()
	if err != nil {
		return err
	}
	return c.on(ctx, func(a *app.App) error {
		if err := a.UseKey(ctx, key); err != nil {
			return err
		}
		n, err := a.Anchor(ctx)
		if err == nil {
			fmt.Printf("Anchor %d over %d new heads. Its code, to be kept outside:\n  %s\n", n.Number, n.Leaves, n.Code)
		}
		return err
	})
}

type anchorExportCmd struct {
	database
	Number int `arg:"" optional:"" help:"Which anchor; the last one when none is named."`
}

func (c anchorExportCmd) Run(ctx context.Context) error {
	return c.on(ctx, func(a *app.App) error {
		if c.Number == 0 {
			t, err := a.Trust(ctx)
			if err != nil {
				return err
			}
			if len(t.Anchors) == 0 {
				return record.ErrNoAnchor
			}
			c.Number = t.Anchors[0].Number
		}
		f, err := a.AnchorFile(ctx, c.Number)
		if err != nil {
			return err
		}
		e := json.NewEncoder(os.Stdout)
		e.SetIndent("", " ")
		return e.Encode(f)
	})
}
