package main

import (
	"archive/zip"
	"encoding/json"
	"fmt"
	"io"
	"io/fs"
	"os"
	"path/filepath"
	"runtime"
	"strings"

	"dynacor/core/record"
)

// eachRecord gives every .json file of a folder and what is under it, or of a ZIP archive, in the order of their names.
func eachRecord(path string, give func(name string, data []byte, err error)) error {
	if strings.EqualFold(filepath.Ext(path), ".zip") {
		z, err := zip.OpenReader(path)
		if err != nil {
			return fmt.Errorf("%s cannot be read as a ZIP archive: %w", path, err)
		}
		defer z.Close()
		return eachIn(z, path, give)
	}
	return eachIn(os.DirFS(path), path, give)
}

func eachIn(files fs.FS, path string, give func(name string, data []byte, err error)) error {
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
		give(filepath.Join(path, name), data, err)
		return nil
	})
}

// checked is the report on one file of many.
type checked struct {
	File string `json:"file"`
	record.Report
}

// verifyMany checks every record of a folder or an archive, on all processors, and says of each how it stands, in the
// order of the names. Two files of one number that are not the same record are wrong, each by itself may hold.
func verifyMany(path string, known []record.Key, asJSON bool) error {
	queue := make(chan chan checked, 2*runtime.GOMAXPROCS(0))
	free := make(chan struct{}, runtime.GOMAXPROCS(0))
	var walked error
	go func() {
		defer close(queue)
		walked = eachRecord(path, func(name string, data []byte, err error) {
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
	if all == 0 {
		return fmt.Errorf("%s has no sealed record: they end with .json", path)
	}
	if !asJSON {
		fmt.Printf("%d records, %d hold, %d do not.\n", all, all-wrong, wrong)
	}
	if wrong > 0 {
		return verdictError{}
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
