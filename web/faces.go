package web

import (
	"encoding/json"
	"net/http"

	"mivlet/core/audit"
	"mivlet/core/fit"
	"mivlet/core/veil"
	"mivlet/desk/access"
	"mivlet/desk/bench"
)

// faces tells the faces of a picture, numbered from left to right.
func (s *server) faces(w http.ResponseWriter, r *http.Request) {
	found, err := s.at(r).Bench.Faces(id(r))
	if err != nil {
		status, m := told(r, err)
		http.Error(w, m.Text, status)
		return
	}
	type one struct {
		ID string `json:"id"`
		fit.Box
		State bench.FaceState `json:"state"`
	}
	all := struct {
		Faces  []one `json:"faces"`
		Closer bool  `json:"closer"` // a closer look may find more
	}{Faces: []one{}, Closer: found.Closer}
	for _, f := range found.All {
		all.Faces = append(all.Faces, one{f.ID(), fit.BoxOf(f.Bounds), f.State})
	}
	w.Header().Set("Content-Type", "application/json")
	_ = json.NewEncoder(w).Encode(all)
}

// lookCloser looks for faces that are small in the picture.
func (s *server) lookCloser(w http.ResponseWriter, r *http.Request) {
	_, err := s.at(r).Bench.LookCloser(id(r))
	s.changed(w, r, err)
}

// doFaces covers, softens or allows some faces.
func (s *server) doFaces(w http.ResponseWriter, r *http.Request) {
	if err := r.ParseForm(); err != nil {
		s.fail(w, r, &access.Refusal{Kind: access.Bad, What: "Part of the form was lost on the way.", Next: "Send it again.", Err: err})
		return
	}
	s.changed(w, r, s.aboutFaces(r, id(r), r.Form["face"], r.FormValue("how")))
}

// aboutFaces covers, softens or allows some faces of a picture, or takes the leave back.
func (s *server) aboutFaces(r *http.Request, picture uint, which []string, how string) error {
	d := s.at(r)
	switch how {
	case "cover":
		return d.Bench.HideFaces(picture, which, veil.Cover)
	case "soften":
		return d.Bench.HideFaces(picture, which, veil.Figure)
	case "allow", "forbid":
		return d.Bench.AllowFaces(picture, which, how == "allow")
	}
	return &access.Refusal{Kind: access.Bad, What: "Choose whether to cover, soften or allow the face.", Next: "Nothing was changed."}
}

// coverPerson covers the face of somebody who is noted.
func (s *server) coverPerson(w http.ResponseWriter, r *http.Request) {
	s.changed(w, r, s.at(r).Bench.CoverPerson(id(r), r.FormValue("entry"), r.FormValue("mark"), r.FormValue("face")))
}

// faceChoice is a face that can be said to be somebody's.
type faceChoice struct {
	ID string
	N  int // counted from 1, from left to right
}

// OpenFaces are the faces of the picture that are neither covered nor allowed.
func (v benchView) OpenFaces() []faceChoice {
	open := audit.OpenFaces(audit.Picture{Recipe: v.Work.Recipe, Faces: v.Picture.Faces, Left: v.Work.Left})
	var all []faceChoice
	for i, f := range v.Picture.Faces {
		for _, o := range open {
			if o.ID() == f.ID() {
				all = append(all, faceChoice{f.ID(), i + 1})
			}
		}
	}
	return all
}

// telling tells on one sheet what a picture tells.
func (s *server) telling(w http.ResponseWriter, r *http.Request) {
	t, err := s.at(r).Bench.Telling(id(r))
	if err != nil {
		s.fail(w, r, err)
		return
	}
	s.part(w, "bench", "telling", t)
}
