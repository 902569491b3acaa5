package publish

import (
	"mivlet/desk/visit"
	"mivlet/store"
)

// LivePage is a page that visitors see, with what was checked on it.
type LivePage struct {
	store.Page
	URL    string
	Report *visit.Report
}

// LivePages returns the pages that visitors see.
func (d *Desk) LivePages() ([]LivePage, error) {
	pages, err := d.pages.Pages()
	if err != nil {
		return nil, err
	}
	var live []LivePage
	for _, p := range pages {
		if !p.Live() {
			continue
		}
		report, err := visit.ReadReport(p)
		if err != nil {
			return nil, err
		}
		live = append(live, LivePage{p, d.Site + p.Path(), report})
	}
	return live, nil
}
