package web

import (
	"fmt"
	"net/http"
	"net/url"

	"mivlet/core/rules"
	"mivlet/desk/carryover"
	"mivlet/desk/jobs"
)

// carryView is the pages of a former site, and what they became.
type carryView struct {
	formerView
	All      []carryover.ToCarry
	Sections []rules.Section
	Section  string // that was chosen last
	Carrying *jobs.Progress
}

func (s *server) carryFormer(w http.ResponseWriter, r *http.Request) {
	d := s.at(r)
	v, all, err := d.CarryOver.Pages(id(r))
	if err != nil {
		s.fail(w, r, err)
		return
	}
	view := carryView{formerView: formerView{View: v}, All: all, Sections: ownSections(d.Rules(), d.Who()), Section: r.FormValue("section")}
	job, err := d.CarryOver.Going(v.ID)
	if err != nil {
		s.fail(w, r, err)
		return
	}
	view.Carrying = s.progressOf(r, job)
	s.screen(w, r, "former-carry", "Carry pages over", "shelves", view)
}

func (s *server) carryFormerPage(w http.ResponseWriter, r *http.Request) {
	section := r.FormValue("section")
	if _, err := s.at(r).CarryOver.Begin(id(r), r.Form["page"], section); err != nil {
		s.fail(w, r, err)
		return
	}
	s.goOn(w, r, fmt.Sprintf("/former/%d/carry?", id(r))+url.Values{"section": {section}}.Encode())
}
