package desk

import (
	"bytes"
	"fmt"

	"mivlet/core/facts"
	"mivlet/core/fit"
	"mivlet/core/raster"
	"mivlet/core/recipe"
	"mivlet/core/veil"
	"mivlet/store"
)

// mostFrames is how many frames of an animation are shown in its strip, at most.
const mostFrames = 16

// animation decodes all frames of a picture that moves.
func (d *Desk) animation(p store.Picture) (*raster.Animation, error) {
	f, err := d.store.Blobs.Open(p.OriginalHash)
	if err != nil {
		return nil, err
	}
	defer f.Close()
	return raster.DecodeAnimation(f, p.Facts, d.limits())
}

// still returns the decoded original; of a picture that moves, the frame that
// stands for it.
func (d *Desk) still(p store.Picture) (*raster.Source, error) {
	if p.Work.Still == 0 || p.Work.Still >= p.Facts.Frames {
		return d.source(p)
	}
	key := fmt.Sprintf("%s frame %d", p.OriginalHash, p.Work.Still)
	if s := d.sources.get(key); s != nil {
		return s, nil
	}
	a, err := d.animation(p)
	if err != nil {
		return nil, err
	}
	if p.Work.Still >= len(a.Frames) {
		return d.source(p)
	}
	s := a.Frames[p.Work.Still]
	d.sources.put(key, s)
	return s, nil
}

// standsIn lists the slots of the house in which a picture that moves would stand
// still, by their codes.
func (d *Desk) standsIn(p store.Picture) map[string]bool {
	all := map[string]bool{}
	for _, slot := range d.Rules().Slots {
		if p.Facts.Frames > 1 && !moves(p, slot) {
			all[slot.ID] = true
		}
	}
	return all
}

// stageMotion is the working copy of a picture that moves, with veils on all its
// frames.
func (d *Desk) stageMotion(p store.Picture, veils []veil.Veil) (Shown, error) {
	key := fingerprint(8, "motion", p.OriginalHash, veils)
	if hash, ok := d.moving.Load(key); ok {
		return d.open(hash.(string))
	}
	v, err, _ := d.once.Do(key, func() (any, error) {
		a, err := d.animation(p)
		if err != nil {
			return "", err
		}
		whole := p.Facts.Upright()
		size := CopySize(whole)
		view := recipe.View{Frame: whole.Rect(), Turn: facts.Upright, Veils: veils}
		e, err := a.Encode(raster.WorkFor(view, fit.Cut{Source: whole.Rect(), Size: size}), raster.Options{Quality: 80})
		if err != nil {
			return "", err
		}
		return d.store.Blobs.Put(bytes.NewReader(e.Data))
	})
	if err != nil {
		return Shown{}, err
	}
	d.moving.Store(key, v)
	return d.open(v.(string))
}

// Frames lists the frames of an animation that its strip shows, counted from 0:
// all of them, or some of many, evenly.
func (b Bench) Frames() []int {
	n := b.Facts.Frames
	if n < 2 || !b.Facts.KeepsMotion() {
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
func (d *Desk) FrameThumb(id uint, frame int) (Shown, error) {
	p, err := d.mine(d.store, id)
	if err != nil {
		return Shown{}, err
	}
	if frame < 0 || frame >= p.Facts.Frames {
		return Shown{}, refuse(Missing, "There is no such frame.", "Look at the strip of frames.")
	}
	key := fingerprint(8, "frames", LookKey(p))
	v, err, _ := d.once.Do(key, func() (any, error) {
		if made, ok := d.moving.Load(key); ok {
			return made, nil
		}
		made, err := d.frameThumbs(p)
		if err == nil {
			d.moving.Store(key, made)
		}
		return made, err
	})
	if err != nil {
		return Shown{}, err
	}
	hashes := v.([]string)
	return d.open(hashes[min(frame, len(hashes)-1)])
}

func (d *Desk) frameThumbs(p store.Picture) ([]string, error) {
	a, err := d.animation(p)
	if err != nil {
		return nil, err
	}
	view := p.Work.Recipe.View(p.Facts.Upright())
	size := fit.Inside(fit.SizeOf(view.Seen()), fit.Size{W: frameSide, H: frameSide})
	var hashes []string
	for _, f := range a.Frames {
		hash, err := d.keepForScreen(f.Do(raster.WorkFor(view, fit.Cut{Source: view.Frame, Size: size})))
		if err != nil {
			return nil, err
		}
		hashes = append(hashes, hash)
	}
	return hashes, nil
}
