package albums

import (
	"slices"

	"mivlet/core/album"
	"mivlet/core/steps"
	"mivlet/desk/access"
	"mivlet/desk/snapshot"
	"mivlet/store"
)

// Use is a page that shows an album.
type Use struct {
	store.Page
	OnDraft bool
	OnLive  bool
}

// Due reports whether visitors see the album otherwise than it is now, so that the page wants
// publishing again.
func (u Use) Due() bool { return u.Live() && u.Differs }

// Line is an album in the list of all.
type Line struct {
	store.Album
	Lead *store.Picture // that stands for it; nil where it is empty
	Uses []Use
}

// All returns all albums, or the deleted ones, with the pages that show them.
func (d *Desk) All(dropped bool) ([]Line, error) {
	if err := d.MayLook(); err != nil {
		return nil, err
	}
	if err := d.snapshot.Settle(false); err != nil {
		return nil, err
	}
	all, err := d.Store.Albums(dropped)
	if err != nil {
		return nil, err
	}
	var leads []uint
	for _, a := range all {
		leads = append(leads, a.Doc.LeadPicture())
	}
	known, err := d.Store.PicturesIn(leads)
	if err != nil {
		return nil, err
	}
	showing, err := d.Store.AlbumPages()
	if err != nil {
		return nil, err
	}
	lines := make([]Line, len(all))
	for i, a := range all {
		lines[i] = Line{Album: a, Uses: usesOf(showing[a.ID])}
		if p, ok := known[leads[i]]; ok {
			lines[i].Lead = &p
		}
	}
	return lines, nil
}

func usesOf(pages []store.AlbumPage) []Use {
	uses := make([]Use, len(pages))
	for i, p := range pages {
		uses[i] = Use{p.Page, p.OnDraft, p.OnLive}
	}
	return uses
}

// Item is a picture in an album.
type Item struct {
	store.Picture
	Caption string // in the album
	Lead    bool
	Lacks   []string // what keeps it from going live: see [Desk.judge]
	codes   []Code
}

// View is an album on its screen.
type View struct {
	store.Album
	Items    []Item // in the order that they are shown in
	Uses     []Use
	Steps    []store.AlbumStep
	Offers   []store.Picture // fit the rule and are not in it
	Findings []Finding
}

func (v View) history() steps.History[store.AlbumStep] {
	return steps.History[store.AlbumStep]{Steps: v.Steps, Shown: v.Step}
}

// Undo is the step that the shown one was made from; -1 where there is none.
func (v View) Undo() int { return v.history().Undo() }

// Redo is the newest step that was made from the shown one; -1 where there is none.
func (v View) Redo() int { return v.history().Redo() }

// Of returns an album on its screen.
func (d *Desk) Of(id uint) (View, error) {
	if err := d.MayLook(); err != nil {
		return View{}, err
	}
	if err := d.snapshot.Settle(false); err != nil {
		return View{}, err
	}
	v := View{}
	return v, d.Store.View(func(s store.Records) error {
		var err error
		if v.Album, err = s.Album(id); err != nil {
			return access.NotFound(err, "The album")
		}
		known, err := s.PicturesIn(v.Doc.Pictures())
		if err != nil {
			return err
		}
		for _, e := range snapshot.Sorted(v.Doc, known).Entries {
			if p, ok := known[e.Picture]; ok && d.Sees(p) {
				i := Item{Picture: p, Caption: e.Caption, Lead: e.Picture == v.Doc.LeadPicture()}
				i.Lacks, i.codes = d.judge(p)
				v.Items = append(v.Items, i)
			}
		}
		if v.Steps, err = s.AlbumSteps(id); err != nil {
			return err
		}
		showing, err := s.AlbumPages(id)
		if err != nil {
			return err
		}
		v.Uses = usesOf(showing[id])
		if v.Offers, err = d.offers(s, v.Doc); err != nil {
			return err
		}
		v.Findings, err = d.findings(s, v)
		return err
	})
}

// offers are the pictures that fit an album's rule and are not in it.
func (d *Desk) offers(s store.Records, a album.Album) ([]store.Picture, error) {
	if a.Rule == (album.Rule{}) {
		return nil, nil
	}
	found, _, err := s.Shelf(store.ShelfQuery{Tag: a.Rule.Tag, Sort: store.ByTaken, Most: album.Most, Now: d.Now()})
	if err != nil {
		return nil, err
	}
	found = slices.DeleteFunc(found, func(p store.Picture) bool {
		return a.Rule.Year != 0 && p.Moment().Year() != a.Rule.Year || len(a.Offers([]uint{p.ID})) == 0 || !d.Sees(p)
	})
	return found, nil
}
