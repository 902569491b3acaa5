package motion

import (
	"image"
	"image/color"

	"github.com/soniakeys/quant/median"
)

// most is how many colours a palette of a GIF has.
const most = 256

// table is a palette and how colours are drawn with it.
type table struct {
	palette  color.Palette
	colours  [most]pixel
	index    map[pixel]uint8 // of the palette's own colours
	hasClear bool            // whether the palette has an index that leaves a pixel as it is
	clear    uint8
	mixed    *mixes // what other colours are mixed from; nil until one is asked for
}

// newTable is a table of some colours, of which there is room for one that leaves a pixel as it is
// where it is asked for.
func newTable(colours []pixel, withClear bool) *table {
	t := &table{index: make(map[pixel]uint8, len(colours)), hasClear: withClear}
	for i, c := range colours {
		t.colours[i], t.index[c] = c, uint8(i)
		t.palette = append(t.palette, color.RGBA{c[0], c[1], c[2], 255})
	}
	if withClear {
		t.clear = uint8(len(colours))
		t.palette = append(t.palette, color.RGBA{})
	}
	return t
}

// again is the index for what shows already, where it should: its own colour, or else the one that
// leaves it. Where there is none of them, it is none.
func (t *table) again(shown pixel) (index uint8, ok bool) {
	if i, ok := t.index[shown]; ok && shown[3] != 0 {
		return i, true
	}
	return t.clear, t.hasClear
}

// draw is the index for a colour at a place of the canvas.
func (t *table) draw(c pixel, x, y int) uint8 {
	if i, ok := t.index[c]; ok {
		return i
	}
	if c[3] == 0 { // only in the first frame: later ones clear what is gone beforehand
		return t.clear
	}
	if t.mixed == nil {
		t.mixed = newMixes(t.colours[:len(t.index)])
	}
	return t.mixed.at(c, x, y)
}

// forget gives back the memory that drawing took, unless the table is wanted again.
func (t *table) forget(wanted bool) {
	if !wanted {
		t.mixed = nil
	}
}

// Sizes of the samples that palettes are found on, in pixels.
const (
	filmSample  = 120_000
	frameSample = 20_000
)

// A frame gets colours of its own where those of the film are off by more than this on average (as
// apart counts: five code values), and its own are off by less than so much of that.
const (
	farOff    = 9 * 5 * 5.0
	wellSpent = 0.6
)

// tablesFor returns a palette for each frame: one for all where they have few colours together,
// their own where each has few, else the best 255 of all, or of a frame where those do not suit it.
func tablesFor(parts []part) []*table {
	withClear := len(parts) > 1 || !parts[0].now.Opaque()
	tables := make([]*table, len(parts))
	if all, few := coloursOf(parts, withClear); few {
		one := newTable(all, withClear)
		for i := range tables {
			tables[i] = one
		}
		return tables
	}
	var rest []part
	for i, p := range parts {
		if tables[i] = exact(p); tables[i] == nil {
			rest = append(rest, p)
		}
	}
	if len(rest) == 0 {
		return tables
	}
	shared := newTable(best(sampled(rest, filmSample), room(withClear)), withClear)
	for i, p := range parts {
		if tables[i] == nil {
			tables[i] = better(shared, p, withClear)
		}
	}
	return tables
}

func room(withClear bool) int {
	if withClear {
		return most - 1
	}
	return most
}

// coloursOf are the colours that parts draw, which may be none; false where they are more than a
// palette holds.
func coloursOf(parts []part, withClear bool) ([]pixel, bool) {
	set := newColours(room(withClear))
	for _, p := range parts {
		p.drawn(func(_, _ int, c pixel) { set.add(c) })
		if set.full {
			return nil, false
		}
	}
	return set.all, true
}

// exact is a table of all colours of a part, or nil where they are too many.
func exact(p part) *table {
	if all, few := coloursOf([]part{p}, true); few {
		return newTable(all, true)
	}
	if !p.now.Opaque() || p.disposed {
		return nil
	}
	set := newColours(most)
	for y := p.rect.Min.Y; y < p.rect.Max.Y && !set.full; y++ {
		now := row(p.now, y)
		for x := p.rect.Min.X; x < p.rect.Max.X; x++ {
			set.add(at(now, x))
		}
	}
	if set.full {
		return nil
	}
	return newTable(set.all, false)
}

// better is the shared table, or one of the part's own where that draws it much better.
func better(shared *table, p part, withClear bool) *table {
	sample := sampled([]part{p}, frameSample)
	off := distance(shared, sample)
	if off <= farOff {
		return shared
	}
	own := newTable(best(sample, room(withClear)), withClear)
	if distance(own, sample) < wellSpent*off {
		return own
	}
	return shared
}

// sampled are about so many of the pixels that parts draw, from all over them.
func sampled(parts []part, about int) (some []pixel) {
	all := 0
	for _, p := range parts {
		p.drawn(func(int, int, pixel) { all++ })
	}
	every, n := max(1, all/about), 0
	for _, p := range parts {
		p.drawn(func(_, _ int, c pixel) {
			if n++; n%every == 0 {
				some = append(some, c)
			}
		})
	}
	return some
}

// best are the colours, so many at most, that show some pixels best.
func best(pixels []pixel, most int) []pixel {
	m := image.NewNRGBA(image.Rect(0, 0, len(pixels), 1))
	for x, c := range pixels {
		set(m.Pix, x, c)
	}
	found := newColours(most)
	for _, c := range median.Quantizer(most).Quantize(make(color.Palette, 0, most), m) {
		r, g, b, _ := c.RGBA()
		found.add(pixel{byte(r >> 8), byte(g >> 8), byte(b >> 8), 255})
	}
	for range moves {
		found = centred(found.all, pixels)
	}
	return found.all
}

// moves is how often the colours of a palette are moved to the middle of what they stand for (S.
// Lloyd, "Least squares quantization in PCM", 1982): more than this gains little.
const moves = 3

// centred moves each colour to the middle of the pixels that are nearest to it.
func centred(all, pixels []pixel) *colours {
	type sum struct{ r, g, b, n int }
	sums := make([]sum, len(all))
	m := newMixes(all)
	for _, c := range pixels {
		s := &sums[m.nearest(int(c[0]), int(c[1]), int(c[2]))]
		s.r, s.g, s.b, s.n = s.r+int(c[0]), s.g+int(c[1]), s.b+int(c[2]), s.n+1
	}
	found := newColours(len(all))
	for i, s := range sums {
		c := all[i]
		if s.n > 0 {
			c = pixel{byte((s.r + s.n/2) / s.n), byte((s.g + s.n/2) / s.n), byte((s.b + s.n/2) / s.n), 255}
		}
		found.add(c)
	}
	return found
}

// distance is how far off a table draws pixels on average, as apart counts.
func distance(t *table, pixels []pixel) float64 {
	m, sum := newMixes(t.colours[:len(t.index)]), 0
	for _, c := range pixels {
		sum += apart(c, t.colours[m.nearest(int(c[0]), int(c[1]), int(c[2]))])
	}
	return float64(sum) / float64(max(1, len(pixels)))
}

// colours is a set of colours up to a number.
type colours struct {
	all  []pixel
	has  map[pixel]bool
	room int
	full bool // there were more
}

func newColours(room int) *colours { return &colours{has: map[pixel]bool{}, room: room} }

func (s *colours) add(c pixel) {
	switch {
	case c[3] == 0 || s.full || s.has[c]:
	case len(s.all) == s.room:
		s.full = true
	default:
		s.has[c] = true
		s.all = append(s.all, c)
	}
}
