package web

import (
	"bytes"
	"compress/gzip"
	"crypto/sha256"
	"embed"
	"fmt"
	"io"
	"io/fs"
	"net/http"
	"path"
	"strings"
	"time"
)

// dist is the built front end; before it is built it holds a page that says how.
//
//go:embed all:dist
var dist embed.FS

// nonceMark stands in the page where the request's nonce goes.
const nonceMark = "__NONCE__"

// buildMark stands in the page where the name of its build goes.
const buildMark = "__BUILD__"

// frontEnd serves the built front end: one page for every address of ours, and
// files whose names carry their own hash.
type frontEnd struct {
	files fs.FS
	page  []byte
	// build names what was built: the page names every part of it by its hash.
	build string
}

func loadFrontEnd() (frontEnd, error) {
	files, err := fs.Sub(dist, "dist")
	if err != nil {
		return frontEnd{}, err
	}
	page, err := fs.ReadFile(files, "index.html")
	if err != nil {
		page, err = fs.ReadFile(files, "placeholder.html")
	}
	if err != nil {
		return frontEnd{}, fmt.Errorf("front end: %w", err)
	}
	build := fmt.Sprintf("%x", sha256.Sum256(page))[:12]
	return frontEnd{files, bytes.ReplaceAll(page, []byte(buildMark), []byte(build)), build}, nil
}

// named says on every answer which build of the front end belongs to it: a page of
// another build knows that it is not the one for this server any more.
func (f frontEnd) named(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		w.Header().Set("Grapnel-Build", f.build)
		next.ServeHTTP(w, r)
	})
}

func (f frontEnd) serve(w http.ResponseWriter, r *http.Request) {
	name := strings.TrimPrefix(path.Clean(r.URL.Path), "/")
	if path.Ext(name) == ".wasm" {
		f.servePacked(w, r, name)
		return
	}
	if name != "" && name != "index.html" {
		if info, err := fs.Stat(f.files, name); err == nil && !info.IsDir() {
			switch {
			case strings.HasPrefix(name, "assets/"):
				w.Header().Set("Cache-Control", forGood)
			case name == "manifest.webmanifest":
				w.Header().Set("Content-Type", "application/manifest+json")
			default:
				w.Header().Set("Cache-Control", "no-cache")
			}
			http.ServeFileFS(w, r, f.files, name)
			return
		}
		if path.Ext(name) != "" {
			http.NotFound(w, r)
			return
		}
	}
	nonce, _ := r.Context().Value(keyNonce).(string)
	w.Header().Set("Cache-Control", "no-cache")
	w.Header().Set("Content-Type", "text/html; charset=utf-8")
	http.ServeContent(w, r, "", time.Time{}, bytes.NewReader(bytes.ReplaceAll(f.page, []byte(nonceMark), []byte(nonce))))
}

// forGood is said of files whose names carry their own hash.
const forGood = "public, max-age=31536000, immutable"

// servePacked serves the core for the browser, which is packed when it is built:
// packing it for each who asks takes too long.
func (f frontEnd) servePacked(w http.ResponseWriter, r *http.Request, name string) {
	packed, err := fs.ReadFile(f.files, name+".gz")
	if err != nil {
		http.NotFound(w, r)
		return
	}
	w.Header().Set("Content-Type", "application/wasm")
	w.Header().Set("Cache-Control", forGood)
	w.Header().Add("Vary", "Accept-Encoding")
	if strings.Contains(r.Header.Get("Accept-Encoding"), "gzip") {
		w.Header().Set("Content-Encoding", "gzip")
		http.ServeContent(w, r, "", time.Time{}, bytes.NewReader(packed))
		return
	}
	unpacked, err := gzip.NewReader(bytes.NewReader(packed))
	if err == nil {
		// The status is sent; a client that has gone cannot be told more.
		_, err = io.Copy(w, unpacked)
	}
	if err != nil {
		panic(http.ErrAbortHandler)
	}
}
