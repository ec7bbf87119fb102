// Package web holds the built interface and serves it.
package web

import (
	"crypto/sha256"
	"embed"
	"encoding/base64"
	"errors"
	"io/fs"
	"mime"
	"net/http"
	"path"
	"strconv"
	"strings"
	"sync"
)

// The directory holds at least .gitkeep, so that Go compiles before the first build of the interface.
//
//go:embed all:dist
var files embed.FS

// Handler serves the built files: hashed ones for ever, the rest checked each time; an unknown page is index.html, so
// that an address of the interface can be opened or reloaded.
func Handler() (http.Handler, error) {
	dist, err := fs.Sub(files, "dist")
	if err != nil {
		return nil, err
	}
	for ext, kind := range map[string]string{".wasm": "application/wasm", ".webmanifest": "application/manifest+json",
		".js": "text/javascript; charset=utf-8"} {
		if err := mime.AddExtensionType(ext, kind); err != nil {
			return nil, err
		}
	}
	return &site{dist: dist}, nil
}

type site struct {
	dist fs.FS
	tags sync.Map
}

func (s *site) ServeHTTP(w http.ResponseWriter, r *http.Request) {
	if r.Method != http.MethodGet && r.Method != http.MethodHead {
		http.Error(w, "method not allowed", http.StatusMethodNotAllowed)
		return
	}
	name := strings.TrimPrefix(path.Clean(r.URL.Path), "/")
	if fi, err := fs.Stat(s.dist, name); err != nil || fi.IsDir() {
		if path.Ext(name) != "" { // a file that is missing is not a page
			http.NotFound(w, r)
			return
		}
		name = "index.html"
		if _, err := fs.Stat(s.dist, name); errors.Is(err, fs.ErrNotExist) {
			http.Error(w, "The interface is not built. Run: make build", http.StatusServiceUnavailable)
			return
		}
	}
	h := w.Header()
	h.Set("Cache-Control", "no-cache")
	if strings.HasPrefix(name, "assets/") {
		h.Set("Cache-Control", "public, max-age=31536000, immutable")
	}
	h.Set("Content-Type", mime.TypeByExtension(path.Ext(name)))
	h.Add("Vary", "Accept-Encoding")
	body := name
	for _, e := range []struct{ name, ext string }{{"br", ".br"}, {"gzip", ".gz"}} {
		if strings.Contains(r.Header.Get("Accept-Encoding"), e.name) {
			if _, err := fs.Stat(s.dist, name+e.ext); err == nil {
				h.Set("Content-Encoding", e.name)
				body = name + e.ext
				break
			}
		}
	}
	b, err := fs.ReadFile(s.dist, body)
	if err != nil {
		http.NotFound(w, r)
		return
	}
	tag := s.tag(body, b)
	h.Set("ETag", tag)
	if r.Header.Get("If-None-Match") == tag {
		w.WriteHeader(http.StatusNotModified)
		return
	}
	h.Set("Content-Length", strconv.Itoa(len(b)))
	w.WriteHeader(http.StatusOK) // said outright: a router may have put down "not found" before asking here
	if r.Method == http.MethodGet {
		_, _ = w.Write(b)
	}
}

func (s *site) tag(name string, b []byte) string {
	if t, ok := s.tags.Load(name); ok {
		return t.(string)
	}
	sum := sha256.Sum256(b)
	t := `"` + base64.RawURLEncoding.EncodeToString(sum[:12]) + `"`
	s.tags.Store(name, t)
	return t
}
