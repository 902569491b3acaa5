package web

import (
	"fmt"
	"net/http"

	"mivlet/core/survey"
	"mivlet/desk/former"
)

// lookIntoFormer has the pictures of a site be looked into.
func (s *server) lookIntoFormer(w http.ResponseWriter, r *http.Request) {
	_, err := s.at(r).Former.LookInto(id(r))
	s.formerDone(w, r, err, "")
}

// coverFormer brings a picture of a site to the bench, where parts of it are covered.
func (s *server) coverFormer(w http.ResponseWriter, r *http.Request) {
	d := s.at(r)
	section := ""
	if own := ownSections(d.Rules(), d.Who()); len(own) > 0 {
		section = own[0].Code
	}
	picture, err := d.Former.ToCover(id(r), r.FormValue("file"), section)
	if err != nil {
		s.fail(w, r, err)
		return
	}
	s.goOn(w, r, fmt.Sprintf("/bench/%d", picture))
}

// allowFormer notes that who is seen in a picture of a site may be.
func (s *server) allowFormer(w http.ResponseWriter, r *http.Request) {
	s.formerDone(w, r, s.at(r).Former.Allow(id(r), r.FormValue("file")), "")
}

// OfPeople reports whether a finding is mended by covering a part of the picture.
func (formerView) OfPeople(f survey.Finding) bool { return former.OfPeople(f.Code) }
