package covers

import (
	"fmt"

	"mivlet/core/page"
	"mivlet/core/rules"
	"mivlet/desk/access"
	"mivlet/store"
)

// FrontOf tells which front page a page is; false for one that is none.
func FrontOf(r rules.Rules, p store.Page) (title string, front bool) {
	if !p.Front() {
		return "", false
	}
	if s, ok := r.Section(p.Section); ok {
		return s.Title, true
	}
	if c, ok := r.Category(p.Slug); ok {
		return c.Title, true
	}
	return r.House, true
}

// BeginFront begins the front page of a section or of a category, or, with neither, that of
// the house: an ordinary page that begins with lists.
func (d *Desk) BeginFront(section, category string) (uint, error) {
	if err := d.MayWork(section); err != nil {
		return 0, err
	}
	r := d.Rules()
	p := store.Page{Section: section, Slug: category, Doc: page.Doc{Version: page.Version, Title: r.House}}
	list := func(l page.Listing) page.Block { return page.Block{ID: access.NewBlock(), Kind: page.List, List: &l} }
	latest := page.Listing{Of: page.OfSection, Which: section, Look: page.Tiles, Most: 6, Days: true, All: true}
	switch {
	case section != "" && category != "":
		return 0, access.Refuse(access.Bad, "A front page is that of a section or of a category, not of both.", "Choose one of them.")
	case section != "":
		s, ok := r.Section(section)
		if !ok {
			return 0, access.Refuse(access.Bad, "There is no such section.", "Choose one from the list.")
		}
		p.Doc.Title = s.Title
	case category != "":
		c, ok := r.Category(category)
		if !ok || c.Code != category {
			return 0, access.Refuse(access.Bad, fmt.Sprintf("The house has no category %q.", category), "Choose one from the list.")
		}
		p.Doc.Title, latest.Of, latest.Which = c.Title, page.OfCategory, category
	default:
		latest = page.Listing{Of: page.OfSections, Look: page.Tiles}
	}
	p.Doc.Blocks = []page.Block{list(latest)}
	return d.pages.Add(p)
}
