package derive

import (
	"bytes"
	"fmt"
	"image"
	"slices"

	"mivlet/core/facts"
	"mivlet/core/fit"
	"mivlet/core/raster"
	"mivlet/core/recipe"
	"mivlet/core/rules"
	"mivlet/core/veil"
	"mivlet/desk/access"
	"mivlet/store"
)

// mostFrames is how many frames of an animation are shown in its strip, at most.
const mostFrames = 16

// Still does some work on the original of a picture, decoded as far as the work needs it; on one
// that moves, on the frame that stands for it.
func (d *Desk) Still(p store.Picture, w raster.Transform) (image.Image, error) {
	scales, done, err := d.Stills(p, []raster.Transform{w})
	if err != nil {
		return nil, err
	}
	defer done()
	return scales.Do(w.At(p.Work.Still)), nil
}

// Stills is what makes cuts of a picture as it stands still, decoded once for all of
// them.
func (d *Desk) Stills(p store.Picture, cuts []raster.Transform) (s *raster.Scales, done func(), err error) {
	src, done, err := d.still(p, raster.Most(p.Facts.Upright(), cuts), partFor(p, cuts))
	if err != nil {
		return nil, nil, err
	}
	return raster.NewScales(src, p.Facts), done, nil
}

// partFor is the part of a picture that some cuts read: all that its frame leaves of it, as that serves the
// cuts for all slots. Nothing means the whole picture.
func partFor(p store.Picture, cuts []raster.Transform) image.Rectangle {
	part := raster.Reads(cuts)
	if frame := p.Work.Recipe.View(p.Facts.Upright()).Frame; part.In(frame) && !part.Empty() {
		return frame
	}
	return part
}

// still is a picture as it stands still, with as many of its pixels as are wanted, of a part at least.
func (d *Desk) still(p store.Picture, wanted fit.Size, part image.Rectangle) (s *raster.Source, done func(), err error) {
	if p.Work.Still == 0 || p.Work.Still >= p.Facts.Frames {
		s, done, err = d.decoded(p.OriginalHash, &p.Facts, wanted, part)
		return cameAs(p, s), done, err
	}
	key := decoded{hash: p.OriginalHash, eighths: 8, frame: p.Work.Still}
	if s := d.sources.get(key); s != nil {
		done, err := d.budget.take(d.Context, s.Bytes())
		return s, done, err
	}
	a, done, err := d.Animation(p)
	if err != nil {
		return nil, nil, err
	}
	if p.Work.Still >= len(a.Frames) {
		done()
		return d.Source(p)
	}
	s = a.Frames[p.Work.Still]
	d.sources.put(key, s)
	return s, done, nil
}

// StandsIn lists the slots of the house in which a picture that moves would stand
// still, by their codes.
func (d *Desk) StandsIn(p store.Picture) map[string]bool {
	all := map[string]bool{}
	for _, slot := range d.Rules().Slots {
		if p.Facts.Frames > 1 && !Moves(p, slot) {
			all[slot.ID] = true
		}
	}
	return all
}

// stageMotion is the working copy of a picture that moves, with veils on all its
// frames.
func (d *Desk) stageMotion(p store.Picture, veils []veil.Veil) (File, error) {
	key := Fingerprint(8, "motion", lookVersion, p.OriginalHash, veils)
	hashes, err := d.copies(p, "stage", key, func() ([]string, error) {
		a, done, err := d.Animation(p)
		if err != nil {
			return nil, err
		}
		defer done()
		whole := p.Facts.Upright()
		view := recipe.View{Frame: whole.Rect(), Turn: facts.Upright, Veils: veils}
		e, err := a.Encode(raster.TransformFor(view, fit.Cut{Source: whole.Rect(), Size: CopySize(whole)}), raster.Options{Quality: 80})
		if err != nil {
			return nil, err
		}
		hash, err := d.Store.Files.Put(bytes.NewReader(e.Data), e.MediaType)
		return []string{hash}, err
	})
	if err != nil {
		return File{}, err
	}
	return d.Open(hashes[0])
}

// copies returns the files that a picture has for a purpose of a screen, made from what
// key stands for; where there are none, make does it. Those of before are forgotten.
func (d *Desk) copies(p store.Picture, purpose, key string, make func() ([]string, error)) ([]string, error) {
	return Once(d, fmt.Sprintf("%s %d %s", purpose, p.ID, key), func() ([]string, error) {
		kept, err := d.Store.Copies(p.ID, purpose, key)
		if err != nil {
			return nil, err
		}
		var hashes []string
		for _, c := range kept {
			if d.Store.Files.Has(c.Hash) {
				hashes = append(hashes, c.Hash)
			}
		}
		if len(kept) > 0 && len(hashes) == len(kept) {
			return hashes, nil
		}
		if hashes, err = make(); err != nil {
			return nil, err
		}
		return hashes, d.UnlessGone(d.Store.SetCopies(p.ID, purpose, key, hashes), hashes...)
	})
}

// FramesShown are the frames of an animation that a strip of frames shows.
func FramesShown(f facts.Facts) []int {
	n := f.Frames
	if n < 2 || !f.KeepsMotion() {
		return nil
	}
	shown := min(n, mostFrames)
	all := make([]int, shown)
	for i := range all {
		all[i] = i * n / shown
	}
	return all
}

// frameSide is the longest side of a frame in the strip, in pixels.
const frameSide = 120

// FrameThumb opens a small copy of a frame of an animation with its veils.
func (d *Desk) FrameThumb(id uint, frame int) (File, error) {
	p, err := d.Mine(d.Store, id)
	if err != nil {
		return File{}, err
	}
	shown := FramesShown(p.Facts)
	at := slices.Index(shown, frame)
	if at < 0 {
		return File{}, access.Refuse(access.Missing, "There is no such frame.", "Look at the strip of frames.")
	}
	hashes, err := d.copies(p, "frames", LookKey(p), func() ([]string, error) { return d.frameThumbs(p, shown) })
	if err != nil {
		return File{}, err
	}
	return d.Open(hashes[at])
}

// frameThumbs makes small copies of some frames of an animation.
func (d *Desk) frameThumbs(p store.Picture, shown []int) ([]string, error) {
	a, done, err := d.Animation(p)
	if err != nil {
		return nil, err
	}
	defer done()
	view := p.Work.Recipe.View(p.Facts.Upright())
	size := fit.Inside(fit.SizeOf(view.Seen()), fit.Size{W: frameSide, H: frameSide})
	var hashes []string
	for _, n := range shown {
		f := a.Frames[min(n, len(a.Frames)-1)]
		hash, err := d.keepForScreen(f.Do(raster.TransformFor(view, fit.Cut{Source: view.Frame, Size: size}).At(n)))
		if err != nil {
			return nil, err
		}
		hashes = append(hashes, hash)
	}
	return hashes, nil
}

// Moves reports whether the cuts of a picture for a slot move.
func Moves(p store.Picture, slot rules.Slot) bool {
	return p.Facts.KeepsMotion() && slot.TakesMotion()
}

// ThumbSlot is the slot of a thumbnail: it stands still, also where the picture moves.
func ThumbSlot(p store.Picture, slot rules.Slot) rules.Slot {
	if Moves(p, slot) {
		return slot.Still()
	}
	return slot
}
