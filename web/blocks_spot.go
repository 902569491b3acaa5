package web

import (
	"net/http"

	"mivlet/core/rules"
	"mivlet/desk/pages"
)

// Spots are those of the house that can be put on a page.
func (v pageView) Spots() (all []rules.Spot) {
	for _, s := range v.Rules.Spots {
		if s.Where == rules.AsBlock {
			all = append(all, s)
		}
	}
	return all
}

// Spotted is the spot of a block; nil where the house does not have it any more.
func (v pageView) Spotted(b pages.BlockView) *rules.Spot {
	if s, ok := v.Rules.Spot(b.Text); ok && s.Where == rules.AsBlock {
		return &s
	}
	return nil
}

// placeSpot puts a spot into a gap of a page.
func (s *server) placeSpot(w http.ResponseWriter, r *http.Request) {
	s.pageChanged(w, r, s.at(r).Banners.Place(id(r), gapOf(r), r.FormValue("spot")))
}
