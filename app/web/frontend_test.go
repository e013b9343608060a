package web

import (
	"bytes"
	"compress/gzip"
	"net/http"
	"net/http/httptest"
	"testing"
	"testing/fstest"
)

// TestPackedCore checks that the core for the browser comes packed to those who take
// it so, whole to others, and is kept for good by both.
func TestPackedCore(t *testing.T) {
	var packed bytes.Buffer
	zip := gzip.NewWriter(&packed)
	if _, err := zip.Write([]byte("\x00asm whole")); err != nil {
		t.Fatal(err)
	}
	if err := zip.Close(); err != nil {
		t.Fatal(err)
	}
	f := frontEnd{files: fstest.MapFS{"assets/core-1.wasm.gz": {Data: packed.Bytes()}}}
	get := func(path, accept string) *httptest.ResponseRecorder {
		r := httptest.NewRequest(http.MethodGet, path, nil)
		r.Header.Set("Accept-Encoding", accept)
		w := httptest.NewRecorder()
		f.serve(w, r)
		return w
	}
	for accept, want := range map[string]string{"gzip, br": packed.String(), "": "\x00asm whole"} {
		w := get("/assets/core-1.wasm", accept)
		if w.Code != http.StatusOK || w.Body.String() != want || w.Header().Get("Content-Type") != "application/wasm" || w.Header().Get("Cache-Control") != forGood {
			t.Errorf("%q: %d %q %v", accept, w.Code, w.Body, w.Header())
		}
	}
	if w := get("/assets/core-2.wasm", "gzip"); w.Code != http.StatusNotFound {
		t.Errorf("none there: %d", w.Code)
	}
}
