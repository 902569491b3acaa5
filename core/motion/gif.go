package motion

import (
	"image"
	"math"
)

// seen is the alpha from which a pixel shows in a GIF, which knows all or nothing.
const seen = 128

// GIF writes the film as a GIF of at most 256 colours a frame. A pixel that is less than half
// opaque is not shown. tolerance is how many code values a colour may be off, about, where that
// makes the file lighter: 0 for not at all.
func (f Film) GIF(tolerance int) ([]byte, error) {
	all, err := f.canvases()
	if err != nil {
		return nil, err
	}
	for i, m := range all {
		all[i] = cutOut(m)
	}
	parts := partsOf(all)
	tables := tablesFor(parts)
	file := beginGIF(all[0].Rect.Size(), tables[0].palette, f.Loop)
	shown := image.NewNRGBA(all[0].Rect)
	for i, p := range parts {
		file.frame(p.rect, p.draw(shown, tables[i], int32(9*tolerance*tolerance)), tables[i], f.Delays[i], p.disposed)
		tables[i].forget(i+1 < len(tables) && tables[i+1] == tables[i])
	}
	return file.end(), nil
}

// cutOut is m with each pixel shown whole or not at all.
func cutOut(m *image.NRGBA) *image.NRGBA {
	if m.Opaque() {
		return m
	}
	out := image.NewNRGBA(m.Rect)
	for y := range m.Rect.Dy() {
		to := row(out, y)
		from := row(m, y)
		for x := range m.Rect.Dx() {
			if p := at(from, x); p[3] >= seen {
				p[3] = 255
				set(to, x, p)
			}
		}
	}
	return out
}

// part is what a frame draws on what the one before has left.
type part struct {
	before, now *image.NRGBA // the canvas before, and as it shows
	rect        image.Rectangle
	disposed    bool // whether rect is cleared after it has shown
}

// partsOf finds what each frame draws. Where something is gone in the next frame, a frame is
// cleared after it has shown, or it would shine through.
func partsOf(all []*image.NRGBA) []part {
	parts := make([]part, len(all))
	before := image.NewNRGBA(all[0].Rect)
	for i, now := range all {
		parts[i] = part{before: before, now: now, rect: changed(before, now)}
		if i == 0 {
			parts[i].rect = now.Rect
		}
		if parts[i].rect.Empty() { // a frame has a pixel, and be it one that changes nothing
			parts[i].rect = image.Rect(0, 0, 1, 1)
		}
		before = now
		if i+1 == len(all) {
			break
		}
		if gone := vanishing(now, all[i+1]); !gone.Empty() {
			parts[i].disposed, parts[i].rect = true, parts[i].rect.Union(gone)
			before = cleared(now, parts[i].rect)
		}
	}
	return parts
}

// vanishing is the smallest rectangle that holds all pixels that a shows and b does not.
func vanishing(a, b *image.NRGBA) (r image.Rectangle) {
	if b.Opaque() {
		return r
	}
	for y := range b.Rect.Dy() {
		old, now := row(a, y), row(b, y)
		for x := range b.Rect.Dx() {
			if at(old, x)[3] != 0 && at(now, x)[3] == 0 {
				r = r.Union(image.Rect(x, y, x+1, y+1))
			}
		}
	}
	return r
}

// cleared is m with nothing in r.
func cleared(m *image.NRGBA, r image.Rectangle) *image.NRGBA {
	out := image.NewNRGBA(m.Rect)
	copy(out.Pix, m.Pix)
	for y := r.Min.Y; y < r.Max.Y; y++ {
		clear(row(out, y)[4*r.Min.X : 4*r.Max.X])
	}
	return out
}

// drawn calls do with each pixel that a part has to draw.
func (p part) drawn(do func(x, y int, c pixel)) {
	for y := p.rect.Min.Y; y < p.rect.Max.Y; y++ {
		old, now := row(p.before, y), row(p.now, y)
		for x := p.rect.Min.X; x < p.rect.Max.X; x++ {
			if c := at(now, x); c != at(old, x) {
				do(x, y, c)
			}
		}
	}
}

// draw returns the data of a part in the colours of a table, packed in the lightest of some ways.
// shown is what a viewer shows before and, when it is done, after it.
func (p part) draw(shown *image.NRGBA, t *table, tolerance int32) []byte {
	c := p.canvas(shown, t)
	best, indices := c.packed(packing{patience: atOnce, tolerance: tolerance})
	if t.hasClear {
		for _, patience := range []float64{atOnce, 0.2} {
			if data, others := c.packed(packing{tolerance: tolerance, leave: true, patience: patience}); len(data) < len(best) {
				best, indices = data, others
			}
		}
	}
	for y := p.rect.Min.Y; y < p.rect.Max.Y; y++ {
		to := row(shown, y)
		if p.disposed {
			clear(to[4*p.rect.Min.X : 4*p.rect.Max.X])
			continue
		}
		for x := p.rect.Min.X; x < p.rect.Max.X; x++ {
			if i := indices[(y-p.rect.Min.Y)*p.rect.Dx()+x-p.rect.Min.X]; !t.hasClear || i != t.clear {
				set(to, x, t.colours[i])
			}
		}
	}
	return best
}

// never is farther off than any tolerance.
const never = math.MaxInt32

// canvas is what a part wants to show with the colours of a table, where something is shown.
func (p part) canvas(shown *image.NRGBA, t *table) *canvas {
	n := p.rect.Dx() * p.rect.Dy()
	c := &canvas{t, make([]uint8, 0, n), make([]pixel, 0, n), make([]int32, 0, n)}
	for y := p.rect.Min.Y; y < p.rect.Max.Y; y++ {
		old, now, is := row(p.before, y), row(p.now, y), row(shown, y)
		for x := p.rect.Min.X; x < p.rect.Max.X; x++ {
			want, have := at(now, x), at(is, x)
			c.want = append(c.want, want)
			own, off := uint8(0), int32(never)
			again, ok := t.again(have)
			switch {
			case want == at(old, x) && ok:
				own, off = again, 0
			default:
				own = t.draw(want, x, y)
				if have[3] != 0 && want[3] != 0 {
					off = int32(apart(have, want))
				}
				if t.colours[own] == have {
					off = 0
				}
			}
			c.own, c.off = append(c.own, own), append(c.off, off)
		}
	}
	return c
}
