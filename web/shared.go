package web

import (
	"fmt"
	"net/http"

	"github.com/go-chi/chi/v5"

	"mivlet/desk/previews"
)

// sharedRoutes tell what is shown of a page where its link is shared.
func (s *server) sharedRoutes(r chi.Router) {
	r.Get("/shared", s.showShared)
	r.Post("/shared/fetch", s.fetchAgain)
	r.Get("/shared/now.jpg", func(w http.ResponseWriter, r *http.Request) {
		f, err := s.at(r).Previews.Look(id(r))
		s.serveFile(w, r, f, err, "no-cache")
	})
	r.Get("/shared/live.jpg", func(w http.ResponseWriter, r *http.Request) {
		f, err := s.at(r).Previews.LivePicture(id(r))
		s.serveFile(w, r, f, err, "no-cache")
	})
	r.Get("/shared/{manner}.jpg", s.sharedPicture)
}

// sharedView is what is shown of a page where its link is shared, on its screen.
type sharedView struct {
	previews.View
	CanWork bool
}

// Step is what is to be done next: publish, fetch or look.
func (v sharedView) Step() string {
	switch {
	case v.Live == nil || len(v.ToPublish) > 0:
		return "publish"
	case len(v.ToFetch) > 0:
		return "fetch"
	}
	return "look"
}

func (s *server) showShared(w http.ResponseWriter, r *http.Request) {
	d := s.at(r)
	seen, err := d.Previews.Of(r.Context(), id(r))
	if err != nil {
		s.fail(w, r, err)
		return
	}
	s.screen(w, r, "shared", seen.Doc.Title, "pages", sharedView{View: seen, CanWork: d.Who().CanWork(seen.Section)})
}

func (s *server) fetchAgain(w http.ResponseWriter, r *http.Request) {
	if err := s.at(r).Previews.FetchAgain(r.Context(), id(r)); err != nil {
		s.fail(w, r, err)
		return
	}
	if fromHTMX(r) {
		s.showShared(w, r)
		return
	}
	http.Redirect(w, r, fmt.Sprintf("/pages/%d/shared", id(r)), http.StatusSeeOther)
}

// sharedPicture passes on what the previewer shows.
func (s *server) sharedPicture(w http.ResponseWriter, r *http.Request) {
	data, err := s.at(r).Previews.Picture(r.Context(), id(r), chi.URLParam(r, "manner"))
	if err != nil {
		status, m := told(r, err)
		http.Error(w, m.Text, status)
		return
	}
	w.Header().Set("Content-Type", "image/jpeg")
	w.Header().Set("Cache-Control", "no-cache")
	_, _ = w.Write(data)
}
