package motion

import "slices"

// A colour that the palette does not have is mixed from those that it has, over four by four
// pixels, in an order that is fixed to the canvas (ordered dithering after B. Bayer, "An optimum
// method for two-level rendition of continuous-tone pictures", 1973; the mixing after T. Knoll, US
// patent 6,606,166, which has run out). Error diffusion would give each frame another pattern.
const side = 4

// order is in which order the places of a pattern get the lighter of what is mixed (Bayer).
var order = [side][side]uint8{{0, 8, 2, 10}, {12, 4, 14, 6}, {3, 11, 1, 9}, {15, 7, 13, 5}}

// strength is how much of what a colour is off the next one makes good: less than all, as a
// pattern costs bytes and is seen.
const strength = 0.5

// nearEnough is how far off a colour of the palette may be that is drawn alone, as apart counts: four
// code values.
const nearEnough = 9 * 4 * 4

// keyBits is to how many bits of each channel colours are told apart when they are mixed.
const keyBits = 6

// mix are the indices that a colour is mixed from, from dark to light.
type mix [side * side]uint8

// mixes knows what colours are mixed from.
type mixes struct {
	colours []pixel
	near    []uint16        // nearest index and 1, by the key of a colour
	known   map[uint32]*mix // by the key
}

func newMixes(colours []pixel) *mixes {
	return &mixes{colours: colours, near: make([]uint16, 1<<(3*keyBits)), known: map[uint32]*mix{}}
}

func key(r, g, b int) uint32 {
	return uint32(r>>(8-keyBits)<<(2*keyBits) | g>>(8-keyBits)<<keyBits | b>>(8-keyBits))
}

// middle is the colour in the middle of those with a key.
func middle(k uint32) pixel {
	channel := func(shift int) byte { return byte(k>>shift)<<(8-keyBits) | 1<<(7-keyBits) }
	return pixel{channel(2 * keyBits), channel(keyBits), channel(0)}
}

// at is the index for a colour at a place of the canvas.
func (m *mixes) at(c pixel, x, y int) uint8 {
	k := key(int(c[0]), int(c[1]), int(c[2]))
	of, ok := m.known[k]
	if !ok {
		of = m.mix(middle(k))
		m.known[k] = of
	}
	return of[order[y%side][x%side]]
}

// mix finds what a colour is mixed from.
func (m *mixes) mix(c pixel) *mix {
	var of mix
	if one := m.nearest(int(c[0]), int(c[1]), int(c[2])); apart(c, m.colours[one]) <= nearEnough {
		for i := range of {
			of[i] = one
		}
		return &of
	}
	var off [3]float64
	for i := range of {
		var want [3]int
		for k := range want {
			want[k] = min(max(int(float64(c[k])+strength*off[k]+0.5), 0), 255)
		}
		of[i] = m.nearest(want[0], want[1], want[2])
		for k, v := range m.colours[of[i]][:3] {
			off[k] += float64(c[k]) - float64(v)
		}
	}
	slices.SortFunc(of[:], func(a, b uint8) int { return luma(m.colours[a]) - luma(m.colours[b]) })
	return &of
}

// nearest is the index of the colour that is nearest to one.
func (m *mixes) nearest(r, g, b int) uint8 {
	k := key(r, g, b)
	if n := m.near[k]; n > 0 {
		return uint8(n - 1)
	}
	c := middle(k)
	best, least := 0, 1<<30
	for i, p := range m.colours {
		if d := apart(c, p); d < least {
			best, least = i, d
		}
	}
	m.near[k] = uint16(best + 1)
	return uint8(best)
}

// apart is nine times how far two colours are apart, squared: green counts most and red least, about
// as eyes see them (common practice). Greys that are n code values apart are 9 n² apart.
func apart(a, b pixel) int {
	r, g, bl := int(a[0])-int(b[0]), int(a[1])-int(b[1]), int(a[2])-int(b[2])
	return 2*r*r + 4*g*g + 3*bl*bl
}

// luma is a thousand times 0.299 R + 0.587 G + 0.114 B (ITU-T T.871).
func luma(c pixel) int { return 299*int(c[0]) + 587*int(c[1]) + 114*int(c[2]) }
