package web

import (
	"net/http"
	"strconv"
	"strings"

	"github.com/go-chi/chi/v5"

	"mivlet/core/layout"
	"mivlet/core/page"
	"mivlet/core/rules"
)

// bandRoutes are the bands of a page and their measures.
func (s *server) bandRoutes(r chi.Router) {
	r.Get("/band", func(w http.ResponseWriter, r *http.Request) { s.showPage(w, r, showing{band: r.FormValue("block")}) })
	r.Post("/band", s.setBand)
}

// bandForm is a band in its panel.
type bandForm struct {
	page.BandLayout
	Block, Mark string
	Columns     int
	Spaces      []bandSpace
}

// bandSpace is one of the spaces of a band on each device; empty is as the house has
// it.
type bandSpace struct {
	Name, Title            string
	Desktop, Tablet, Phone string
}

func newBandForm(b page.Block, r rules.Rules) *bandForm {
	f := &bandForm{BandLayout: *b.Band, Block: b.ID, Mark: b.Mark(), Columns: 1}
	if p, ok := r.Pattern(f.Pattern); ok {
		f.Columns = len(p.Shares)
	}
	for _, one := range []struct {
		name, title string
		l           *layout.Lengths
	}{{"gutter", "Between columns", f.Gutter}, {"padding", "Left and right", f.Padding}, {"above", "Above", f.Above}, {"below", "Below", f.Below}} {
		space := bandSpace{Name: one.name, Title: one.title}
		if one.l != nil {
			space.Desktop, space.Tablet, space.Phone = strconv.Itoa(one.l.Desktop), strconv.Itoa(one.l.Tablet), strconv.Itoa(one.l.Phone)
		}
		f.Spaces = append(f.Spaces, space)
	}
	return f
}

// OrderText is the order of the columns on a phone as it is typed, counted from 1.
func (f bandForm) OrderText() string {
	var parts []string
	for _, c := range f.Order {
		parts = append(parts, strconv.Itoa(c+1))
	}
	return strings.Join(parts, ", ")
}

func (s *server) setBand(w http.ResponseWriter, r *http.Request) {
	f := page.BandLayout{Pattern: r.FormValue("pattern"), Cap: whole(r, "cap", 0), Ground: page.Ground(r.FormValue("ground")),
		Gutter: lengthsOf(r, "gutter"), Padding: lengthsOf(r, "padding"), Above: lengthsOf(r, "above"), Below: lengthsOf(r, "below")}
	for _, part := range strings.FieldsFunc(r.FormValue("order"), func(c rune) bool { return c < '0' || c > '9' }) {
		n, _ := strconv.Atoi(part)
		f.Order = append(f.Order, n-1)
	}
	block := r.FormValue("block")
	s.pageChangedTo(w, r, s.at(r).Pages.SetBand(id(r), block, r.FormValue("mark"), f), showing{band: block})
}

// lengthsOf reads a space for each device; one that is not said is as the wider one
// next to it. nil where none is said.
func lengthsOf(r *http.Request, name string) *layout.Lengths {
	if !filled(r, name+"-desktop", name+"-tablet", name+"-phone") {
		return nil
	}
	var l layout.Lengths
	l.Desktop = whole(r, name+"-desktop", 0)
	l.Tablet = whole(r, name+"-tablet", l.Desktop)
	l.Phone = whole(r, name+"-phone", l.Tablet)
	return &l
}
