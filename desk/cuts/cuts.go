package cuts

import (
	"bytes"
	"errors"
	"fmt"
	"slices"

	"mivlet/core/album"
	"mivlet/core/fit"
	"mivlet/core/page"
	"mivlet/core/raster"
	"mivlet/core/rules"
	"mivlet/desk/access"
	"mivlet/desk/derive"
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
	return d.CutsOf(p, chosen)
}

// CutsOf is MakeCuts for those who have asked already whether they may.
func (d *Desk) CutsOf(p store.Picture, slot rules.Slot) ([]store.Cut, error) {
	return d.CutsUnder(d.Rules(), p, slot)
}

// CutsUnder makes the cuts of a picture, as it is given, for a slot under some rules.
func (d *Desk) CutsUnder(r rules.Rules, p store.Picture, slot rules.Slot) ([]store.Cut, error) {
	return d.cutsBy(r, p, slot, d.encoder)
}

// CutsForAll makes the cuts of a picture for several slots, slot by slot.
func (d *Desk) CutsForAll(r rules.Rules, p store.Picture, slots []rules.Slot) ([][]store.Cut, error) {
	return d.allBy(r, p, slots, d.encoder)
}

// CutsOfStill is [Desk.CutsForAll] for a picture that stands still, whether it moves or not.
func (d *Desk) CutsOfStill(r rules.Rules, p store.Picture, slots []rules.Slot) ([][]store.Cut, error) {
	return d.allBy(r, p, slots, d.stillEncoder)
}

func (d *Desk) allBy(r rules.Rules, p store.Picture, slots []rules.Slot, by encoder) ([][]store.Cut, error) {
	all := make([][]store.Cut, len(slots))
	for i, slot := range slots {
		var err error
		if all[i], err = d.cutsBy(r, p, slot, by); err != nil {
			return nil, err
		}
	}
	return all, nil
}

// encode makes a file of a picture, within a budget in bytes.
type encode = func(w raster.Transform, budget int64) (raster.Encoded, error)

// An encoder returns what makes the files of a picture for a slot, until done.
type encoder = func(p store.Picture, slot rules.Slot) (encode encode, done func(), err error)

// cutsBy returns the cuts of a picture for a slot, and makes them where they are not made
// yet. Who asks for the same at once gets the same.
func (d *Desk) cutsBy(r rules.Rules, p store.Picture, slot rules.Slot, by encoder) ([]store.Cut, error) {
	key := CutKey(r, p, slot)
	slot = ownBudget(p, slot)
	return derive.Once(d.derive, fmt.Sprintf("cut %d %s", p.ID, key), func() ([]store.Cut, error) {
		made, err := d.Store.Cuts(p.ID, key)
		if err != nil || len(made) > 0 {
			return made, err
		}
		files, err := d.encoded(p, slot, key, wordsInside(r, p), by)
		if err != nil {
			return nil, err
		}
		return d.keepCuts(p, slot, key, files)
	})
}

// encoded are the files of the cuts of a picture for a slot, as they are remembered or made
// now.
func (d *Desk) encoded(p store.Picture, slot rules.Slot, key string, words raster.Metadata, by encoder) ([]raster.Encoded, error) {
	if d.memo != nil && len(p.Work.Recipe.Veils()) == 0 { // a veil may also depend on a secret of the picture
		if files, ok := d.memo.Get(key); ok {
			return files, nil
		}
	}
	encode, done, err := by(p, slot)
	if err != nil {
		return nil, err
	}
	defer done()
	work := workOf(p, slot)
	var files []raster.Encoded
	for i, c := range PlanOf(p, slot) {
		e, err := encode(work[i], slot.BudgetAt(c.Density))
		if err != nil {
			return nil, err
		}
		if with, err := e.With(words); err == nil { // where a format has no room for words, none stay
			e = with
		}
		files = append(files, e)
	}
	if d.memo != nil && len(p.Work.Recipe.Veils()) == 0 {
		d.memo.Put(key, files)
	}
	return files, nil
}

// stillEncoder makes cuts of a picture that stands still.
func (d *Desk) stillEncoder(p store.Picture, slot rules.Slot) (encode, func(), error) {
	options := optionsFor(slot)
	scales, done, err := d.derive.Stills(p, workOf(p, slot))
	return func(w raster.Transform, budget int64) (raster.Encoded, error) {
		options.MaxBytes = budget
		e, err := raster.Encode(scales.Do(w.At(p.Work.Still)), options)
		options = options.AsThis(e) // the smallest, which comes first, decides on the format of all
		return e, err
	}, done, err
}

// workOf is the work of each of the cuts that a picture needs for a slot.
func workOf(p store.Picture, slot rules.Slot) (all []raster.Transform) {
	view := p.Work.Recipe.View(p.Facts.Upright())
	for _, c := range PlanOf(p, slot) {
		all = append(all, raster.TransformFor(view, c))
	}
	return all
}

// keepCuts keeps the files of the cuts of a picture for a slot.
func (d *Desk) keepCuts(p store.Picture, slot rules.Slot, key string, files []raster.Encoded) ([]store.Cut, error) {
	var cuts []store.Cut
	var hashes []string
	for i, c := range PlanOf(p, slot) {
		e := files[i]
		hash, err := d.Store.Files.Put(bytes.NewReader(e.Data), e.MediaType)
		if err != nil {
			return nil, err
		}
		hashes = append(hashes, hash)
		why := e.Why
		if e.OverBudget != "" {
			why += " " + e.OverBudget + "."
		}
		cuts = append(cuts, store.Cut{PictureID: p.ID, Key: key, Density: c.Density, Effective: c.Effective, CSSWidth: c.CSSWidth,
			Width: c.Size.W, Height: c.Size.H, Hash: hash, MediaType: e.MediaType, Bytes: int64(len(e.Data)), Quality: e.Quality, Why: why, MadeAt: d.Now()})
	}
	heavy := slices.ContainsFunc(cuts, func(c store.Cut) bool { return c.Bytes > slot.BudgetAt(c.Density) })
	err := d.Store.AddCuts(cuts, heavy)
	if errors.Is(err, store.ErrTaken) { // another program made them at the same moment
		return d.Store.Cuts(p.ID, key)
	}
	return cuts, d.derive.UnlessGone(err, hashes...)
}

// PlanOf is which cuts a picture needs for a slot.
func PlanOf(p store.Picture, slot rules.Slot) []fit.Cut {
	return p.Work.Recipe.View(p.Facts.Upright()).Plan(slot.Want(), slot.Scales())
}

// optionsFor are what a slot asks of its files.
func optionsFor(slot rules.Slot) raster.Options {
	options := raster.Options{MaxBytes: slot.Budget}
	for _, f := range slot.Formats {
		options.Allowed = append(options.Allowed, raster.Format(f))
	}
	return options
}

// encoder returns what makes a cut of a picture, until done. An animation keeps its motion, and
// its frames are decoded once.
func (d *Desk) encoder(p store.Picture, slot rules.Slot) (encode encode, done func(), err error) {
	options := optionsFor(slot)
	if !derive.Moves(p, slot) {
		return d.stillEncoder(p, slot)
	}
	if len(options.Allowed) > 0 && !slices.Contains(options.Allowed, raster.WebP) {
		options.Format = raster.GIF
	}
	a, done, err := d.derive.Animation(p)
	return func(w raster.Transform, budget int64) (raster.Encoded, error) {
		options.MaxBytes = budget
		e, err := a.Encode(w, options)
		options = options.AsThis(e)
		return e, err
	}, done, err
}

// ownBudget is a slot with the budget that a picture has of its own for it.
func ownBudget(p store.Picture, slot rules.Slot) rules.Slot {
	if own := p.Work.Budgets[slot.ID]; own > 0 {
		slot.Budget = own
	}
	return slot
}

// wordsInside are the words that the house lets stay inside a cut.
func wordsInside(r rules.Rules, p store.Picture) raster.Metadata {
	var w raster.Metadata
	for _, k := range r.Placing.Keep {
		switch k {
		case "credit":
			w.Credit, w.Copyright = p.Facts.Credit, p.Facts.Copyright
		case "alt":
			w.Alt = p.Work.Alt
		}
	}
	return w
}

// Engine is the version of what makes cuts: another one makes other files of the same.
const Engine = 9

// CutKey names all that a cut depends on: the original, the recipe, the slot, the words
// that stay inside and the version of the engine. Nothing else changes a cut, and
// whatever changes one changes its key.
func CutKey(r rules.Rules, p store.Picture, slot rules.Slot) string {
	slot = ownBudget(p, slot)
	if p.Work.Still > 0 && !derive.Moves(p, slot) {
		slot.Formats = append([]string{fmt.Sprintf("frame %d", p.Work.Still)}, slot.Formats...)
	}
	return derive.Fingerprint(12, Engine, p.OriginalHash, p.Work.Recipe, slot.Want(), slot.Scales(), slot.Budget, slot.Formats, wordsInside(r, p))
}

// CutKey is the key under the rules that hold.
func (d *Desk) CutKey(p store.Picture, slot rules.Slot) string { return CutKey(d.Rules(), p, slot) }

// OpenCut opens a cut by the hash of its content. What visitors get may be seen by
// everybody who is signed in.
func (d *Desk) OpenCut(hash string) (derive.File, error) {
	if err := d.MayLook(); err != nil {
		return derive.File{}, err
	}
	public, err := d.Store.ShownToVisitors(hash)
	if err != nil {
		return derive.File{}, err
	}
	if public {
		return d.derive.Open(hash)
	}
	made, err := d.Store.CutsByHash(hash)
	if err != nil {
		return derive.File{}, err
	}
	for _, c := range made {
		ok, err := d.mayOpen(c)
		if err != nil {
			return derive.File{}, err
		}
		if ok {
			return d.derive.Open(hash)
		}
	}
	return derive.File{}, access.Refuse(access.Missing, "There is no such cut.", "Look at the picture's card.")
}

// mayOpen lets others than the section's own people see only cuts that show the
// picture as it is now: an older one may show what a veil hides by now.
func (d *Desk) mayOpen(c store.Cut) (bool, error) {
	p, err := d.Store.Picture(c.PictureID)
	if err != nil {
		return false, err
	}
	if d.Person.CanWork(p.Section) {
		return true, nil
	}
	return p.Shelved && d.isCurrent(p, c), nil
}

// isCurrent reports whether a cut shows a picture as it is now: for a slot of the
// house, or where it stands on a page.
func (d *Desk) isCurrent(p store.Picture, c store.Cut) bool {
	behind := func(p store.Picture, slot rules.Slot) bool { return d.CutKey(p, slot) == c.Key }
	is := func(slot rules.Slot) bool {
		lighter := slices.ContainsFunc(d.Rules().Placing.Lighter, func(format string) bool { return behind(p, slot.As(format)) })
		return behind(p, slot) || lighter || derive.Moves(p, slot) && behind(p, slot.Still())
	}
	if slices.ContainsFunc(d.Rules().Slots, is) || is(page.EnlargedSlot(d.Rules())) {
		return true
	}
	pages, err := d.Store.PagesWith(p.ID)
	if err != nil {
		return false
	}
	for _, pg := range pages {
		pg.Doc = holdingAlone(pg.Doc, p.ID)
		for _, b := range pg.Doc.Blocks {
			if b.Band != nil && b.Band.Background != nil && d.isBehind(p, b.Band, behind) {
				return true
			}
		}
		for _, s := range pg.Doc.Stands(d.Rules()) {
			if s.Picture == p.ID && is(s.Slot) {
				return true
			}
		}
	}
	return false
}

// holdingAlone is a page whose albums hold one picture and no other: all pictures of an album
// stand in the same slot.
func holdingAlone(doc page.Doc, picture uint) page.Doc {
	albums := map[uint]album.Album{}
	for _, id := range doc.Albums() {
		albums[id] = album.Album{}.Add(picture)
	}
	return doc.Filled(albums)
}

// isBehind reports whether a slot of what stands behind a band, of a picture as it stands
// there, is the one that is looked for.
func (d *Desk) isBehind(p store.Picture, band *page.BandLayout, is func(store.Picture, rules.Slot) bool) bool {
	back := *band.Background
	if back.Picture != p.ID {
		return false
	}
	p.Work.Recipe = back.Over(p.Work.Recipe, p.Facts.Upright())
	return slices.ContainsFunc(page.BandRoom(d.Rules(), band).Slots(), func(s rules.Slot) bool { return is(p, s) })
}
