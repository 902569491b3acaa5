package cuts

import (
	"fmt"
	"image"
	"math"
	"time"

	"mivlet/core/fit"
	"mivlet/core/layout"
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
	Why    string                     // of the cuts' format
	shown  func(viewport int) float64 // how wide the picture stands, in CSS px
}

// Screen is a kind of screen, and the cut that it loads.
type Screen struct {
	Device  layout.Device
	Density float64 // device pixels for each CSS pixel
	Crisp   float64 // pixels of the cut for each CSS pixel, as it stands there
	CutFigure
}

// usualScreens are the screens that figures are told for (common practice: phones have two to three
// pixels for each CSS pixel, desktops one or two).
var usualScreens = []Screen{{Device: layout.Phone, Density: 3}, {Device: layout.Desktop, Density: 1}, {Device: layout.Desktop, Density: 2}}

// Screens are the usual screens with the cuts that they load.
func (f Figures) Screens() []Screen {
	var all []Screen
	for _, s := range usualScreens {
		if c := f.on(s.Device, s.Density); c != nil {
			s.CutFigure = *c
			s.Crisp = float64(c.Size.W) / f.shown(s.Device.Viewport())
			all = append(all, s)
		}
	}
	return all
}

// on is the cut that a screen loads; nil where there is none.
func (f Figures) on(d layout.Device, density float64) *CutFigure {
	if len(f.Cuts) == 0 {
		return nil
	}
	return &f.Cuts[loaded(f.Cuts, func(c CutFigure) int { return c.Size.W }, f.shown(d.Viewport()), density)]
}

// Usual is the cut that a usual desktop loads; nil where there is none.
func (f Figures) Usual() *CutFigure { return f.on(layout.Desktop, 1) }

// Sharp is the cut that a sharp desktop loads; nil where there is none.
func (f Figures) Sharp() *CutFigure { return f.on(layout.Desktop, 2) }

// shownIn is how wide a picture stands in a slot at a viewport, in CSS px.
func shownIn(r rules.Rules, slot rules.Slot, plan []fit.Cut) func(viewport int) float64 {
	if slot.Stands() {
		return r.Place(slot).Width
	}
	return func(int) float64 { return float64(plan[0].CSSWidth) }
}

// sharpOf is the cut of a picture that a sharp desktop loads: what is compared and tried.
func sharpOf(r rules.Rules, slot rules.Slot, plan []fit.Cut) fit.Cut {
	return onDesktop(r, slot, plan, 2)
}

// onDesktop is the cut of a picture that a desktop of a density loads.
func onDesktop(r rules.Rules, slot rules.Slot, plan []fit.Cut, density float64) fit.Cut {
	return plan[loaded(plan, func(c fit.Cut) int { return c.Size.W }, shownIn(r, slot, plan)(layout.Desktop.Viewport()), density)]
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
	f.shown = shownIn(d.Rules(), slot, plan)
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
		f.Cuts = append(f.Cuts, figure(c, min(bytes[i], slot.BudgetAt(c.Density)), false))
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
// one of them from the working copy.
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
	one := plan[0]
	for _, c := range plan[1:] {
		if c.Size.W <= one.CSSWidth*11/10 { // of about the size of the slot
			one = c
		}
	}
	from := scaleRect(one.Source, whole, small)
	size := one.Size
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
	for _, c := range plan {
		larger := float64(c.Size.W*c.Size.H) / float64(size.W*size.H)
		bytes = append(bytes, int64(float64(len(e.Data))*math.Pow(larger, rules.ByDetail)))
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
