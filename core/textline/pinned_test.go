package textline_test

import (
	"image"
	"image/color"
	"image/draw"
	"math/rand/v2"
	"testing"

	"golang.org/x/image/font"
	"golang.org/x/image/font/gofont/gobold"
	"golang.org/x/image/font/gofont/gomono"
	"golang.org/x/image/font/gofont/goregular"
	"golang.org/x/image/font/opentype"
	"golang.org/x/image/math/fixed"

	"mivlet/core/textline"
	"mivlet/internal/pinned"
)

// scrap is a small picture by chance: words of unlike size, ink and spacing, strokes that are
// nearly letters, and specks.
func scrap(t *testing.T, seed uint64) *image.RGBA {
	t.Helper()
	n := rand.New(rand.NewPCG(seed, 21))
	w, h := 110+n.IntN(170), 70+n.IntN(110)
	m := image.NewRGBA(image.Rect(0, 0, w, h))
	ground := uint8(n.IntN(256))
	draw.Draw(m, m.Rect, image.NewUniform(color.Gray{ground}), image.Point{}, draw.Src)
	ink := func() color.Color {
		if n.IntN(3) == 0 {
			return color.RGBA{uint8(n.IntN(256)), uint8(n.IntN(256)), uint8(n.IntN(256)), 255}
		}
		return color.Gray{ground + 12 + uint8(n.IntN(230))}
	}
	for range 1 + n.IntN(3) {
		switch n.IntN(4) {
		case 0: // strokes in a row, more or less even
			x, y, high, wide, apart := 3+n.IntN(30), 5+n.IntN(h-30), 5+n.IntN(26), 1+n.IntN(7), 1+n.IntN(16)
			c := ink()
			for range 2 + n.IntN(9) {
				draw.Draw(m, image.Rect(x, y+n.IntN(4), x+wide+n.IntN(4), y+high+n.IntN(4)), image.NewUniform(c), image.Point{}, draw.Src)
				x += wide + apart + n.IntN(5)
				y += n.IntN(3) - 1
			}
		case 1:
			c := ink()
			for range 60 {
				m.Set(n.IntN(w), n.IntN(h), c)
			}
		default:
			parsed, err := opentype.Parse([][]byte{goregular.TTF, gobold.TTF, gomono.TTF}[n.IntN(3)])
			if err != nil {
				t.Fatal(err)
			}
			face, err := opentype.NewFace(parsed, &opentype.FaceOptions{Size: 7 + 34*n.Float64(), DPI: 72})
			if err != nil {
				t.Fatal(err)
			}
			texts := append(append([]string{"I", "ill", "--- -- -", "oOo", ". . .", "WWW"}, short...), sentences...)
			d := font.Drawer{Dst: m, Src: image.NewUniform(ink()), Face: face, Dot: fixed.P(2+n.IntN(40), 20+n.IntN(h-20))}
			d.DrawString(texts[n.IntN(len(texts))])
		}
	}
	return m
}

// What is seen on scraps by chance, and which lines stand in columns, stays as it was.
func TestScrapsByChance(t *testing.T) {
	t.Parallel()
	pinned.Hold(t, "scraps", 220, func(seed uint64) any { return textline.Find(scrap(t, seed)) })
	pinned.Hold(t, "columns", 200, func(seed uint64) any {
		n := rand.New(rand.NewPCG(seed, 22))
		var lines []textline.Line
		for range 2 + n.IntN(14) {
			x, y := 40*n.IntN(5)+n.IntN(9), 14*n.IntN(16)+n.IntN(4)
			lines = append(lines, textline.Line{Bounds: image.Rect(x, y, x+30+n.IntN(50), y+8+n.IntN(9)), Height: 6 + n.IntN(6)})
		}
		return textline.Columns(lines)
	})
}
