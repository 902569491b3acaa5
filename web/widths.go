package web

import (
	"fmt"
	"html/template"
	"net/http"
	"strconv"
	"strings"

	"mivlet/desk/house"
	"mivlet/desk/publish"
	"mivlet/web/drawing"
)

// widthsView is a page's draft at three widths.
type widthsView struct {
	ID      uint
	Title   string
	Weights []house.Weight
}

// weightRow is one picture of the page, with what it weighs on each screen.
type weightRow struct {
	Name   string
	Shares []*house.Share // nil where it is not on that screen
}

// Table holds the weights beside each other: a row for each picture in reading order, a column
// for each screen.
func (v widthsView) Table() []weightRow {
	type key struct {
		name string
		nth  int // where a picture stands several times
	}
	var rows []weightRow
	at := map[key]int{}
	for column, w := range v.Weights {
		seen := map[string]int{}
		for _, share := range w.Shares {
			k := key{share.Name, seen[share.Name]}
			seen[share.Name]++
			row, ok := at[k]
			if !ok {
				row = len(rows)
				at[k] = row
				rows = append(rows, weightRow{share.Name, make([]*house.Share, len(v.Weights))})
			}
			rows[row].Shares[column] = &share
		}
	}
	return rows
}

// Span is the dimension line over a frame of a viewport, as long as the frame is drawn
// (widths.css).
func (widthsView) Span(viewport int) drawing.Dimension {
	const drawn = 0.44
	return drawing.Dimension{Y1: 17, X2: drawn * float64(viewport), Y2: 17, Label: strconv.Itoa(viewport)}
}

func (s *server) widths(w http.ResponseWriter, r *http.Request) {
	p, err := s.at(r).Pages.Page(id(r))
	if err != nil {
		s.fail(w, r, err)
		return
	}
	weights, err := s.at(r).House.Weights(id(r))
	if err != nil {
		s.fail(w, r, err)
		return
	}
	framing(w, "frame-src 'self'", "frame-ancestors 'none'")
	s.screen(w, r, "widths", p.Doc.Title, "pages", widthsView{p.ID, p.Doc.Title, weights})
}

// pagePreview gives the draft as it would go live, for the frames of the three widths.
func (s *server) pagePreview(w http.ResponseWriter, r *http.Request) {
	v, err := s.at(r).Pages.PageVersion(id(r))
	if err != nil {
		s.fail(w, r, err)
		return
	}
	p, err := s.at(r).House.PagePreview(id(r), fmt.Sprintf("/pages/%d/style.css?v=%d", id(r), v), s.opts.Base)
	if err != nil {
		s.fail(w, r, err)
		return
	}
	framing(w, "", "frame-ancestors 'self'")
	s.part(w, "widths", "draft", struct {
		publish.SitePage
		Main template.HTML
	}{p, template.HTML(p.Main)}) //nolint:gosec // made and escaped by core/page
}

// framing says which of our own screens may stand in a frame, and hold one.
func framing(w http.ResponseWriter, holds, stands string) {
	h := w.Header()
	policy := strings.Replace(h.Get("Content-Security-Policy"), "frame-ancestors 'none'", stands, 1)
	if holds != "" {
		policy += "; " + holds
	}
	h.Set("Content-Security-Policy", policy)
}
