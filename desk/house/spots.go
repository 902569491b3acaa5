package house

import (
	"fmt"
	"strings"

	"mivlet/core/rules"
	"mivlet/desk/access"
	"mivlet/store"
)

// spotTouches works out what a change of spots touches: live pages that have to be published
// again before the spot stands on them, and banners that have to be approved again, or that
// would have no spot any more.
func (d *Desk) spotTouches(from, to rules.Rules) ([]Touch, error) {
	banners, err := d.Store.Banners(false)
	if err != nil {
		return nil, err
	}
	in := func(spot string) (all []store.Banner) {
		for _, b := range banners {
			if b.Doc.Spot == spot || b.Live != nil && b.Live.Spot == spot {
				all = append(all, b)
			}
		}
		return all
	}
	var all []Touch
	for _, old := range from.Spots {
		now, still := to.Spot(old.ID)
		t := Touch{What: "Spot " + old.Title + ": changed"}
		switch {
		case !still:
			t.What = "Spot " + old.Title + ": taken out"
			for _, b := range in(old.ID) {
				t.Stranded = append(t.Stranded, "the banner “"+b.Doc.Title+"”")
			}
		case old.Width != now.Width || old.Height != now.Height || old.Phone() != now.Phone():
			for _, b := range in(old.ID) {
				if b.Live != nil {
					t.Approve = append(t.Approve, b.Doc.Title)
				}
			}
		}
		if len(t.Stranded)+len(t.Approve) > 0 {
			all = append(all, t)
		}
	}
	pages, err := d.Store.PageTitles(0)
	if err != nil {
		return nil, err
	}
	for _, s := range to.Spots {
		old, had := from.Spot(s.ID)
		t := Touch{What: "Spot " + s.Title + ": where it stands"}
		for _, p := range pages {
			front := p.Slug == ""
			stood := had && old.Where == s.Where && old.StandsOn(p.Section, front)
			if p.Live && s.StandsOn(p.Section, front) && !stood {
				t.Publish = append(t.Publish, p.Title)
			}
		}
		if len(t.Publish) > 0 {
			all = append(all, t)
		}
	}
	return all, nil
}

// spotText tells what a change of spots touches.
func (t Touch) spotText() (parts []string) {
	if n := len(t.Publish); n > 0 {
		parts = append(parts, fmt.Sprintf("%s to be published again before it is on them", access.Count(n, "live page")))
	}
	if n := len(t.Approve); n > 0 {
		parts = append(parts, fmt.Sprintf("%s to be approved again: %s", access.Count(n, "banner"), strings.Join(t.Approve, ", ")))
	}
	return parts
}
