package lists

import (
	"errors"
	"slices"
	"strings"

	"mivlet/core/page"
	"mivlet/core/rules"
	"mivlet/store"
)

// View returns what a list on a page shows now. The page itself is never listed.
func (d *Desk) View(s store.Records, r rules.Rules, p store.Page, b page.Block) (page.ListView, error) {
	l := *b.List
	if l.Groups() {
		cards, err := groups(s, r, l)
		return page.ListView{Cards: cards, Total: len(cards)}, err
	}
	q := query(r, p, l)
	q.Most = l.Most
	if q.Most == 0 && l.Of != page.OfHand {
		q.Most = page.MostListed
	}
	found, n, err := s.Cards(q)
	if err != nil {
		return page.ListView{}, err
	}
	v := page.ListView{Cards: cardsOf(found), Total: n}
	if l.Leads() {
		v.All = allPath(p, l)
	}
	return v, nil
}

// query asks for all cards of a list.
func query(r rules.Rules, p store.Page, l page.Listing) store.CardQuery {
	q := store.CardQuery{Order: l.Order, But: p.ID}
	if l.Of == page.OfHand {
		q.Pages = l.Pages
		return q
	}
	q.Key = l.Keys(r)[0]
	return q
}

func cardsOf(found []store.LiveCard) []page.Card {
	all := make([]page.Card, len(found))
	for i, c := range found {
		all[i] = c.Card()
	}
	return all
}

// groups are the front pages of the sections or categories, as the house lists them. A
// section without one is led to where its pages are listed.
func groups(s store.Records, r rules.Rules, l page.Listing) ([]page.Card, error) {
	found, _, err := s.Cards(store.CardQuery{Key: page.Key(l.Of, "")})
	if err != nil {
		return nil, err
	}
	live := map[string]page.Card{}
	for _, c := range found {
		live[c.Path()] = c.Card()
	}
	var all []page.Card
	add := func(code, title string, always bool) {
		c, ok := live["/"+code]
		if !ok && !always {
			return
		}
		c.Path, c.Title = "/"+code, title
		all = append(all, c)
	}
	if l.Of == page.OfSections {
		for _, one := range r.Sections {
			add(one.Code, one.Title, true)
		}
	} else {
		for _, one := range r.Categories {
			add(one.Code, one.Title, false)
		}
	}
	if l.Order == page.ByTitle {
		slices.SortStableFunc(all, func(a, b page.Card) int { return strings.Compare(strings.ToLower(a.Title), strings.ToLower(b.Title)) })
	}
	if l.Most > 0 && len(all) > l.Most {
		all = all[:l.Most]
	}
	return all, nil
}

// allPath is the address of the page that lists all of what a list is about: /juniors/all
// on the front page of the juniors, /all-juniors on others.
func allPath(p store.Page, l page.Listing) string {
	name := "all"
	if l.Of != page.OfSection || l.Which != p.Section {
		name += "-" + strings.ReplaceAll(l.Which, " ", "-")
	}
	return strings.TrimSuffix(p.Path(), "/") + "/" + name
}

// StylePath is where visitors find the measures of the pages that list all of what a page
// lists.
func StylePath(p store.Page) string { return strings.TrimSuffix(p.Path(), "/") + "/all.css" }

// Reserved reports whether a part of an address is kept for pages that list all of
// something.
func Reserved(slug string) bool { return slug == "all" || strings.HasPrefix(slug, "all-") }

// Shown returns what lists show of a live page now; false where it is not live.
func (d *Desk) Shown(page uint) (store.LiveCard, bool, error) {
	if err := d.MayLook(); err != nil {
		return store.LiveCard{}, false, err
	}
	c, _, err := d.Store.Card(page)
	if errors.Is(err, store.ErrNotFound) {
		return c, false, nil
	}
	return c, err == nil, err
}

// Elsewhere returns what a list shows on a copy of its page that lives elsewhere: it leads to
// this site.
func (d *Desk) Elsewhere(p store.Page, b page.Block) (page.ListView, error) {
	v, err := d.View(d.Store, d.Rules(), p, b)
	for i := range v.Cards {
		v.Cards[i].Path = d.Site + v.Cards[i].Path
	}
	if v.All != "" {
		v.All = d.Site + v.All
	}
	v.Address = func(f page.CardFile) string { return d.Site + f.Address }
	return v, err
}

// Draft is Elsewhere on the screen of a draft, which gets its pictures from the desk, whose own addresses
// begin with base.
func (d *Desk) Draft(p store.Page, b page.Block, base string) (page.ListView, error) {
	if err := d.MayLook(); err != nil {
		return page.ListView{}, err
	}
	v, err := d.Elsewhere(p, b)
	v.Address = func(f page.CardFile) string { return base + "/cuts/" + f.Hash }
	return v, err
}
