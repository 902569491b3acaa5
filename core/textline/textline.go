// Package textline finds lines of text in a picture by their structure alone: it
// reads nothing. Strokes of one thickness hang together in signs of about one height,
// which follow each other along a straight line on an even ground.
//
// The picture is looked at by its lightness and by its colours, in three sizes, for ink
// darker and lighter than its surroundings. What hangs together is gathered into signs
// and those into chains; a chain is a line of text where it looks like one (connected
// components of character candidates: Epshtein, Ofek, Wexler, "Detecting Text in Natural
// Scenes with Stroke Width Transform", CVPR 2010, in its chaining; memory).
package textline

import (
	"cmp"
	"image"
	"math"
	"slices"
	"sync"
)

// Recognition is what a program read in a picture: a line and where it stands.
type Recognition struct {
	Bounds image.Rectangle
	Text   string
}

// Line is a line of text.
type Line struct {
	Bounds  image.Rectangle
	Figures bool    // its signs are all of one height, as those of numbers are
	Score   float64 // from 0 to 1: how much it looks like a line
	Height  int     // of its signs, in pixels
}

// Find returns the lines of text in a picture, from top to bottom. Text that is turned by
// more than ten degrees, or stands on a busy ground, is not found.
func Find(m image.Image) []Line {
	ways := planes(m)
	seen := make([][]Line, len(ways))
	var wg sync.WaitGroup
	for i, p := range ways {
		wg.Go(func() { seen[i] = p.lines() })
	}
	wg.Wait()
	var found []Line
	for _, l := range slices.Concat(seen...) {
		found = add(found, l)
	}
	slices.SortFunc(found, func(a, b Line) int {
		return cmp.Or(cmp.Compare(a.Bounds.Min.Y, b.Bounds.Min.Y), cmp.Compare(a.Bounds.Min.X, b.Bounds.Min.X))
	})
	return found
}

// lines are those of one way to look at the picture, in its three sizes.
func (p plane) lines() []Line {
	var found []Line
	for scale := 1; scale <= 4 && p.w > 2*around && p.h > around; scale *= 2 {
		for _, mask := range p.masks() {
			for _, c := range chains(p.signs(mask)) {
				if l, ok := p.line(c); ok {
					l.Bounds = image.Rectangle{l.Bounds.Min.Mul(scale), l.Bounds.Max.Mul(scale)}
					l.Height *= scale
					found = append(found, l)
				}
			}
		}
		p = p.half()
	}
	return found
}

// add keeps of lines that overlap the longer one.
func add(found []Line, l Line) []Line {
	for i, old := range found {
		both := old.Bounds.Intersect(l.Bounds)
		if area(both) > min(area(old.Bounds), area(l.Bounds))/2 {
			if l.Bounds.Dx() > old.Bounds.Dx() && l.Bounds.Dy() <= old.Bounds.Dy()*3/2 {
				found[i] = l
			}
			return found
		}
	}
	return append(found, l)
}

func area(r image.Rectangle) int { return r.Dx() * r.Dy() }

// features are what a chain is judged by.
type features struct {
	n        int     // signs
	long     float64 // in heights
	slope    float64
	off      float64 // of the feet from a straight line, in heights
	uneven   float64 // of the strokes: how much their thickness varies
	ragged   float64 // of the heights of the signs
	contrast float64 // between ink and ground, of 255
	spread   float64 // of the ground, for each step of contrast
	covered  float64 // of the length by signs
	thick    float64 // of the strokes, in heights
	sharp    float64 // how steep the edges are, for each step of contrast
	mixed    float64 // how much the ink varies from sign to sign, for each step of contrast
	high     float64
}

func (p plane) features(c chain) features {
	b := c.bounds()
	f := features{n: len(c), high: median(c.of(func(s sign) float64 { return float64(s.box.Dy()) }))}
	f.long = float64(b.Dx()) / f.high
	f.slope, f.off = c.straight()
	ink := median(c.of(func(s sign) float64 { return s.level }))
	thick := median(c.of(sign.thick))
	steps := 0.0
	for _, s := range c {
		f.uneven += math.Abs(s.thick()-thick) / thick / float64(len(c))
		f.ragged += math.Abs(float64(s.box.Dy())-f.high) / f.high / float64(len(c))
		f.mixed += math.Abs(s.level-ink) / float64(len(c))
		f.covered += float64(s.box.Dx()) / float64(b.Dx())
		steps += p.steps(s) / float64(len(c))
	}
	ground, spread := p.ground(c, b, ink)
	f.contrast = math.Abs(ground - ink)
	over := math.Max(1, f.contrast)
	f.spread, f.sharp, f.mixed, f.thick = spread/over, steps/over, f.mixed/over, thick/f.high
	return f
}

// steps is how much neighbours differ at the left and right edges of a sign, on average over
// its rows: the steepest of each row.
func (p plane) steps(s sign) float64 {
	sum := 0
	for y := s.box.Min.Y; y < s.box.Max.Y; y++ {
		most := 0
		for x := max(1, s.box.Min.X-1); x < min(p.w, s.box.Max.X+2); x++ {
			d := int(p.pix[y*p.w+x]) - int(p.pix[y*p.w+x-1])
			most = max(most, d, -d)
		}
		sum += most
	}
	return float64(sum) / float64(s.box.Dy())
}

// looks reports whether a chain looks like text. The bounds were set on generated pages and
// on photos without text, which pages_test.go repeats: of text the ground between the signs
// varies by a fiftieth of the contrast, in photos by a seventh and more.
func (f features) looks() bool {
	switch {
	case math.Abs(f.slope) > steep || f.off > 0.2 || f.ragged > 0.33 || f.uneven > 0.33:
		return false
	case f.contrast < 14 || f.spread > 0.12 || f.sharp < 0.62 || f.mixed > 0.2:
		return false
	case f.covered < 0.35 || f.thick > 0.42:
		return false
	case f.n == 2: // two signs are a line only where all is as it should be
		return f.long < 3.2 && f.spread < 0.1 && f.sharp > 0.75 && f.uneven < 0.2 && f.ragged < 0.2 && f.off < 0.12
	case f.n < 5:
		return f.spread < 0.09
	}
	return true
}

// line judges whether a chain is a line of text, and gives it room for what its signs leave
// out: points, accents and the ends of strokes.
func (p plane) line(c chain) (Line, bool) {
	f := p.features(c)
	if !f.looks() {
		return Line{}, false
	}
	room := max(2, int(math.Round(0.3*f.high)))
	grown := c.bounds().Inset(-room).Intersect(image.Rect(0, 0, p.w, p.h))
	score := min(1, float64(f.n)/8) * (1 - f.spread) * (1 - f.uneven)
	return Line{grown, c.figures(), score, int(f.high)}, true
}

// ground is the mean of what lies between the signs of a chain, and how much that varies.
// A tenth of it may be ink that is no sign: points, accents, the colon of a time of day.
func (p plane) ground(c chain, b image.Rectangle, ink float64) (mean, spread float64) {
	inside := func(x, y int) bool {
		return slices.ContainsFunc(c, func(s sign) bool { return image.Pt(x, y).In(s.box) })
	}
	wide := b.Inset(-2).Intersect(image.Rect(0, 0, p.w, p.h))
	var all []float64
	step := max(1, area(wide)/4000)
	for i, y := 0, wide.Min.Y; y < wide.Max.Y; y++ {
		for x := wide.Min.X; x < wide.Max.X; x++ {
			if i++; i%step == 0 && !inside(x, y) {
				all = append(all, float64(p.pix[y*p.w+x]))
			}
		}
	}
	if len(all) == 0 {
		return 0, math.Inf(1)
	}
	slices.SortFunc(all, func(a, b float64) int { return cmp.Compare(math.Abs(b-ink), math.Abs(a-ink)) })
	all = all[:len(all)-len(all)/10]
	var sum, square float64
	for _, v := range all {
		sum, square = sum+v, square+v*v
	}
	n := float64(len(all))
	mean = sum / n
	return mean, math.Sqrt(max(0, square/n-mean*mean))
}
