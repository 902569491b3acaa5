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
	p, err := d.mine(d.store, id)
	if err != nil {
		return nil, err
	}
	if slot == "" {
		slot = p.Work.Slot
	}
	chosen, ok := d.Rules().Slot(slot)
	if !ok {
		return nil, refuse(Bad, "No slot is chosen.", "Say where the picture will stand.")
	}
	return d.cutsOf(p, chosen)
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

// encoder decodes a picture once and returns what makes a cut of it. An
// animation keeps its motion.
func (d *Desk) encoder(p store.Picture, slot rules.Slot) (func(raster.Work) (raster.Encoded, error), error) {
	options := raster.Options{MaxBytes: slot.Budget}
	for _, f := range slot.Formats {
		options.Allowed = append(options.Allowed, raster.Format(f))
	}
	if !moves(p, slot) {
		src, err := d.source(p)
		return func(w raster.Work) (raster.Encoded, error) { return raster.Encode(src.Do(w), options) }, err
	}
	if len(options.Allowed) > 0 && !slices.Contains(options.Allowed, raster.WebP) {
		options.Format = raster.GIF
	}
	f, err := d.store.Blobs.Open(p.OriginalHash)
	if err != nil {
		return nil, err
	}
	defer f.Close()
	a, err := raster.DecodeAnimation(f, p.Facts, d.limits())
	if err != nil {
		return nil, err
	}
	return func(w raster.Work) (raster.Encoded, error) {
		return a.Encode(w, options)
	}, nil
}

// moves reports whether the cuts of a picture for a slot move.
func moves(p store.Picture, slot rules.Slot) bool {
	return p.Facts.KeepsMotion() && (len(slot.Formats) == 0 || slices.Contains(slot.Formats, "gif") || slices.Contains(slot.Formats, "webp"))
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
	for _, slot := range d.Rules().Slots {
		if d.cutKey(p, slot) == c.Key {
			return true, nil
		}
	}
	return false, nil
}
