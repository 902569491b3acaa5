package veil

import (
	"image"
	"math"
)

// Rows gives one row of a picture in linear light: the pixels from x0 to x1 of
// row y, with as many channels as the canvas has (with alpha: premultiplied).
type Rows func(dst []float32, y, x0, x1 int)

// Canvas is a decoded picture that veils are drawn on.
type Canvas struct {
	Bounds   image.Rectangle
	Channels int // 3, or 4 with alpha
	Traces   Traces
	Light    func([3]uint8) [3]float32  // what an sRGB colour is in the picture's own linear light
	SRGB     func([]float32) [3]float64 // and back: code values from 0 to 1
}

// light is an sRGB colour with all channels of the canvas.
func (on Canvas) light(c [3]uint8) []float32 {
	px := []float32{0, 0, 0, 1}[:on.Channels]
	l := on.Light(c)
	copy(px, l[:])
	return px
}

// Layer is a group of veils that touch, made ready for one picture. It holds nothing
// of what they hide.
type Layer struct {
	regions []region
	ground  *ground
	colours [][]float32 // by region: of a colour; nil for others
	told    [][]float32 // by region: the light of its coarse colours; nil for none
	reach   image.Rectangle
	ch      int
}

// Make makes veils ready for a picture. Those that overlap or touch act as one. What
// lies outside the picture hides nothing.
func Make(veils []Veil, on Canvas, read Rows) []*Layer {
	var all []region
	for _, v := range veils {
		if r := v.region(on.Bounds, on.Traces); !r.box.Empty() {
			all = append(all, r)
		}
	}
	var layers []*Layer
	for _, group := range touching(all) {
		l := &Layer{regions: group, ground: newGround(group, all, on, read), ch: on.Channels}
		for _, r := range group {
			l.reach = l.reach.Union(r.reach())
			var colour []float32
			if r.veil.Style == Colour {
				c, _ := rgb(r.veil.Fill)
				colour = on.light(c)
			}
			l.colours, l.told = append(l.colours, colour), append(l.told, r.veil.Told.light(on))
		}
		layers = append(layers, l)
	}
	return layers
}

// touching parts regions into groups that reach into each other.
func touching(all []region) [][]region {
	var groups [][]region
	for _, r := range all {
		group := []region{r}
		rest := groups[:0:0]
		for _, g := range groups {
			if !reaches(g, r) {
				rest = append(rest, g)
				continue
			}
			group = append(g, group...)
		}
		groups = append(rest, group)
	}
	return groups
}

func reaches(group []region, r region) bool {
	for _, o := range group {
		if o.reach().Overlaps(r.reach()) {
			return true
		}
	}
	return false
}

// Touches reports whether a veil or its rim reaches a row.
func (l *Layer) Touches(y int) bool { return y >= l.reach.Min.Y && y < l.reach.Max.Y }

// Draw hides the regions in one row of light: the pixels from x0 on. Inside a region
// nothing of the picture stays; the rim outside fades into it.
func (l *Layer) Draw(line []float32, y, x0 int) {
	from, to := max(x0, l.reach.Min.X), min(x0+len(line)/l.ch, l.reach.Max.X)
	covers := make([]float32, len(l.regions))
	ground := make([]float32, l.ch)
	for x := from; x < to; x++ {
		most := float32(0)
		for i := range l.regions {
			covers[i] = l.regions[i].cover(x, y)
			most = max(most, covers[i])
		}
		if most == 0 {
			continue
		}
		px := line[(x-x0)*l.ch : (x-x0+1)*l.ch]
		l.ground.at(ground, x, y)
		mix(px, ground, most)
		for i, c := range covers {
			switch {
			case c == 0:
			case l.regions[i].veil.Style == Colour:
				mix(px, l.colours[i], c)
			case l.regions[i].veil.Style == Figure:
				l.figure(px, ground, i, x, y, c)
			}
		}
	}
}

// mix covers px with v. What is covered wholly leaves nothing, whatever it was.
func mix(px, v []float32, cover float32) {
	if cover >= 1 {
		copy(px, v)
		return
	}
	for c := range px {
		px[c] += cover * (v[c] - px[c])
	}
}

// figure draws the soft shape that stands for somebody, and the coarse colours that
// were kept. Both follow from the outline, the ground and what the veil tells.
func (l *Layer) figure(px, ground []float32, i, x, y int, cover float32) {
	v := l.regions[i].veil
	b := v.Box()
	nx := (float64(x)+0.5-float64(b.Min.X))/float64(b.Dx())*2 - 1
	ny := (float64(y)+0.5-float64(b.Min.Y))/float64(b.Dy())*2 - 1
	r := float32(math.Hypot(nx, ny))
	if l.told[i] != nil {
		t := v.Told
		told := make([]float32, l.ch)
		blend(told, l.told[i], t.Cols, t.Rows, float32(nx+1)/2*float32(t.Cols)-0.5, float32(ny+1)/2*float32(t.Rows)-0.5)
		mix(px, told, cover*0.85*smooth(1.05, 0.7, r))
		return
	}
	sum := float32(0)
	for c := range 3 {
		sum += ground[c]
	}
	tone := make([]float32, l.ch)
	copy(tone, ground)
	for c := range 3 {
		if sum > 0.5 { // a light ground
			tone[c] *= 0.5
		} else {
			tone[c] += 0.07
		}
	}
	mix(px, tone, cover*smooth(1, 0.45, r))
}

// smooth rises from 0 at from to 1 at to, without corners.
func smooth(from, to, v float32) float32 {
	t := min(max((v-from)/(to-from), 0), 1)
	return t * t * (3 - 2*t)
}
