package albums

import (
	"mivlet/core/page"
	"mivlet/core/rules"
	"mivlet/desk/access"
	"mivlet/desk/cuts"
	"mivlet/desk/jobs"
	"mivlet/desk/snapshot"
	"mivlet/store"
)

// Prepare makes the cuts of an album beside the screens: enlarged, and as thumbnails for every
// page that shows it. Each picture is decoded once. What is made already is not made again, so
// that publishing waits for nothing.
func (d *Desk) Prepare(id uint) (*jobs.Job, error) {
	a, slots, err := d.toPrepare(id)
	if err != nil {
		return nil, err
	}
	var tasks []jobs.Of[cuts.ToCut]
	for _, picture := range a.Doc.Pictures() {
		of := cuts.CutOf(picture, slots...)
		of.Still = true
		tasks = append(tasks, jobs.Of[cuts.ToCut]{Steps: 1, Of: of})
	}
	if len(tasks) == 0 {
		return nil, access.Refuse(access.Bad, "The album is empty.", "Add pictures first.")
	}
	return d.cuts.Later("Cutting “"+a.Doc.Title+"”", tasks)
}

// toPrepare reads an album, and the slots that its pictures are needed for.
func (d *Desk) toPrepare(id uint) (store.Album, []rules.Slot, error) {
	a, err := d.own(id)
	if err != nil {
		return a, nil, err
	}
	r := d.Rules()
	slots := []rules.Slot{page.EnlargedSlot(r)}
	return a, slots, d.Store.View(func(s store.Records) error {
		showing, err := s.AlbumPages(id)
		if err != nil {
			return err
		}
		var pages []store.Page
		for _, u := range showing[id] {
			pages = append(pages, u.Page)
		}
		if pages, err = snapshot.Filled(s, pages); err != nil {
			return err
		}
		for _, p := range pages {
			for _, b := range p.Doc.Blocks {
				if b.Album == nil || b.Album.Album != id || len(b.Pictures) == 0 {
					continue
				}
				if at, ok := p.Doc.Stand(r, b.ID, 0); ok {
					slots = append(slots, at.Slot)
				}
			}
		}
		return nil
	})
}

// own is an album that whoever is at the desk may work on.
func (d *Desk) own(id uint) (store.Album, error) {
	a, err := d.Album(id)
	if err != nil {
		return a, err
	}
	return a, d.MayWork(a.Section)
}
