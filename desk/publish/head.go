package publish

import (
	"errors"
	"time"

	"mivlet/core/page"
	"mivlet/desk/snapshot"
	"mivlet/store"
)

// head is what a page says of itself to those who do not look at it. link is its link
// picture; nil for none. at is when it goes live.
func (d *Desk) head(n *snapshot.Snapshot, link *snapshot.Link, at time.Time) (string, error) {
	h := d.around(n, at)
	h.Title, h.Description, h.Address, h.Article = n.Doc.Title, n.Doc.Description(), d.Site+n.Path(), !n.Front()
	card, _, err := d.Store.Card(n.ID)
	if err != nil && !errors.Is(err, store.ErrNotFound) {
		return "", err
	}
	if err == nil {
		h.First = card.FirstAt
	}
	if link != nil {
		h.Image = &link.Head
	}
	return h.HTML()
}

// around is what the head of a page says of what it belongs to.
func (d *Desk) around(n *snapshot.Snapshot, at time.Time) page.Head {
	h := page.Head{House: n.House.House, Language: n.House.Words.Language, First: at, Now: at}
	if n.Path() != "/" {
		h.Crumbs = []page.Crumb{{Title: n.House.House, Address: d.Site + "/"}}
	}
	if s, ok := n.House.Section(n.Section); ok && n.Slug != "" {
		h.Crumbs = append(h.Crumbs, page.Crumb{Title: s.Title, Address: d.Site + "/" + s.Code})
	}
	return h
}
