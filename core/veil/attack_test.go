package veil_test

import (
	"bytes"
	"fmt"
	"image"
	"image/color"
	"image/draw"
	"image/jpeg"
	"image/png"
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"golang.org/x/image/font"
	"golang.org/x/image/font/gofont/goregular"
	"golang.org/x/image/font/opentype"
	"golang.org/x/image/math/fixed"

	"mivlet/core/facts"
	"mivlet/core/fit"
	"mivlet/core/raster"
	"mivlet/core/veil"
)

// The attack on hidden numbers, as Hill, Zhou, Saul and Shacham make it (PoPETs
// 2016(4), "On the (In)effectiveness of Mosaicing and Blurring as Tools for Document
// Redaction"), with all that could help: the font, the place to a pixel, the file around
// it and the program that hides are known. Every candidate is drawn, hidden and
// compared with what was published.

// setting is one way in which a number was hidden.
type setting struct {
	height  int  // of the digits, in pixels
	loose   bool // the box leaves room around the text
	lossy   bool // the original is a JPEG
	unknown int  // digits at its end that nobody knows
}

func (s setting) String() string {
	return fmt.Sprintf("%d px, loose %v, jpeg %v, %d digits", s.height, s.loose, s.lossy, s.unknown)
}

// scene is a note with a number, as somebody photographed or saved it. It returns where
// the number stands.
func (s setting) scene(t testing.TB, number string) (image.Image, image.Rectangle) {
	t.Helper()
	parsed, err := opentype.Parse(goregular.TTF)
	require.NoError(t, err)
	face, err := opentype.NewFace(parsed, &opentype.FaceOptions{Size: float64(s.height) / 0.72, DPI: 72})
	require.NoError(t, err)
	defer face.Close()
	w := font.MeasureString(face, number).Ceil()
	m := image.NewRGBA(image.Rect(0, 0, w+4*s.height, 4*s.height))
	grain := rand.New(rand.NewPCG(uint64(s.height), 5))
	for y := range m.Rect.Dy() {
		for x := range m.Rect.Dx() {
			v := uint8(225 - x*30/m.Rect.Dx() + grain.IntN(5))
			m.SetRGBA(x, y, color.RGBA{v, v, v - 12, 255})
		}
	}
	at := image.Pt(2*s.height, 5*s.height/2)
	d := font.Drawer{Dst: m, Src: image.NewUniform(color.RGBA{30, 30, 60, 255}), Face: face, Dot: fixed.P(at.X, at.Y)}
	d.DrawString(number)
	box := image.Rect(at.X, at.Y-s.height-1, at.X+w, at.Y+1)
	if s.loose {
		box = box.Inset(-s.height / 3)
	}
	return m, box
}

// original is the scene as a file, read again.
func (s setting) original(t testing.TB, m image.Image) *raster.Source {
	t.Helper()
	var b bytes.Buffer
	if s.lossy {
		require.NoError(t, jpeg.Encode(&b, m, &jpeg.Options{Quality: 90}))
	} else {
		require.NoError(t, (&png.Encoder{CompressionLevel: png.NoCompression}).Encode(&b, m))
	}
	return decoded(t, b.Bytes())
}

func decoded(t testing.TB, data []byte) *raster.Source {
	t.Helper()
	known, err := facts.Read(bytes.NewReader(data))
	require.NoError(t, err)
	src, err := raster.Decode(bytes.NewReader(data), known, raster.Limits{Side: 1 << 14, Pixels: 1 << 26, Bytes: 1 << 28})
	require.NoError(t, err)
	return src
}

// A hiding makes of a source all the pictures that are published of it.
type hiding func(src *raster.Source, box image.Rectangle) []image.Image

// published hides with a veil and cuts for two slots at two densities.
func published(style veil.Style, cells int) hiding {
	return func(src *raster.Source, box image.Rectangle) []image.Image {
		v := veil.Veil{ID: "a", Shape: veil.Rect, Bounds: box, Style: style, Reason: veil.Number}
		if cells > 0 {
			v.Reason, v.Cells = veil.Face, cells
			v.Told = src.Told(v, []byte("a secret"))
		}
		whole := src.Upright()
		var all []image.Image
		for _, part := range []float64{1, 0.5} {
			size := fit.Size{W: max(1, int(float64(whole.W)*part)), H: max(1, int(float64(whole.H)*part))}
			all = append(all, src.Do(raster.Transform{From: whole.Rect(), Size: size, Turn: facts.Upright, Veils: []veil.Veil{v}}))
		}
		return all
	}
}

// averaged is how hiding is often done: flat cells of the mean of what they hide, rows
// across the line.
func averaged(rows int) hiding {
	return func(src *raster.Source, box image.Rectangle) []image.Image {
		whole := src.Upright()
		m := src.Cut(whole.Rect(), whole).(*image.RGBA)
		cell := max(1, box.Dy()/rows)
		for y := box.Min.Y; y < box.Max.Y; y += cell {
			for x := box.Min.X; x < box.Max.X; x += cell {
				part := image.Rect(x, y, x+cell, y+cell).Intersect(box)
				var sum [3]int
				for py := part.Min.Y; py < part.Max.Y; py++ {
					for px := part.Min.X; px < part.Max.X; px++ {
						c := m.RGBAAt(px, py)
						sum[0], sum[1], sum[2] = sum[0]+int(c.R), sum[1]+int(c.G), sum[2]+int(c.B)
					}
				}
				n := max(1, part.Dx()*part.Dy())
				draw.Draw(m, part, image.NewUniform(color.RGBA{uint8(sum[0] / n), uint8(sum[1] / n), uint8(sum[2] / n), 255}), image.Point{}, draw.Src)
			}
		}
		return []image.Image{m}
	}
}

// squeezed publishes as JPEG of a quality.
func squeezed(t testing.TB, quality int, hide hiding) hiding {
	return func(src *raster.Source, box image.Rectangle) []image.Image {
		all := hide(src, box)
		for i, m := range all {
			var b bytes.Buffer
			require.NoError(t, jpeg.Encode(&b, m, &jpeg.Options{Quality: quality}))
			back, err := jpeg.Decode(&b)
			require.NoError(t, err)
			rgba := image.NewRGBA(back.Bounds())
			draw.Draw(rgba, rgba.Rect, back, image.Point{}, draw.Src)
			all[i] = rgba
		}
		return all
	}
}

// distance is how far two publications are from each other.
func distance(a, b []image.Image) float64 {
	sum := 0
	for i := range a {
		p, q := a[i].(*image.RGBA).Pix, b[i].(*image.RGBA).Pix
		if bytes.Equal(p, q) {
			continue
		}
		for k := range p {
			d := int(p[k]) - int(q[k])
			sum += d * d
		}
	}
	return float64(sum)
}

// guess returns which candidate is nearest to what was published; of several that are
// equally near, any.
func guess(seen []image.Image, candidates [][]image.Image, dice *rand.Rand) int {
	var best []int
	least := math.Inf(1)
	for i, c := range candidates {
		switch d := distance(seen, c); {
		case d < least:
			least, best = d, []int{i}
		case d == least:
			best = append(best, i)
		}
	}
	return best[dice.IntN(len(best))]
}

const known = "01632 960"

// threeDigits attacks numbers with three unknown digits: of tries numbers, how many
// are the first guess among some candidates.
func threeDigits(t testing.TB, s setting, hide hiding, tries, candidates int) (hits int) {
	dice := rand.New(rand.NewPCG(11, uint64(s.height)))
	numbers := dice.Perm(1000)[:candidates]
	all := make([][]image.Image, candidates)
	for i, n := range numbers {
		m, box := s.scene(t, fmt.Sprintf("%s%03d", known, n))
		all[i] = hide(s.original(t, m), box)
	}
	for range tries {
		truth := dice.IntN(candidates)
		if guess(all[truth], all, dice) == truth {
			hits++
		}
	}
	return hits
}

// sixDigits attacks six unknown digits one after the other, twice over: a digit of its
// own width changes its own place alone.
func sixDigits(t testing.TB, s setting, hide hiding, tries int) (hits int) {
	dice := rand.New(rand.NewPCG(12, uint64(s.height)))
	made := func(digits []byte) []image.Image {
		m, box := s.scene(t, "01632 "+string(digits))
		return hide(s.original(t, m), box)
	}
	for range tries {
		truth := fmt.Appendf(nil, "%06d", dice.IntN(1_000_000))
		seen := made(truth)
		tried := []byte("555555")
		for range 2 {
			for place := range tried {
				var candidates [][]image.Image
				for digit := range 10 {
					next := bytes.Clone(tried)
					next[place] = byte('0' + digit)
					candidates = append(candidates, made(next))
				}
				tried[place] = byte('0' + guess(seen, candidates, dice))
			}
		}
		if bytes.Equal(tried, truth) {
			hits++
		}
	}
	return hits
}

// byChance is the least number of hits in n tries that chance alone reaches less than
// once in ten thousand times (the binomial distribution).
func byChance(n int, p float64) int {
	tail, k := 1.0, 0
	for term := math.Pow(1-p, float64(n)); tail >= 1e-4; k++ {
		tail -= term
		term *= float64(n-k) / float64(k+1) * p / (1 - p)
	}
	return k
}

func TestHiddenNumbersAreGuessedByChanceAlone(t *testing.T) {
	t.Parallel()
	const tries = 50
	for _, height := range []int{12, 24, 60} {
		for _, loose := range []bool{false, true} {
			for _, lossy := range []bool{false, true} {
				if loose && height == 60 || testing.Short() && (height != 24 || loose) {
					continue
				}
				s := setting{height, loose, lossy, 3}
				candidates := min(75, 1500/height)
				bound := byChance(tries, 1/float64(candidates))
				t.Run(s.String(), func(t *testing.T) {
					t.Parallel()
					hits := threeDigits(t, s, published(veil.Cover, 0), tries, candidates)
					t.Logf("%d of %d guessed, %d is the bound", hits, tries, bound)
					assert.Less(t, hits, bound)
				})
			}
		}
	}
	for _, style := range []veil.Style{veil.Colour, veil.Figure} {
		for _, lossy := range []bool{false, true} {
			t.Run(fmt.Sprint(style, lossy), func(t *testing.T) {
				t.Parallel()
				assert.Less(t, threeDigits(t, setting{24, false, lossy, 3}, published(style, 0), tries, 50), byChance(tries, 1.0/50))
			})
		}
	}
	for _, lossy := range []bool{false, true} {
		t.Run(fmt.Sprint("six digits, jpeg ", lossy), func(t *testing.T) {
			t.Parallel()
			assert.Less(t, sixDigits(t, setting{12, false, lossy, 6}, published(veil.Cover, 0), 6), byChance(6, 1e-6))
		})
	}
}

// The attack is worth something: averages of the same numbers give most of them away,
// after a JPEG, too.
func TestAveragesAreGuessedBack(t *testing.T) {
	t.Parallel()
	for name, hide := range map[string]hiding{"one row": averaged(1), "two rows": averaged(2), "two rows, then JPEG": squeezed(t, 75, averaged(2))} {
		t.Run(name, func(t *testing.T) {
			t.Parallel()
			hits := threeDigits(t, setting{24, false, false, 3}, hide, 50, 100)
			t.Logf("%d of 50 guessed", hits)
			assert.Greater(t, hits, 30)
		})
	}
}

// portrait is a made-up face: skin, hair, eyes, a collar, all of its own.
func portrait(n uint64) image.Image {
	dice := rand.New(rand.NewPCG(n, 3))
	tone := func(low, high int) uint8 { return uint8(low + dice.IntN(high-low)) }
	r := tone(90, 240)
	skin := color.RGBA{r, uint8(int(r) * (65 + dice.IntN(20)) / 100), uint8(int(r) * (45 + dice.IntN(25)) / 100), 255}
	hair := color.RGBA{tone(10, 200), tone(10, 140), tone(5, 90), 255}
	collar := color.RGBA{tone(20, 240), tone(20, 240), tone(20, 240), 255}
	long, wide := dice.IntN(60), 34+dice.IntN(14)
	m := image.NewRGBA(image.Rect(0, 0, 240, 240))
	for y := range 240 {
		for x := range 240 {
			dx, dy := float64(x-120), float64(y-110)
			c := color.RGBA{150, 170, 160, 255}
			switch {
			case math.Hypot(dx/float64(wide), dy/52) < 1:
				c = skin
				if math.Hypot((math.Abs(dx)-16)/6, (dy+8)/4) < 1 || math.Hypot(dx/14, (dy-26)/4) < 1 {
					c = color.RGBA{60, 30, 30, 255}
				}
			case math.Hypot(dx/float64(wide+14), (dy+14)/58) < 1 && dy < float64(long):
				c = hair
			case dy > 52 && math.Abs(dx) < 70:
				c = collar
			}
			m.SetRGBA(x, y, c)
		}
	}
	return m
}

// A figure with coarse colours tells some of fifty people apart: how many is told next to
// what it could tell at most, and that several cuts tell no more than one.
func TestWhatCoarseColoursTell(t *testing.T) {
	t.Parallel()
	const people = 50
	box := image.Rect(60, 40, 180, 200)
	var sources []*raster.Source
	for n := range people {
		sources = append(sources, raster.FromImage(portrait(uint64(n))))
	}
	for cells := 1; cells <= veil.MostCells; cells++ {
		v := veil.Veil{Shape: veil.Ellipse, Bounds: box, Style: veil.Figure, Reason: veil.Face, Cells: cells}
		told := func(n int, secret, id string) *veil.Told {
			v.ID = id
			return sources[n].Told(v, []byte(secret))
		}
		// The attacker knows all faces and everything but the secret: which levels each face
		// comes to, over many secrets.
		likely := make([][]([3]float64), people)
		for n := range people {
			for k := range 16 {
				for i, l := range told(n, fmt.Sprint("tried", k), "x").Levels {
					if len(likely[n]) <= i {
						likely[n] = append(likely[n], [3]float64{0.5, 0.5, 0.5})
					}
					likely[n][i][l]++
				}
			}
		}
		hits := 0
		var bits float64
		for n := range people {
			seen := told(n, "the house's own", fmt.Sprint("veil", n))
			v.Told = seen
			bits = v.Bits()
			best, most := -1, math.Inf(-1)
			for other := range people {
				sum := 0.0
				for i, l := range seen.Levels {
					sum += math.Log(likely[other][i][l])
				}
				if sum > most {
					best, most = other, sum
				}
			}
			if best == n {
				hits++
			}
			moved := v
			moved.Bounds = box.Add(image.Pt(1, 0))
			assert.Equal(t, v.Told, told(n, "the house's own", fmt.Sprint("veil", n)), "the same veil tells the same")
		}
		t.Logf("%d across: %d of %d people guessed; it tells %.0f bits at most, and %.1f would do", cells, hits, people, bits, math.Log2(people))
		assert.LessOrEqual(t, float64(hits)/people, math.Min(1, math.Exp2(bits)/people), "more than the bound allows")
	}
}

// Whatever a figure with colours hides, its cuts follow from what it tells alone.
func TestAFigureShowsNoMoreThanItTells(t *testing.T) {
	t.Parallel()
	v := veil.Veil{ID: "a", Shape: veil.Ellipse, Bounds: image.Rect(60, 40, 180, 200), Style: veil.Figure, Reason: veil.Face, Cells: 4}
	a, b := portrait(1), portrait(2).(*image.RGBA)
	draw.Draw(b, b.Rect, a, image.Point{}, draw.Src)
	draw.Draw(b, image.Rect(90, 70, 150, 170), portrait(2), image.Pt(90, 70), draw.Src) // another face in the same place
	v.Told = raster.FromImage(a).Told(v, []byte("s"))
	w := raster.Transform{From: a.Bounds(), Size: fit.Size{W: 120, H: 120}, Turn: facts.Upright, Veils: []veil.Veil{v}}
	assert.Equal(t, raster.FromImage(a).Do(w), raster.FromImage(b).Do(w))
	w.Veils = nil
	assert.NotEqual(t, raster.FromImage(a).Do(w), raster.FromImage(b).Do(w))
}
