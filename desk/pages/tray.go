package pages

import (
	"slices"
	"strings"

	"mivlet/desk/pictures"
	"mivlet/store"
)

// mostFound is how many pictures of the shelves a tray holds.
const mostFound = 30

// Tray returns the pictures that can be placed: the batch on the bench, then those of
// the own shelves, newest first. With words it holds what is found by them, on the
// bench and on all shelves of the house.
func (d *Desk) Tray(text string) ([]pictures.Item, error) {
	if err := d.MayLook(); err != nil {
		return nil, err
	}
	all, err := d.pictures.Items(store.Bench)
	if err != nil {
		return nil, err
	}
	text = strings.TrimSpace(text)
	q := store.ShelfQuery{Text: text, Sort: store.ByNewest, Most: mostFound, Now: d.Now()}
	if text != "" {
		q.Sort = store.ByRank
		all = slices.DeleteFunc(all, func(i pictures.Item) bool {
			return !strings.Contains(strings.ToLower(i.Work.Name+" "+i.Work.Alt+" "+i.OriginalName), strings.ToLower(text))
		})
	}
	found, _, err := d.Store.Shelf(q)
	if err != nil {
		return nil, err
	}
	for _, p := range found {
		known := slices.ContainsFunc(all, func(i pictures.Item) bool { return i.ID == p.ID })
		if !known && (text != "" || d.Person.CanWork(p.Section)) {
			all = append(all, d.pictures.Item(p))
		}
	}
	return all, nil
}

// InTray returns a picture as the tray shows it.
func (d *Desk) InTray(id uint) (*pictures.Item, error) {
	if err := d.MayLook(); err != nil {
		return nil, err
	}
	pic, err := d.placeable(id)
	if err != nil {
		return nil, err
	}
	i := d.pictures.Item(pic)
	return &i, nil
}
