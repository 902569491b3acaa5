package web

import (
	"fmt"
	"image"
	"net/http"

	"github.com/go-chi/chi/v5"

	"mivlet/core/fit"
	"mivlet/core/recipe"
	"mivlet/core/veil"
	"mivlet/desk"
)

func (s *server) editRoutes(r chi.Router) {
	r.Get("/stage", s.stage)
	r.Get("/next", s.nextLacking)
	r.Post("/turn", s.turn)
	r.Post("/focus", s.focus)
	r.Post("/trim", s.trim)
	r.Post("/veil", s.setVeil)
	r.Post("/veil/drop", s.dropVeil)
	r.Post("/veil/repeat", s.repeatVeils)
}

// stage serves what lies on the stage: the working copy with its veils.
func (s *server) stage(w http.ResponseWriter, r *http.Request) {
	f, err := s.at(r).Stage(id(r))
	s.serveFile(w, r, f, err, "no-cache")
}

// turn turns, mirrors or straightens. The stage is laid out anew after it.
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
	if err := s.at(r).Edit(id(r), e); err != nil {
		s.fail(w, r, err)
		return
	}
	s.anew(w, r)
}

// anew lets the browser load the bench again: its stage has another shape.
func (s *server) anew(w http.ResponseWriter, r *http.Request) {
	if fromHTMX(r) {
		w.Header().Set("HX-Refresh", "true")
		return
	}
	http.Redirect(w, r, fmt.Sprintf("/bench/%d", id(r)), http.StatusSeeOther)
}

func (s *server) focus(w http.ResponseWriter, r *http.Request) {
	s.changed(w, r, s.at(r).Edit(id(r), recipe.Edit{Op: recipe.OpFocus, FocusX: decimal(r, "x"), FocusY: decimal(r, "y")}))
}

func (s *server) trim(w http.ResponseWriter, r *http.Request) {
	s.changed(w, r, s.at(r).TrimBorder(id(r)))
}

// setVeil draws a veil, or changes the one with a number.
func (s *server) setVeil(w http.ResponseWriter, r *http.Request) {
	v := veil.Veil{Shape: veil.Shape(r.FormValue("shape")), Style: veil.Style(r.FormValue("style")), Cells: whole(r, "cells", 0), Reason: veil.Reason(r.FormValue("reason")),
		Bounds: image.Rect(whole(r, "x", 0), whole(r, "y", 0), whole(r, "x", 0)+whole(r, "w", 0), whole(r, "y", 0)+whole(r, "h", 0))}
	if i := whole(r, "i", -1); i >= 0 {
		s.changed(w, r, s.at(r).SetVeil(id(r), i, v))
		return
	}
	s.changed(w, r, s.at(r).Edit(id(r), recipe.Edit{Op: recipe.OpVeil, Veil: &v}))
}

func (s *server) dropVeil(w http.ResponseWriter, r *http.Request) {
	s.changed(w, r, s.at(r).DropVeil(id(r), whole(r, "i", -1)))
}

func (s *server) repeatVeils(w http.ResponseWriter, r *http.Request) {
	n, err := s.at(r).RepeatVeils(id(r))
	if err == nil && n == 0 {
		err = &desk.Refusal{Kind: desk.Bad, What: "No other picture of the batch has the same size and no veil yet.", Next: "Nothing was changed."}
	}
	s.changed(w, r, err)
}

// nextLacking goes on to the next picture of the batch that lacks something.
func (s *server) nextLacking(w http.ResponseWriter, r *http.Request) {
	next, err := s.at(r).NextLacking(id(r))
	switch {
	case err != nil:
		s.fail(w, r, err)
	case next == 0:
		s.goOn(w, r, fmt.Sprintf("/bench/%d", id(r)))
	default:
		s.goOn(w, r, fmt.Sprintf("/bench/%d", next))
	}
}

// veilView is a veil in the list beside the stage.
type veilView struct {
	veil.Veil
	I    int
	Left string // what it leaves, in words
}

// Veils lists the veils of the picture.
func (v benchView) Veils() []veilView {
	var all []veilView
	for i, one := range v.Work.Recipe.Veils() {
		all = append(all, veilView{one, i, veil.Left(one.Style, one.Cells)})
	}
	return all
}

// VeilData is the veils as the hand on the stage reads them.
func (v benchView) VeilData() (string, error) {
	type shape struct {
		Shape      veil.Shape
		X, Y, W, H int
	}
	all := []shape{}
	for _, one := range v.Work.Recipe.Veils() {
		b := one.Bounds
		all = append(all, shape{one.Shape, b.Min.X, b.Min.Y, b.Dx(), b.Dy()})
	}
	return jsonText(all)
}

// Reasons lists what a veil can hide.
func (benchView) Reasons() []veil.Reason { return veil.Reasons }

// Styles lists how a veil can be drawn.
func (benchView) Styles() []veil.Style { return []veil.Style{veil.Soft, veil.Blocks, veil.Solid} }

// MostCells is the most cells across a veil.
func (benchView) MostCells() int { return veil.MostCells }

// SeenW is the width of the picture as it is turned, in source pixels.
func (v benchView) SeenW() int { return v.turned().W }

// SeenH is the height of the picture as it is turned.
func (v benchView) SeenH() int { return v.turned().H }

func (v benchView) turned() fit.Size { return v.Work.Recipe.View(v.Source).Turn.Turned(v.Source) }

// Plane is the transform from the upright original to the picture as it is
// turned and mirrored (CIPA DC-008, Orientation: 1 to 8).
func (v benchView) Plane() string {
	w, h := v.Source.W, v.Source.H
	m := [9][6]int{{}, {1, 0, 0, 1, 0, 0}, {-1, 0, 0, 1, w, 0}, {-1, 0, 0, -1, w, h}, {1, 0, 0, -1, 0, h}, {0, 1, 1, 0, 0, 0}, {0, 1, -1, 0, h, 0}, {0, -1, -1, 0, h, w}, {0, -1, 1, 0, 0, w}}[v.Work.Recipe.View(v.Source).Turn]
	return fmt.Sprintf("matrix(%d %d %d %d %d %d)", m[0], m[1], m[2], m[3], m[4], m[5])
}

// Slant is the transform of the original inside the plane where it is
// straightened.
func (v benchView) Slant() string {
	return fmt.Sprintf("rotate(%g %g %g)", v.Straighten(), float64(v.Source.W)/2, float64(v.Source.H)/2)
}

// Straighten is the angle of the straightening, in degrees clockwise.
func (v benchView) Straighten() float64 { return v.Work.Recipe.View(v.Source).Straighten }

// FocusAt is the focus in source pixels, and whether one was chosen.
func (v benchView) FocusAt() (p struct {
	X, Y   int
	Chosen bool
}) {
	p.X, p.Y = v.Source.W/2, v.Source.H/2
	for _, e := range v.Work.Recipe.Edits {
		if e.Op == recipe.OpFocus {
			p.X, p.Y, p.Chosen = int(e.FocusX*float64(v.Source.W)), int(e.FocusY*float64(v.Source.H)), true
		}
	}
	return p
}

// drawn is the picture inside the drawing of its column: which file, its size,
// and the part of it that is seen.
type drawn struct {
	Image  string
	Source fit.Size
	View   string
}

// Drawn gives the picture as its recipe has it; while a frame is in the hand, or
// where nothing but a frame was set, the working copy with that frame.
func (v benchView) Drawn() drawn {
	f := v.Figures.Frame
	d := drawn{fmt.Sprintf("/previews/%d", v.ID), v.Figures.Source, fmt.Sprintf("%d %d %d %d", f.Min.X, f.Min.Y, f.Dx(), f.Dy())}
	for _, e := range v.Work.Recipe.Edits {
		if !v.Moving && e.Op != recipe.OpFrame && e.Op != recipe.OpFocus {
			size := fit.SizeOf(v.Work.Recipe.View(v.Source).Seen())
			return drawn{fmt.Sprintf("/looks/%d?v=%s", v.ID, desk.LookKey(v.Picture)), size, fmt.Sprintf("0 0 %d %d", size.W, size.H)}
		}
	}
	return d
}
