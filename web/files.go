package web

import (
	"net/http"
	"strconv"
	"time"

	"github.com/go-chi/chi/v5"

	"mivlet/desk/derive"
)

// thumb serves a small copy of a picture as its recipe has it. Its address
// carries what it looks like, so that it can be kept for good.
func (s *server) thumb(w http.ResponseWriter, r *http.Request) {
	f, key, err := s.at(r).Derive.Thumb(id(r))
	s.serveFile(w, r, f, err, lasting(r, key))
}

// look serves a larger copy.
func (s *server) look(w http.ResponseWriter, r *http.Request) {
	f, key, err := s.at(r).Derive.Look(id(r))
	s.serveFile(w, r, f, err, lasting(r, key))
}

// lasting lets a browser keep what its address names exactly.
func lasting(r *http.Request, key string) string {
	if key != "" && r.URL.Query().Get("v") == key {
		return "private, max-age=31536000, immutable"
	}
	return "no-cache"
}

func (s *server) preview(w http.ResponseWriter, r *http.Request) {
	f, err := s.at(r).Derive.Preview(id(r))
	s.serveFile(w, r, f, err, "no-cache")
}

// cut serves a cut by the hash of its content: it never changes.
func (s *server) cut(w http.ResponseWriter, r *http.Request) {
	f, err := s.at(r).Cuts.OpenCut(chi.URLParam(r, "hash"))
	s.serveFile(w, r, f, err, "private, max-age=31536000, immutable")
}

func (s *server) serveFile(w http.ResponseWriter, r *http.Request, f derive.File, err error, cache string) {
	if err != nil {
		status, m := told(r, err)
		http.Error(w, m.Text, status)
		return
	}
	defer f.Close()
	w.Header().Set("Content-Type", f.MediaType)
	w.Header().Set("ETag", strconv.Quote(f.Tag[:16]))
	w.Header().Set("Cache-Control", cache)
	http.ServeContent(w, r, "", time.Time{}, f)
}
