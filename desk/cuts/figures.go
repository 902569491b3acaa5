package cuts

import (
	"fmt"
	"image"
	"time"

	"mivlet/core/fit"
	"mivlet/core/raster"
	"mivlet/core/rules"
	"mivlet/desk/derive"
	"mivlet/store"
)

// Figures is the arithmetic of a picture in a slot: what it had, what is
// framed, what is cut.
type Figures struct {
	Slot   *rules.Slot
	Source fit.Size
	Frame  image.Rectangle
	Before int64         // bytes of the original
	Slow   time.Duration // of the original on a slow line
	Cuts   []CutFigure
	Why    string // of the cuts' format
}

// CutFigure is the arithmetic of one cut.
type CutFigure struct {
	fit.Cut
	Bytes int64
	Exact bool // false while the bytes are an estimate
	Slow  time.Duration
	Usual time.Duration // on a line as most have it
}

func figure(c fit.Cut, bytes int64, exact bool) CutFigure {
	return CutFigure{c, bytes, exact, fit.LoadTime(bytes, fit.SlowLine), fit.LoadTime(bytes, fit.UsualLine)}
}

// Largest returns the heaviest cut, which a sharp screen loads.
func (f Figures) Largest() *CutFigure {
	if len(f.Cuts) == 0 {
		return nil
	}
	return &f.Cuts[len(f.Cuts)-1]
}

// Figures works out the arithmetic. Bytes are those of the finished cuts where
// they are made, else an estimate from the working copy.
func (d *Desk) Figures(p store.Picture) (Figures, error) { return d.FiguresFor(p, p.Work.Slot) }

// FiguresFor works them out for one slot.
func (d *Desk) FiguresFor(p store.Picture, id string) (Figures, error) {
	f := Figures{Source: p.Facts.Upright(), Before: p.Facts.Bytes, Slow: fit.LoadTime(p.Facts.Bytes, fit.SlowLine)}
	f.Frame = p.Work.Recipe.Frame(f.Source)
	slot, ok := d.Rules().Slot(id)
	if !ok {
		return f, nil
	}
	slot = ownBudget(p, slot)
	f.Slot = &slot
	made, err := d.Store.Cuts(p.ID, d.CutKey(p, slot))
	if err != nil {
		return f, err
	}
	plan := PlanOf(p, slot)
	if len(made) == len(plan) {
		for i, c := range plan {
			f.Cuts = append(f.Cuts, figure(c, made[i].Bytes, true))
		}
		f.Why = made[len(made)-1].Why
		return f, nil
	}
	bytes, why, err := d.estimate(p, slot, plan)
	if err != nil {
		return f, err
	}
	f.Why = why
	for i, c := range plan {
		f.Cuts = append(f.Cuts, figure(c, min(bytes[i], slot.Budget), false))
	}
	return f, nil
}

// estimateMotion tells about how many bytes the cuts of an animation will have:
// half as many for each pixel as the original has.
func estimateMotion(p store.Picture, plan []fit.Cut) []int64 {
	size := p.Facts.Upright()
	perPixel := float64(p.Facts.Bytes) / float64(size.W*size.H)
	var bytes []int64
	for _, c := range plan {
		bytes = append(bytes, int64(perPixel*float64(c.Size.W*c.Size.H)/2))
	}
	return bytes
}

// estimate tells about how many bytes the cuts of a plan will have, by making
// the smallest of them from the working copy.
func (d *Desk) estimate(p store.Picture, slot rules.Slot, plan []fit.Cut) (bytes []int64, why string, err error) {
	if derive.Moves(p, slot) {
		return estimateMotion(p, plan), fmt.Sprintf("WebP, because it moves (%d frames).", p.Facts.Frames), nil
	}
	src, done, err := d.derive.WorkingCopy(p)
	if err != nil {
		return nil, "", err
	}
	defer done()
	whole, small := p.Facts.Upright(), src.Upright()
	from := scaleRect(plan[0].Source, whole, small)
	size := plan[0].Size
	if size.W > from.Dx() || size.H > from.Dy() {
		size = fit.SizeOf(from)
	}
	// The quality is looked for once for each picture; while the hand moves it
	// stays as it was found.
	known, _ := d.quality.Get(p.OriginalHash)
	e, err := raster.Encode(src.Cut(from, size), raster.Options{Quality: known})
	if err != nil {
		return nil, "", err
	}
	d.quality.Put(p.OriginalHash, e.Quality)
	perPixel := float64(len(e.Data)) / float64(size.W*size.H)
	for i, c := range plan {
		n := perPixel * float64(c.Size.W*c.Size.H)
		if i > 0 {
			n *= 0.7 // larger cuts have less detail in each pixel, and get by with a lower quality (measured on the demo photos)
		}
		bytes = append(bytes, int64(n))
	}
	return bytes, e.Why, nil
}

// scaleRect maps a rectangle of the whole picture to its working copy.
func scaleRect(r image.Rectangle, whole, small fit.Size) image.Rectangle {
	at := func(v, from, to int) int { return v * to / from }
	s := image.Rect(at(r.Min.X, whole.W, small.W), at(r.Min.Y, whole.H, small.H), at(r.Max.X, whole.W, small.W), at(r.Max.Y, whole.H, small.H))
	s.Max.X, s.Max.Y = max(s.Max.X, s.Min.X+1), max(s.Max.Y, s.Min.Y+1)
	return s
}
