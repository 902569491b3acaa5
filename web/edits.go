package web

import (
	"fmt"
	"image"
	"net/http"
	"slices"
	"strconv"
	"strings"

	"github.com/go-chi/chi/v5"

	"mivlet/core/recipe"
	"mivlet/core/veil"
	"mivlet/desk/access"
)

func (s *server) editRoutes(r chi.Router) {
	s.lookRoutes(r)
	s.batchRoutes(r)
	r.Post("/turn", s.turn)
	r.Post("/focus", s.focus)
	r.Post("/trim", s.trim)
	r.Post("/veil", s.setVeil)
	r.Post("/veil/drop", s.dropVeil)
	r.Post("/veil/follow", s.followVeil)
	r.Post("/veil/stand", s.standVeil)
	r.Post("/veil/repeat", s.repeatVeils)
	r.Post("/veils", s.addVeils)
}

// turn turns, mirrors or straightens.
func (s *server) turn(w http.ResponseWriter, r *http.Request) {
	var e recipe.Edit
	switch r.FormValue("how") {
	case "right":
		e = recipe.Edit{Op: recipe.OpTurn, Degrees: 90}
	case "left":
		e = recipe.Edit{Op: recipe.OpTurn, Degrees: 270}
	case "mirror":
		e = recipe.Edit{Op: recipe.OpFlip, Axis: "h"}
	case "over":
		e = recipe.Edit{Op: recipe.OpFlip, Axis: "v"}
	default:
		e = recipe.Edit{Op: recipe.OpStraighten, Degrees: decimal(r, "degrees")}
	}
	s.changed(w, r, s.at(r).Bench.Edit(id(r), e))
}

func (s *server) focus(w http.ResponseWriter, r *http.Request) {
	s.changed(w, r, s.at(r).Bench.Edit(id(r), recipe.Edit{Op: recipe.OpFocus, FocusX: decimal(r, "x"), FocusY: decimal(r, "y")}))
}

func (s *server) trim(w http.ResponseWriter, r *http.Request) {
	s.changed(w, r, s.at(r).Bench.TrimBorder(id(r)))
}

// setVeil draws a veil, or changes the one of a name.
func (s *server) setVeil(w http.ResponseWriter, r *http.Request) {
	v, err := veilOf(r)
	if err != nil {
		s.fail(w, r, err)
		return
	}
	if v.ID = r.FormValue("veil"); v.ID != "" {
		s.changed(w, r, s.at(r).Bench.SetVeil(id(r), whole(r, "seen", noStep), v))
		return
	}
	s.changed(w, r, s.at(r).Bench.Edit(id(r), recipe.Edit{Op: recipe.OpVeil, Veil: &v}))
}

// veilOf reads a veil from a form.
func veilOf(r *http.Request) (veil.Veil, error) {
	v := veil.Veil{Shape: veil.Shape(r.FormValue("shape")), Style: veil.Style(r.FormValue("style")), Cells: whole(r, "cells", 0), Reason: veil.Reason(r.FormValue("reason"))}
	if v.Shape != veil.Polygon {
		at, err := rectOf(r, "A veil")
		v.Bounds = at.Canon()
		return v, err
	}
	for _, pair := range strings.Fields(r.FormValue("points")) {
		var p image.Point
		if _, err := fmt.Sscanf(pair, "%d,%d", &p.X, &p.Y); err != nil {
			return v, &access.Refusal{Kind: access.Bad, What: fmt.Sprintf("%q is no point of an outline.", pair), Next: "Draw it again.", Err: err}
		}
		v.Points = append(v.Points, p)
	}
	return v, nil
}

// addVeils hides lines of text: left, top, width, height, reason and height of the letters
// of each.
func (s *server) addVeils(w http.ResponseWriter, r *http.Request) {
	var veils []veil.Veil
	for _, line := range strings.Fields(r.FormValue("lines")) {
		f := strings.Split(line, ",")
		var n [4]int
		for i := range n {
			if i >= len(f) {
				break
			}
			n[i], _ = strconv.Atoi(f[i])
		}
		v := veil.Veil{Shape: veil.Rect, Bounds: image.Rect(n[0], n[1], n[0]+n[2], n[1]+n[3]), Style: veil.Cover, Letters: n[3], Reason: veil.Other}
		if len(f) > 5 {
			v.Letters, _ = strconv.Atoi(f[5])
			v.Letters = max(0, v.Letters)
		}
		if len(f) > 4 && slices.Contains(veil.Reasons, veil.Reason(f[4])) {
			v.Reason = veil.Reason(f[4])
		}
		veils = append(veils, v)
	}
	s.changed(w, r, s.at(r).Bench.AddVeils(id(r), veils))
}

func (s *server) dropVeil(w http.ResponseWriter, r *http.Request) {
	s.changed(w, r, s.at(r).Bench.DropVeil(id(r), whole(r, "seen", noStep), r.FormValue("veil")))
}

// followVeil says where a veil stands from a frame on; frames are counted from 1 here.
func (s *server) followVeil(w http.ResponseWriter, r *http.Request) {
	at, err := rectOf(r, "A veil")
	if err != nil {
		s.fail(w, r, err)
		return
	}
	s.changed(w, r, s.at(r).Bench.FollowVeil(id(r), whole(r, "seen", noStep), r.FormValue("veil"), whole(r, "frame", 0)-1, at.Canon()))
}

func (s *server) standVeil(w http.ResponseWriter, r *http.Request) {
	s.changed(w, r, s.at(r).Bench.StandVeil(id(r), whole(r, "seen", noStep), r.FormValue("veil")))
}

func (s *server) repeatVeils(w http.ResponseWriter, r *http.Request) {
	n, err := s.at(r).Bench.RepeatVeils(id(r))
	if err == nil && n == 0 {
		err = &access.Refusal{Kind: access.Bad, What: "No other picture of the batch has the same size and no veil yet.", Next: "Nothing was changed."}
	}
	s.changed(w, r, err)
}
