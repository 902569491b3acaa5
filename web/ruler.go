package web

import (
	"encoding/json"
	"fmt"
	"net/http"
	"strconv"

	"github.com/go-chi/chi/v5"
	"github.com/go-chi/chi/v5/middleware"

	"mivlet/core/ruler"
	"mivlet/desk/access"
	"mivlet/store"
)

func (s *server) rulerRoutes(r chi.Router) {
	r.Post("/ruler", s.addSheet) // streamed
	r.Group(func(r chi.Router) {
		r.Use(middleware.RequestSize(formLimit), s.numbersOnly)
		r.Get("/ruler", s.ruler)
		r.Get("/ruler/{id}", s.sheet)
		r.Get("/ruler/{id}/image", s.sheetImage)
		r.Get("/ruler/{id}/lines", s.sheetLines)
		r.Get("/ruler/{id}/columns", s.sheetColumns)
		r.Post("/ruler/{id}/scale", s.setScale)
		r.Post("/ruler/{id}/readings", s.addReading)
		r.Post("/ruler/{id}/readings/drop", s.dropReading)
		r.Post("/ruler/{id}/drop", s.dropSheet)
	})
}

// rulerView is the Ruler, with the screenshot that lies under it.
type rulerView struct {
	Sheets  []store.RulerSheet
	Sheet   *sheetView
	Columns []ruler.Column // proposed; nil while nobody asked
	Keeper  bool
	Column  bool // a reading can become the width of the column that a new house is asked for
	Asked   bool // for columns
}

// sheetView is the screenshot that lies under the ruler.
type sheetView struct{ store.RulerSheet }

// Usual lists the scales that are offered.
func (sheetView) Usual() []float64 { return []float64{1, 1.5, 2, 3} }

// Length tells a reading in CSS px and device px.
func (v rulerView) Length(r store.Reading) ruler.Length {
	return ruler.Between(r.From, r.To, v.Sheet.Scale)
}

// Wide tells how wide a column is in CSS px.
func (v rulerView) Wide(c ruler.Column) float64 {
	return ruler.Between(c.Left, c.Right, v.Sheet.Scale).CSS
}

func (s *server) ruler(w http.ResponseWriter, r *http.Request) { s.showRuler(w, r, 0, nil) }

func (s *server) sheet(w http.ResponseWriter, r *http.Request) { s.showRuler(w, r, id(r), nil) }

func (s *server) showRuler(w http.ResponseWriter, r *http.Request, open uint, columns []ruler.Column) {
	all, err := s.at(r).Measure.Sheets()
	if err != nil {
		s.fail(w, r, err)
		return
	}
	v := rulerView{Sheets: all, Columns: columns, Asked: columns != nil, Keeper: s.at(r).Who().Keeper}
	if v.Keeper {
		steps, err := s.beginning(r)
		if err != nil {
			s.fail(w, r, err)
			return
		}
		v.Column = !steps[2].Done
	}
	for i := range all {
		if all[i].ID == open {
			v.Sheet = &sheetView{all[i]}
		}
	}
	if open != 0 && v.Sheet == nil {
		s.fail(w, r, &access.Refusal{Kind: access.Missing, What: "That screenshot is not here any more.", Next: "Add it again."})
		return
	}
	s.screen(w, r, "ruler", "Ruler", "ruler", v)
}

func (s *server) addSheet(w http.ResponseWriter, r *http.Request) {
	name, body := s.streamed(w, r, "Screenshot")
	scale, _ := strconv.ParseFloat(r.URL.Query().Get("scale"), 64)
	sheet, err := s.at(r).Measure.AddSheet(name, body, scale)
	if err != nil {
		s.fail(w, r, err)
		return
	}
	s.goOn(w, r, fmt.Sprintf("/ruler/%d", sheet.ID))
}

func (s *server) sheetImage(w http.ResponseWriter, r *http.Request) {
	f, err := s.at(r).Measure.SheetImage(id(r))
	s.serveFile(w, r, f, err, "private, max-age=31536000, immutable")
}

// sheetLines gives the lines that edges snap to, for the hand on the sheet.
func (s *server) sheetLines(w http.ResponseWriter, r *http.Request) {
	lines, err := s.at(r).Measure.SheetLines(id(r))
	if err != nil {
		s.fail(w, r, err)
		return
	}
	w.Header().Set("Content-Type", "application/json")
	w.Header().Set("Cache-Control", "private, max-age=86400")
	_ = json.NewEncoder(w).Encode(lines)
}

func (s *server) sheetColumns(w http.ResponseWriter, r *http.Request) {
	found, err := s.at(r).Measure.FindColumns(id(r))
	if err != nil {
		s.fail(w, r, err)
		return
	}
	s.showRuler(w, r, id(r), append([]ruler.Column{}, found...)) // none is not the same as not asked
}

func (s *server) rulerChanged(w http.ResponseWriter, r *http.Request, err error) {
	switch {
	case err != nil:
		s.fail(w, r, err)
	case fromHTMX(r):
		s.showRuler(w, r, id(r), nil)
	default:
		http.Redirect(w, r, fmt.Sprintf("/ruler/%d", id(r)), http.StatusSeeOther)
	}
}

func decimal(r *http.Request, field string) float64 {
	v, err := strconv.ParseFloat(r.FormValue(field), 64)
	if err != nil || v != v {
		return 0
	}
	return v
}

func (s *server) setScale(w http.ResponseWriter, r *http.Request) {
	s.rulerChanged(w, r, s.at(r).Measure.SetScale(id(r), decimal(r, "scale"), number(r.FormValue("reading")), decimal(r, "known")))
}

func (s *server) addReading(w http.ResponseWriter, r *http.Request) {
	s.rulerChanged(w, r, s.at(r).Measure.AddReading(id(r), r.FormValue("upright") == "yes", whole(r, "from", -1), whole(r, "to", -1), r.FormValue("title")))
}

func (s *server) dropReading(w http.ResponseWriter, r *http.Request) {
	s.rulerChanged(w, r, s.at(r).Measure.DropReading(id(r), number(r.FormValue("reading"))))
}

func (s *server) dropSheet(w http.ResponseWriter, r *http.Request) {
	if err := s.at(r).Measure.DropSheet(id(r)); err != nil {
		s.fail(w, r, err)
		return
	}
	s.goOn(w, r, "/ruler")
}
