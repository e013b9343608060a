package web

import (
	"bytes"
	"embed"
	"fmt"
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

// frontEnd serves the built front end: one page for every address of ours, and
// files whose names carry their own hash.
type frontEnd struct {
	files fs.FS
	page  []byte
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
	return frontEnd{files, page}, nil
}

func (f frontEnd) serve(w http.ResponseWriter, r *http.Request) {
	name := strings.TrimPrefix(path.Clean(r.URL.Path), "/")
	if name != "" && name != "index.html" {
		if info, err := fs.Stat(f.files, name); err == nil && !info.IsDir() {
			switch {
			case strings.HasPrefix(name, "assets/"):
				w.Header().Set("Cache-Control", "public, max-age=31536000, immutable")
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
