package desk

import (
	"bytes"
	"fmt"
	"slices"

	"mivlet/core/fit"
	"mivlet/core/raster"
	"mivlet/core/rules"
	"mivlet/store"
)

// MakeCuts makes the files of a picture for a slot and returns them in
// ascending density. What is made already is not made again. An empty slot
// means the one that is chosen.
func (d *Desk) MakeCuts(id uint, slot string) ([]store.Cut, error) {
	p, chosen, err := d.forSlot(id, slot)
	if err != nil {
		return nil, err
	}
	return d.cutsOf(p, chosen)
}

// CutAll makes the files of a picture for all slots that it is for, and returns it
// with its figures.
func (d *Desk) CutAll(id uint) (Bench, error) {
	p, err := d.mine(d.store, id)
	if err != nil {
		return Bench{}, err
	}
	b := Bench{Picture: p, Source: p.Facts.Upright()}
	for _, slot := range append([]string{p.Work.Slot}, p.Work.Also...) {
		if _, err := d.MakeCuts(id, slot); err != nil {
			return b, err
		}
		f, err := d.figuresFor(p, slot)
		if err != nil {
			return b, err
		}
		if slot == p.Work.Slot {
			b.Figures = f
		} else {
			b.More = append(b.More, f)
		}
	}
	return b, nil
}

// cutsOf is MakeCuts for those who have asked already whether they may.
func (d *Desk) cutsOf(p store.Picture, chosen rules.Slot) ([]store.Cut, error) {
	id, key := p.ID, d.cutKey(p, chosen)
	v, err, _ := d.once.Do(fmt.Sprintf("cut %d %s", id, key), func() (any, error) {
		made, err := d.store.Cuts(id, key)
		if err != nil || len(made) > 0 {
			return made, err
		}
		return d.makeCuts(p, chosen, key)
	})
	if err != nil {
		return nil, err
	}
	return v.([]store.Cut), nil
}

func (d *Desk) makeCuts(p store.Picture, slot rules.Slot, key string) ([]store.Cut, error) {
	slot = ownBudget(p, slot)
	encode, err := d.encoder(p, slot)
	if err != nil {
		return nil, err
	}
	view := p.Work.Recipe.View(p.Facts.Upright())
	var cuts []store.Cut
	for _, c := range planOf(p, slot) {
		e, err := encode(raster.WorkFor(view, c))
		if err != nil {
			return nil, err
		}
		if with, err := e.With(d.wordsInside(p)); err == nil { // where a format has no room for words, none stay
			e = with
		}
		hash, err := d.store.Blobs.Put(bytes.NewReader(e.Data))
		if err != nil {
			return nil, err
		}
		why := e.Why
		if e.OverBudget != "" {
			why += " " + e.OverBudget + "."
		}
		cuts = append(cuts, store.Cut{PictureID: p.ID, Key: key, Density: c.Density, Effective: c.Effective, CSSWidth: c.CSSWidth,
			Width: c.Size.W, Height: c.Size.H, Hash: hash, MediaType: e.MediaType, Bytes: int64(len(e.Data)), Quality: e.Quality, Why: why})
	}
	if err := d.store.AddCuts(cuts); err != nil {
		return nil, err
	}
	heavy := slices.ContainsFunc(cuts, func(c store.Cut) bool { return c.Bytes > slot.Budget })
	return cuts, d.store.SetHeavy(p.ID, heavy)
}

// planOf is which cuts a picture needs for a slot.
func planOf(p store.Picture, slot rules.Slot) []fit.Cut {
	return p.Work.Recipe.View(p.Facts.Upright()).Plan(slot.Want(), slot.Densities)
}

// optionsFor are what a slot asks of its files.
func optionsFor(slot rules.Slot) raster.Options {
	options := raster.Options{MaxBytes: slot.Budget}
	for _, f := range slot.Formats {
		options.Allowed = append(options.Allowed, raster.Format(f))
	}
	return options
}

// encoder decodes a picture once and returns what makes a cut of it. An
// animation keeps its motion.
func (d *Desk) encoder(p store.Picture, slot rules.Slot) (func(raster.Work) (raster.Encoded, error), error) {
	options := optionsFor(slot)
	if !moves(p, slot) {
		src, err := d.still(p)
		return func(w raster.Work) (raster.Encoded, error) { return raster.Encode(src.Do(w), options) }, err
	}
	if len(options.Allowed) > 0 && !slices.Contains(options.Allowed, raster.WebP) {
		options.Format = raster.GIF
	}
	a, err := d.animation(p)
	if err != nil {
		return nil, err
	}
	return func(w raster.Work) (raster.Encoded, error) {
		return a.Encode(w, options)
	}, nil
}

// ownBudget is a slot with the budget that a picture has of its own for it.
func ownBudget(p store.Picture, slot rules.Slot) rules.Slot {
	if own := p.Work.Budgets[slot.ID]; own > 0 {
		slot.Budget = own
	}
	return slot
}

// moves reports whether the cuts of a picture for a slot move.
func moves(p store.Picture, slot rules.Slot) bool {
	return p.Facts.KeepsMotion() && slot.TakesMotion()
}

// wordsInside are the words that the house lets stay inside a cut.
func (d *Desk) wordsInside(p store.Picture) raster.Words {
	var w raster.Words
	for _, k := range d.Rules().Placing.Keep {
		switch k {
		case "credit":
			w.Credit, w.Copyright = p.Facts.Credit, p.Facts.Copyright
		case "alt":
			w.Alt = p.Work.Alt
		}
	}
	return w
}

// cutKey names all that a cut depends on besides its original: the recipe, the
// slot and the version of the engine.
func (d *Desk) cutKey(p store.Picture, slot rules.Slot) string {
	const engine = 4
	slot = ownBudget(p, slot)
	if p.Work.Still > 0 && !moves(p, slot) {
		slot.Formats = append([]string{fmt.Sprintf("frame %d", p.Work.Still)}, slot.Formats...)
	}
	return fingerprint(12, engine, p.Work.Recipe, slot.Want(), slot.Densities, slot.Budget, slot.Formats, d.wordsInside(p))
}

// OpenCut opens a cut by the hash of its content.
func (d *Desk) OpenCut(hash string) (Shown, error) {
	if err := d.mayLook(); err != nil {
		return Shown{}, err
	}
	made, err := d.store.CutsByHash(hash)
	if err != nil {
		return Shown{}, err
	}
	for _, c := range made {
		ok, err := d.mayOpen(c)
		if err != nil {
			return Shown{}, err
		}
		if ok {
			return d.open(hash)
		}
	}
	return Shown{}, refuse(Missing, "There is no such cut.", "Look at the picture's card.")
}

// mayOpen lets others than the section's own people see only cuts that show the
// picture as it is now: an older one may show what a veil hides by now.
func (d *Desk) mayOpen(c store.Cut) (bool, error) {
	p, err := d.store.Picture(c.PictureID)
	if err != nil {
		return false, err
	}
	if d.who.CanWork(p.Section) {
		return true, nil
	}
	return d.isCurrent(p, c), nil
}

// isCurrent reports whether a cut shows a picture as it is now: for a slot of the
// house, or where it stands on a page.
func (d *Desk) isCurrent(p store.Picture, c store.Cut) bool {
	is := func(slot rules.Slot) bool { return d.cutKey(p, slot) == c.Key }
	if slices.ContainsFunc(d.Rules().Slots, is) || is(enlarged(d.Rules())) {
		return true
	}
	pages, err := d.store.PagesWith(p.ID)
	if err != nil {
		return false
	}
	for _, pg := range pages {
		for _, s := range pg.Doc.Stands(d.Rules()) {
			if s.Picture == p.ID && is(s.Slot) {
				return true
			}
		}
	}
	return false
}
