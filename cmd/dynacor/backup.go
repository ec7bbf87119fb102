package main

import (
	"bytes"
	"context"
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"net/url"
	"os"
	"os/exec"
	"path/filepath"

	"dynacor/internal/pgcluster"
	"dynacor/internal/store"
)

// postgres runs one of PostgreSQL's own programs on a database. The password travels in the environment, where other
// accounts of the machine do not see it.
func postgres(ctx context.Context, program, address string, args ...string) error {
	u, err := url.Parse(address)
	if err != nil {
		return fmt.Errorf("the database address cannot be used: %w", err)
	}
	bin, err := pgcluster.Program(program)
	if err != nil {
		return err
	}
	cmd := exec.CommandContext(ctx, bin)
	cmd.Env = os.Environ()
	if p, ok := u.User.Password(); ok {
		cmd.Env = append(cmd.Env, "PGPASSWORD="+p)
		u.User = url.User(u.User.Username())
	}
	cmd.Args = append(append([]string{program}, args...), "--dbname="+u.String())
	var said bytes.Buffer
	cmd.Stderr = &said
	if err := cmd.Run(); err != nil {
		return fmt.Errorf("%s: %w\n%s", program, err, bytes.TrimSpace(said.Bytes()))
	}
	return nil
}

type backupCmd struct {
	database
	File string `arg:"" help:"File to write; it must not be there yet." type:"path"`
}

// Run writes the whole database, as its owner. The file is whole or not there.
func (c backupCmd) Run(ctx context.Context) error {
	if _, err := os.Stat(c.File); !errors.Is(err, fs.ErrNotExist) {
		return fmt.Errorf("%s is there already: a backup is never written over", c.File)
	}
	part := c.File + ".part"
	defer os.Remove(part) // gone already when all went well
	if err := os.WriteFile(part, nil, 0o600); err != nil {
		return err
	}
	if err := postgres(ctx, "pg_dump", c.DatabaseURL, "--format=custom", "--no-owner", "--file="+part); err != nil {
		return err
	}
	size, sum, err := measured(part)
	if err != nil {
		return err
	}
	if err := os.Rename(part, c.File); err != nil {
		return err
	}
	if err := store.NoteBackup(ctx, c.DatabaseURL, filepath.Base(c.File), size, sum); err != nil {
		return fmt.Errorf("%s is whole, and could not be noted in the database: %w", c.File, err)
	}
	fmt.Printf("Written to %s. The signing key, its secret and the mark of record numbers (%s) are not in it: keep "+
		"copies of those apart.\n", c.File, "FILE, FILE.number")
	return nil
}

// measured gives size and SHA-256 of a file.
func measured(name string) (size int64, sum string, err error) {
	f, err := os.Open(name)
	if err != nil {
		return 0, "", err
	}
	defer f.Close()
	h := sha256.New()
	if size, err = io.Copy(h, f); err != nil {
		return 0, "", err
	}
	return size, hex.EncodeToString(h.Sum(nil)), nil
}

type restoreCmd struct {
	database
	File          string   `arg:"" help:"File that dynacor backup wrote." type:"existingfile"`
	Anchor        []string `help:"File of an anchor that was kept outside; what is restored must hold it." type:"existingfile"`
	ServeAs       string   `help:"Make an account of this name that serves."`
	ServePassword string   `help:"Password of that account." env:"DYNACOR_SERVE_PASSWORD"`
}

// Run fills an empty database, in one transaction, and looks through everything.
func (c restoreCmd) Run(ctx context.Context) error {
	if err := store.Empty(ctx, c.DatabaseURL); err != nil {
		return err
	}
	if err := store.MakeAppRole(ctx, c.DatabaseURL); err != nil {
		return err
	}
	if err := postgres(ctx, "pg_restore", c.DatabaseURL, "--no-owner", "--exit-on-error", "--single-transaction",
		filepath.Clean(c.File)); err != nil {
		return err
	}
	if err := store.Migrate(ctx, c.DatabaseURL); err != nil {
		return err
	}
	if c.ServeAs != "" {
		if len(c.ServePassword) < 8 {
			return errors.New("give the account that serves a password of 8 characters or more: DYNACOR_SERVE_PASSWORD")
		}
		if err := store.LetServe(ctx, c.DatabaseURL, c.ServeAs, c.ServePassword); err != nil {
			return err
		}
	}
	fmt.Println("Restored. Serve it with the same signing key, so that no record number is given again.")
	return verifyDatabase(ctx, c.DatabaseURL, c.Anchor)
}
