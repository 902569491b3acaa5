package web

import (
	"encoding/json"
	"fmt"
	"net/http"
	"strconv"

	"github.com/go-chi/chi/v5"

	"mivlet/core/fit"
	"mivlet/core/veil"
	"mivlet/desk/access"
	"mivlet/desk/cuts"
	"mivlet/desk/derive"
)

// lookRoutes are what the eye on the stage asks for.
func (s *server) lookRoutes(r chi.Router) {
	r.Get("/stage", s.stage)
	r.Get("/tiles/{level}/{col}/{row}", s.tile)
	r.Get("/veil/look", s.veilLook)
	r.Get("/lines", s.textLines)
	r.Get("/faces", s.faces)
	r.Get("/telling", s.telling)
	r.Post("/faces", s.doFaces)
	r.Post("/faces/closer", s.lookCloser)
	r.Get("/boxes", s.boxes)
	r.Get("/frames/{frame}", s.frameThumb)
	r.Post("/still", s.setStill)
	r.Get("/compare", s.compare)
	r.Get("/plain", s.plainCut)
	r.Get("/trial", s.trial)
	r.Post("/budget", s.setBudget)
}

// stillCookie tells that whoever is here asks for less motion; js/session.js keeps it.
const stillCookie = "mivlet-still"

// stage serves what lies on the stage: the working copy with its veils. Its
// address carries what it looks like.
func (s *server) stage(w http.ResponseWriter, r *http.Request) {
	look := s.at(r).Derive.Stage
	if still, err := r.Cookie(stillCookie); err == nil && still.Value == "1" && r.FormValue("moves") == "" {
		look = s.at(r).Derive.StageStill
	}
	w.Header().Set("Vary", "Cookie")
	f, err := look(id(r), whole(r, "but", -1))
	s.serveFile(w, r, f, err, "private, max-age=600")
}

func (s *server) tile(w http.ResponseWriter, r *http.Request) {
	at := func(name string) int {
		n, err := strconv.Atoi(chi.URLParam(r, name))
		if err != nil {
			return -1
		}
		return n
	}
	f, err := s.at(r).Derive.Tile(id(r), at("level"), at("col"), at("row"))
	s.serveFile(w, r, f, err, "private, max-age=600")
}

// veilLook serves what a veil in the hand will look like, and where it lies.
func (s *server) veilLook(w http.ResponseWriter, r *http.Request) {
	v, err := veilOf(r)
	if err != nil {
		if _, other := s.at(r).Bench.Shown(id(r)); other != nil {
			err = other // whose picture it is comes before what the form says
		}
		s.serveFile(w, r, derive.File{}, err, "")
		return
	}
	f, part, err := s.at(r).Derive.VeilLook(id(r), whole(r, "i", -1), v)
	w.Header().Set("X-Part", fmt.Sprintf("%d %d %d %d", part.Min.X, part.Min.Y, part.Dx(), part.Dy()))
	s.serveFile(w, r, f, err, "no-store")
}

// textLines tells the lines of text that were found.
func (s *server) textLines(w http.ResponseWriter, r *http.Request) {
	found, err := s.at(r).Derive.TextLines(id(r))
	if err != nil {
		status, m := told(r, err)
		http.Error(w, m.Text, status)
		return
	}
	type line struct {
		fit.Box
		Letters int         `json:"letters"`
		Kind    string      `json:"kind"`
		Words   string      `json:"words"`
		Reason  veil.Reason `json:"reason"`
		Column  int         `json:"column"`
		Level   fit.Box     `json:"level"` // the line as wide as its column
	}
	all := []line{}
	for _, l := range found {
		all = append(all, line{fit.BoxOf(l.Bounds), l.Height, l.Kind, l.Words, l.Reason, l.Column, fit.BoxOf(l.Level)})
	}
	w.Header().Set("Content-Type", "application/json")
	_ = json.NewEncoder(w).Encode(all)
}

// boxes answers while the focus is in the hand.
func (s *server) boxes(w http.ResponseWriter, r *http.Request) {
	b, err := s.at(r).Bench.Boxes(id(r), &fit.Focus{X: decimal(r, "x"), Y: decimal(r, "y")})
	if err != nil {
		s.fail(w, r, err)
		return
	}
	s.part(w, "bench", "boxes", benchView{View: b})
}

func (s *server) frameThumb(w http.ResponseWriter, r *http.Request) {
	n, err := strconv.Atoi(chi.URLParam(r, "frame"))
	if err != nil {
		n = -1
	}
	f, err := s.at(r).Derive.FrameThumb(id(r), n)
	s.serveFile(w, r, f, err, "private, max-age=600")
}

func (s *server) setStill(w http.ResponseWriter, r *http.Request) {
	s.changed(w, r, s.at(r).Bench.SetStill(id(r), whole(r, "frame", -1)))
}

// compareView is a cut beside its pixels before they are encoded.
type compareView struct {
	benchView
	Of      cuts.Figures
	Budget  int64 // bytes that it has now
	Highest int64 // bytes that the slider reaches
}

// compare shows a cut beside the original, at its own size.
func (s *server) compare(w http.ResponseWriter, r *http.Request) {
	b, err := s.at(r).Bench.View(id(r))
	if err != nil {
		s.fail(w, r, err)
		return
	}
	v := compareView{benchView: benchView{View: b, Rules: s.at(r).Rules()}, Of: b.Figures}
	for _, f := range b.More {
		if f.Slot.ID == r.FormValue("slot") {
			v.Of = f
		}
	}
	if v.Of.Slot == nil {
		s.fail(w, r, &access.Refusal{Kind: access.Bad, What: "No slot is chosen.", Next: "Say where the picture will stand."})
		return
	}
	house, _ := v.Rules.Slot(v.Of.Slot.ID)
	v.Budget, v.Highest = v.Of.Slot.Budget, max(v.Of.Slot.Budget, house.Budget)
	s.part(w, "bench", "compare", v)
}

func (s *server) plainCut(w http.ResponseWriter, r *http.Request) {
	f, err := s.at(r).Cuts.PlainCut(id(r), r.FormValue("slot"))
	s.serveFile(w, r, f, err, "no-cache")
}

// trial serves a cut as it would be with another budget, and its figures.
func (s *server) trial(w http.ResponseWriter, r *http.Request) {
	t, err := s.at(r).Cuts.TryCut(id(r), r.FormValue("slot"), int64(whole(r, "budget", 0)))
	if err == nil {
		text := fmt.Sprintf("%s, %s on a slow line, %s on a usual one", fit.Weight(t.Bytes), secondsText(fit.LoadTime(t.Bytes, fit.SlowLine)), secondsText(fit.LoadTime(t.Bytes, fit.UsualLine)))
		if t.Quality > 0 {
			text += fmt.Sprintf("; quality %d", t.Quality)
		}
		if t.SSIM > 0 {
			text += fmt.Sprintf(", likeness %.3f", t.SSIM)
		}
		if t.Over != "" {
			text += ". " + t.Over
		}
		w.Header().Set("X-Told", text)
	}
	s.serveFile(w, r, t.File, err, "no-store")
}

func (s *server) setBudget(w http.ResponseWriter, r *http.Request) {
	s.changed(w, r, s.at(r).Bench.SetBudget(id(r), r.FormValue("slot"), int64(whole(r, "budget", -1))))
}
