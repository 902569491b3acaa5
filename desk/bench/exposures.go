package bench

import (
	"mivlet/store"
)

// Exposure is a live page that shows a picture otherwise than it may be shown by now.
type Exposure struct {
	store.Page
	Why string // what has happened to the picture since
}

// Exposures tells which live pages still show a picture as it may not be shown any
// more: without a veil that was drawn since, from a file that was swapped since, or
// though somebody in it has refused since.
func (d *Desk) Exposures(id uint) ([]Exposure, error) {
	pic, err := d.Mine(d.Store, id)
	if err != nil {
		return nil, err
	}
	return d.exposures(pic)
}

func (d *Desk) exposures(pic store.Picture) ([]Exposure, error) {
	files, err := d.Store.Showing(pic.ID)
	if err != nil || len(files) == 0 {
		return nil, err
	}
	why := map[uint]string{}
	var ids []uint
	for _, f := range files {
		if f.OfList() {
			continue // the page that it stands for tells of it
		}
		if f.Veils == nil && len(pic.Work.Recipe.Veils()) == 0 { // made before veils were recorded, and there is none
			f.Veils, f.Original = []string{}, pic.OriginalHash
		}
		if w := d.pictures.SinceThen(f, pic, "it"); w != "" && why[f.PageID] == "" {
			why[f.PageID] = w
			ids = append(ids, f.PageID)
		}
	}
	pages, err := d.Store.PagesIn(ids)
	if err != nil {
		return nil, err
	}
	var all []Exposure
	for _, p := range pages {
		all = append(all, Exposure{p, why[p.ID]})
	}
	return all, nil
}
