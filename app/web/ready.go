package web

import (
	"bytes"
	"encoding/json"
	"fmt"
	"net/http"
	"strings"
	"sync"

	"github.com/klauspost/compress/gzip"
	"golang.org/x/sync/singleflight"

	"grapnel/app/record"
	"grapnel/app/shop"
)

// readyPages are the pages of jobs as they were sent last, packed: when a reading
// is kept, every screen that is open on its job asks for the same bytes.
type readyPages struct {
	packing singleflight.Group
	mu      sync.Mutex
	packed  map[record.ID]packedPage
}

type packedPage struct {
	stamp shop.PageStamp
	bytes []byte
}

// mostPacked bounds how many pages are kept.
const mostPacked = 128

// readyPage answers for the page of a job in the place of the operation that is
// described for it, with the same body.
func (s *Server) readyPage(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		text, isJob := strings.CutPrefix(r.URL.Path, "/api/jobs/")
		id, err := record.ParseID(text)
		if r.Method != http.MethodGet || !isJob || err != nil || !strings.Contains(r.Header.Get("Accept-Encoding"), "gzip") {
			next.ServeHTTP(w, r)
			return
		}
		if p := s.mayNot(r.Context(), "job"); p != nil {
			p.write(w)
			return
		}
		packed, err := s.packInTurn(r, id)
		if err != nil {
			s.fail(r, err).write(w)
			return
		}
		w.Header().Set("Content-Type", "application/json")
		w.Header().Set("Content-Encoding", "gzip")
		w.Header().Add("Vary", "Accept-Encoding")
		// The status is sent; a client that has gone cannot be told more.
		_, _ = w.Write(packed)
	})
}

// packInTurn is pack, in one of the bays: sending it is not.
func (s *Server) packInTurn(r *http.Request, id record.ID) ([]byte, error) {
	leave, err := s.bay(r.Context(), "job")
	if err != nil {
		return nil, err
	}
	defer leave()
	return s.pack(r, id)
}

// zippers are kept for the next page: one is most of a megabyte.
var zippers = sync.Pool{New: func() any {
	zip, err := gzip.NewWriterLevel(nil, compression)
	if err != nil {
		panic(err) // the level is a constant
	}
	return zip
}}

// pack is the page of a job as it is sent.
func (s *Server) pack(r *http.Request, id record.ID) ([]byte, error) {
	page, stamp, err := s.shop.StampedPage(r.Context(), who(r.Context()), id)
	if err != nil {
		return nil, err
	}
	s.pages.mu.Lock()
	kept, ok := s.pages.packed[id]
	s.pages.mu.Unlock()
	if ok && kept.stamp == stamp {
		return kept.bytes, nil
	}
	packed, err, _ := s.pages.packing.Do(fmt.Sprint(stamp), func() (any, error) {
		var out bytes.Buffer
		zip := zippers.Get().(*gzip.Writer)
		defer zippers.Put(zip)
		zip.Reset(&out)
		if err := json.NewEncoder(zip).Encode(page); err != nil {
			return nil, err
		}
		if err := zip.Close(); err != nil {
			return nil, err
		}
		s.pages.keep(id, packedPage{stamp, out.Bytes()})
		return out.Bytes(), nil
	})
	if err != nil {
		return nil, err
	}
	return packed.([]byte), nil
}

func (p *readyPages) keep(id record.ID, page packedPage) {
	p.mu.Lock()
	defer p.mu.Unlock()
	if p.packed == nil || len(p.packed) >= mostPacked {
		p.packed = map[record.ID]packedPage{}
	}
	p.packed[id] = page
}
