package textline_test

import (
	"fmt"
	"image"
	"image/color"
	"image/draw"
	"math"
	"math/rand/v2"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	scaled "golang.org/x/image/draw"
	"golang.org/x/image/font"
	"golang.org/x/image/font/gofont/gobold"
	"golang.org/x/image/font/gofont/gomono"
	"golang.org/x/image/font/gofont/goregular"
	"golang.org/x/image/font/opentype"
	"golang.org/x/image/math/f64"
	"golang.org/x/image/math/fixed"

	"mivlet/core/textline"
)

// page is a kind of generated page: on what, with what, how high and how far turned.
type page struct {
	name        string
	ground, ink color.RGBA
	size        float64 // of the letters, in pixels from line to line
	degrees     float64
	texts       []string
}

var sentences = []string{"The juniors meet at the jetty", "Boats go back on the rack", "Bring a dry jumper", "Ring 01632 960417 before noon", "Saturday 7 November", "AB 1234 C", "odo@brindlemere.example", "Ines Varrow", "K1 500 m"}
var short = []string{"12", "48", "OK", "Yes", "No 7", "3b", "A1"}

// drawn is the page with its lines and where they stand: the box around the ink of each.
func (p page) drawn(t *testing.T, seed uint64) (*image.RGBA, []image.Rectangle) {
	t.Helper()
	dice := rand.New(rand.NewPCG(seed, 9))
	const w, h = 1000, 800
	flat := image.NewRGBA(image.Rect(0, 0, w, h))
	draw.Draw(flat, flat.Rect, image.NewUniform(p.ground), image.Point{}, draw.Src)
	var boxes []image.Rectangle
	fonts := [][]byte{goregular.TTF, gobold.TTF, gomono.TTF}
	for y := 120.0; y < h-110; y += 3 * p.size {
		for x := 110.0; x < w-160; {
			parsed, err := opentype.Parse(fonts[dice.IntN(len(fonts))])
			require.NoError(t, err)
			face, err := opentype.NewFace(parsed, &opentype.FaceOptions{Size: p.size, DPI: 72})
			require.NoError(t, err)
			text := p.texts[dice.IntN(len(p.texts))]
			ink, advance := font.BoundString(face, text)
			if x+float64(advance.Ceil()) > w-110 {
				break
			}
			d := font.Drawer{Dst: flat, Src: image.NewUniform(p.ink), Face: face, Dot: fixed.P(int(x), int(y))}
			d.DrawString(text)
			boxes = append(boxes, image.Rect(int(x)+ink.Min.X.Floor(), int(y)+ink.Min.Y.Floor(), int(x)+ink.Max.X.Ceil(), int(y)+ink.Max.Y.Ceil()))
			x += float64(advance.Ceil()) + 6*p.size
		}
	}
	if p.degrees == 0 {
		return flat, boxes
	}
	turned := image.NewRGBA(flat.Rect)
	draw.Draw(turned, turned.Rect, image.NewUniform(p.ground), image.Point{}, draw.Src)
	sin, cos := math.Sincos(p.degrees * math.Pi / 180)
	to := f64.Aff3{cos, -sin, w/2 - cos*w/2 + sin*h/2, sin, cos, h/2 - sin*w/2 - cos*h/2}
	scaled.BiLinear.Transform(turned, to, flat, flat.Rect, draw.Src, nil)
	for i, b := range boxes {
		var r image.Rectangle
		for _, c := range []image.Point{b.Min, {X: b.Max.X, Y: b.Min.Y}, {X: b.Min.X, Y: b.Max.Y}, b.Max} {
			x, y := to[0]*float64(c.X)+to[1]*float64(c.Y)+to[2], to[3]*float64(c.X)+to[4]*float64(c.Y)+to[5]
			at := image.Rect(int(x), int(y), int(x)+1, int(y)+1)
			if r.Empty() {
				r = at
			} else {
				r = r.Union(at)
			}
		}
		boxes[i] = r
	}
	return turned, boxes
}

// covered is how many of the boxes the lines cover to nine tenths.
func covered(lines []textline.Line, boxes []image.Rectangle) int {
	n := 0
	for _, b := range boxes {
		in := 0
		for y := b.Min.Y; y < b.Max.Y; y++ {
			for x := b.Min.X; x < b.Max.X; x++ {
				for _, l := range lines {
					if image.Pt(x, y).In(l.Bounds) {
						in++
						break
					}
				}
			}
		}
		if in*10 >= 9*b.Dx()*b.Dy() {
			n++
		}
	}
	return n
}

func grey(v uint8) color.RGBA { return color.RGBA{v, v, v, 255} }

// The pages have known lines: at least 95 in a hundred are covered.
func TestLinesOnPages(t *testing.T) {
	t.Parallel()
	if testing.Short() {
		t.Skip("slow")
	}
	white, black := grey(255), grey(0)
	var kinds []page
	for _, size := range []float64{12, 16, 24, 40} {
		kinds = append(kinds,
			page{"black on white", white, black, size, 0, sentences}, page{"white on dark", grey(40), grey(240), size, 0, sentences},
			page{"150 on 200", grey(200), grey(150), size, 0, sentences}, page{"short words", white, grey(30), size, 0, short},
			page{"one lightness, another hue", color.RGBA{205, 90, 90, 255}, color.RGBA{60, 150, 60, 255}, size, 0, sentences})
		for _, degrees := range []float64{-10, -5, -2, 2, 5, 10} {
			kinds = append(kinds, page{"turned", white, grey(20), size, degrees, sentences})
		}
	}
	all, hits := 0, 0
	for i, k := range kinds {
		m, boxes := k.drawn(t, uint64(i))
		n := covered(textline.Find(m), boxes)
		all, hits = all+len(boxes), hits+n
		t.Logf("%-28s %2.0f px %3.0f°: %d of %d", k.name, k.size, k.degrees, n, len(boxes))
		assert.LessOrEqual(t, len(boxes)-n, max(1, len(boxes)/10), "%s, %v px, turned by %v°", k.name, k.size, k.degrees)
	}
	t.Logf("%d of %d lines", hits, all)
	assert.GreaterOrEqual(t, hits*100, all*95)
}

// Photos without text: at most one line is taken for one in each.
func TestPhotosWithoutText(t *testing.T) {
	t.Parallel()
	if testing.Short() {
		t.Skip("slow")
	}
	photos, err := filepath.Glob("../../demo/pictures/*.JPG")
	require.NoError(t, err)
	more, err := filepath.Glob("../face/reference/node_modules/@vladmandic/face-api/demo/sample*.jpg")
	require.NoError(t, err)
	require.Len(t, more, 6, "scripts/test fetches them")
	wrong, seen := 0, 0
	for _, name := range append(photos, more...) {
		if strings.HasSuffix(name, "P1040877.JPG") { // the notice board is full of text
			continue
		}
		seen++
		found := textline.Find(looked(t, name))
		wrong += len(found)
		var said []string
		for _, l := range found {
			said = append(said, fmt.Sprintf("%v %.2f", l.Bounds, l.Score))
		}
		t.Logf("%s: %d %v", filepath.Base(name), len(found), said)
		assert.LessOrEqual(t, len(found), 1, "%s: %v", filepath.Base(name), said)
	}
	t.Logf("%d in %d photos", wrong, seen)
}

// The notice board was photographed at an angle, with shadows: its lines are found all the
// same.
func TestLinesInAPhoto(t *testing.T) {
	t.Parallel()
	found := textline.Find(looked(t, "../../demo/pictures/P1040877.JPG"))
	assert.GreaterOrEqual(t, len(found), 7, "of eleven: %v", found)
}

func BenchmarkFind(b *testing.B) {
	m := image.NewRGBA(image.Rect(0, 0, 1600, 1067))
	dice := rand.New(rand.NewPCG(2, 2))
	for i := range m.Pix {
		m.Pix[i] = uint8(100 + dice.IntN(30) + i/4%1600/20)
	}
	for b.Loop() {
		textline.Find(m)
	}
}
