package main

import (
	"archive/zip"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"os"
	"path/filepath"
	"runtime"
	"strings"

	"dynacor/core/dossier"
	"dynacor/core/record"
)

// opened gives the files of a folder and what is under it, or of a ZIP archive.
func opened(path string) (files fs.FS, shut func() error, err error) {
	if strings.EqualFold(filepath.Ext(path), ".zip") {
		z, err := zip.OpenReader(path)
		if err != nil {
			return nil, nil, fmt.Errorf("%s cannot be read as a ZIP archive: %w", path, err)
		}
		return z, z.Close, nil
	}
	return os.DirFS(path), func() error { return nil }, nil
}

// eachRecord gives every .json file but the index of a dossier, in the order of their names.
func eachRecord(files fs.FS, path string, give func(name string, data []byte, err error)) error {
	return fs.WalkDir(files, ".", func(name string, d fs.DirEntry, err error) error {
		if err != nil || d.IsDir() || !strings.EqualFold(filepath.Ext(name), ".json") {
			return err
		}
		var data []byte
		f, err := files.Open(name)
		if err == nil {
			defer f.Close()
			data, err = io.ReadAll(io.LimitReader(f, record.MostBytes+1))
		}
		if name != dossier.IndexName || !dossier.IsIndex(data) {
			give(filepath.Join(path, name), data, err)
		}
		return nil
	})
}

// verifyIndex holds the files of a dossier against its index; with no index there is nothing to say.
func verifyIndex(files fs.FS, known []record.Key) (x dossier.Index, is bool, problems []string, err error) {
	data, err := fs.ReadFile(files, dossier.IndexName)
	if errors.Is(err, fs.ErrNotExist) || err == nil && !dossier.IsIndex(data) {
		return x, false, nil, nil
	}
	if err != nil {
		return x, false, nil, err
	}
	if x, err = dossier.ReadIndex(data, known); err != nil {
		return x, true, []string{strings.TrimPrefix(err.Error(), "dossier: ")}, nil
	}
	sums := map[string]string{}
	err = fs.WalkDir(files, ".", func(name string, d fs.DirEntry, err error) error {
		if err != nil || d.IsDir() {
			return err
		}
		f, err := files.Open(name)
		if err != nil {
			return err
		}
		defer f.Close()
		h := sha256.New()
		if _, err := io.Copy(h, f); err != nil {
			return err
		}
		sums[name] = hex.EncodeToString(h.Sum(nil))
		return nil
	})
	return x, true, x.Check(sums), err
}

// checked is the report on one file of many.
type checked struct {
	File string `json:"file"`
	record.Report
}

// verifyMany checks every record of a folder or an archive, on all processors, and says of each how it stands, in the
// order of the names. Two files of one number that are not the same record are wrong, each by itself may hold.
func verifyMany(path string, known []record.Key, asJSON bool) error {
	files, shut, err := opened(path)
	if err != nil {
		return err
	}
	defer func() { _ = shut() }()
	index, bound, loose, err := verifyIndex(files, known)
	if err != nil {
		return err
	}
	queue := make(chan chan checked, 2*runtime.GOMAXPROCS(0))
	free := make(chan struct{}, runtime.GOMAXPROCS(0))
	var walked error
	go func() {
		defer close(queue)
		walked = eachRecord(files, path, func(name string, data []byte, err error) {
			out := make(chan checked, 1)
			queue <- out
			free <- struct{}{}
			go func() {
				defer func() { <-free }()
				c := checked{name, record.Report{Problems: []string{fmt.Sprint(err)}}}
				if err == nil {
					c.Report = verifyFile(data, known)
				}
				out <- c
			}()
		})
	}()
	type seal struct{ file, mark string }
	seals := map[string]seal{}
	all, wrong := 0, 0
	for out := range queue {
		c := <-out
		all++
		if was, ok := seals[c.Number]; ok && c.Mark != "" && was.mark != c.Mark {
			c.OK = false
			c.Problems = append(c.Problems, fmt.Sprintf("Another record of the same number is in %s.", was.file))
		}
		seals[c.Number] = seal{c.File, c.Mark}
		if !c.OK {
			wrong++
		}
		if err := c.tell(asJSON); err != nil {
			return err
		}
	}
	if walked != nil {
		return walked
	}
	if bound {
		if err := tellIndex(index, loose, asJSON); err != nil {
			return err
		}
	}
	if all == 0 && !bound {
		return fmt.Errorf("%s has no sealed record: they end with .json", path)
	}
	if !asJSON {
		fmt.Printf("%d records, %d hold, %d do not.\n", all, all-wrong, wrong)
	}
	if wrong > 0 || len(loose) > 0 {
		return verdictError{}
	}
	return nil
}

// tellIndex says how the files of a dossier stand against its index, and what was missing when it was bound.
func tellIndex(x dossier.Index, loose []string, asJSON bool) error {
	if asJSON {
		return json.NewEncoder(os.Stdout).Encode(struct {
			dossier.Index
			OK       bool     `json:"ok"`
			Problems []string `json:"problems"`
		}{x, len(loose) == 0, loose})
	}
	if len(loose) > 0 {
		fmt.Println("WRONG  the dossier is not as it was bound:")
		for _, p := range loose {
			fmt.Println("         ", p)
		}
		return nil
	}
	fmt.Printf("holds  the dossier of %s, sheet %d, bound %s at %s: %d files as they were bound.\n", x.Package, x.Sheet,
		x.BoundAt.Format("2006-01-02 15:04"), x.Site, len(x.Files))
	for _, g := range x.Gaps {
		fmt.Println("          missing when it was bound:", g)
	}
	return nil
}

// tell writes the line of one file; with what is wrong below it.
func (c checked) tell(asJSON bool) error {
	if asJSON {
		return json.NewEncoder(os.Stdout).Encode(c)
	}
	word := map[bool]string{true: "holds", false: "WRONG"}[c.OK]
	_, err := fmt.Printf("%s  %s  %s  %s\n", word, orDash(c.Number), orDash(c.Joint), c.File)
	for _, p := range c.Problems {
		fmt.Println("         ", p)
	}
	return err
}

func orDash(s string) string {
	if s == "" {
		return "-"
	}
	return s
}
