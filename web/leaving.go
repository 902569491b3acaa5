package web

import (
	"net/http"
	"strconv"

	"github.com/go-chi/chi/v5"

	"mivlet/core/rules"
	"mivlet/desk/retention"
)

func (s *server) leavingRoutes(r chi.Router) {
	r.Get("/leaving", s.leaving)
	r.Post("/leaving/keep", s.keepLeaving)
}

// leavingView is what leaves soon.
type leavingView struct {
	Pictures []retention.Leaving
	Sections []rules.Section // that throw away what nothing uses
	BinDays  int
}

func (s *server) leaving(w http.ResponseWriter, r *http.Request) {
	d := s.at(r)
	all, err := d.Retention.Leaving()
	if err != nil {
		s.fail(w, r, err)
		return
	}
	v := leavingView{Pictures: all, BinDays: d.Rules().Limits.BinDays}
	for _, section := range d.Rules().Sections {
		if section.UnusedDays > 0 {
			v.Sections = append(v.Sections, section)
		}
	}
	s.screen(w, r, "leaving", "Leaving soon", "shelves", v)
}

func (s *server) keepLeaving(w http.ResponseWriter, r *http.Request) {
	_ = r.ParseForm() // what cannot be read is empty
	var ids []uint
	for _, text := range r.Form["picture"] {
		n, _ := strconv.ParseUint(text, 10, 63)
		ids = append(ids, uint(n))
	}
	if err := s.at(r).Retention.Keep(ids); err != nil {
		s.fail(w, r, err)
		return
	}
	s.goOn(w, r, "/leaving")
}
