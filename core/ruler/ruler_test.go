package ruler_test

import (
	"image"
	"image/color"
	"image/draw"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"mivlet/core/ruler"
)

// paper is a white screenshot with boxes of noise on it, as photos are.
func paper(w, h int, boxes ...image.Rectangle) *image.RGBA {
	m := image.NewRGBA(image.Rect(0, 0, w, h))
	draw.Draw(m, m.Rect, image.White, image.Point{}, draw.Src)
	noise := rand.New(rand.NewPCG(1, 2))
	for _, b := range boxes {
		for y := b.Min.Y; y < b.Max.Y; y++ {
			for x := b.Min.X; x < b.Max.X; x++ {
				m.SetRGBA(x, y, color.RGBA{uint8(60 + noise.IntN(90)), uint8(90 + noise.IntN(60)), uint8(120 + noise.IntN(40)), 255})
			}
		}
	}
	return m
}

func TestSnappingToTheEdgeOfAPicture(t *testing.T) {
	s := ruler.Read(paper(800, 600, image.Rect(101, 150, 551, 450)))
	assert.Equal(t, 101, s.Snap(97, 300, 8, true))
	assert.Equal(t, 551, s.Snap(556, 300, 8, true))
	assert.Equal(t, 150, s.Snap(147, 300, 8, false))
	assert.Equal(t, 40, s.Snap(40, 300, 8, true), "where nothing is, it stays")
	assert.Equal(t, 97, s.Snap(97, 20, 8, true), "the line does not reach there")
}

func TestFindingAColumn(t *testing.T) {
	s := ruler.Read(paper(1280, 900, image.Rect(300, 100, 940, 520), image.Rect(300, 560, 940, 860), image.Rect(980, 100, 1200, 300)))
	found := s.Columns(1)
	require.NotEmpty(t, found)
	assert.Equal(t, 640, found[0].Width(), "the one that is filled twice comes first")
	assert.Equal(t, 300, found[0].Left)
	widths := []int{}
	for _, c := range found {
		widths = append(widths, c.Width())
	}
	assert.Contains(t, widths, 220)
}

func TestNothingIsProposedOnEmptyPaper(t *testing.T) {
	assert.Empty(t, ruler.Read(paper(400, 300)).Columns(1))
	assert.Empty(t, ruler.Read(paper(1, 1)).Columns(1))
}

// A reading of 640 CSS px: 640 at 1x, 1280 at 2x, and a buffer on top.
func TestWhatALengthNeeds(t *testing.T) {
	l := ruler.Between(1600, 320, 2)
	assert.Equal(t, 1280, l.Device)
	assert.Equal(t, 640.0, l.CSS)
	assert.Equal(t, 640, l.Needs(1, 0))
	assert.Equal(t, 1280, l.Needs(2, 0))
	assert.Equal(t, 1680, l.Needs(2, 200))
	assert.Equal(t, 1618, ruler.Between(0, 809, 1).Needs(2, 0), "809 wide at density 2: 1,618 px (worked by hand)")
}

func TestScaleFromAKnownWidth(t *testing.T) {
	assert.Equal(t, 2.0, ruler.ScaleFrom(1281, 640))
	assert.Equal(t, 1.0, ruler.ScaleFrom(450, 450))
	assert.Equal(t, 1.1, ruler.ScaleFrom(1100, 1000))
	assert.Equal(t, 1.0, ruler.ScaleFrom(1100, 0))
}

// Wherever a picture stands, both of its edges are found to the pixel.
func TestEdgesAreExact(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		left, width := rapid.IntRange(20, 200).Draw(t, "left"), rapid.IntRange(130, 500).Draw(t, "width")
		s := ruler.Read(paper(760, 300, image.Rect(left, 40, left+width, 240)))
		off := rapid.IntRange(-6, 6).Draw(t, "off")
		if got := s.Snap(left+off, 120, 8, true); got != left {
			t.Fatalf("left edge at %d, found %d", left, got)
		}
		if got := s.Snap(left+width+off, 120, 8, true); got != left+width {
			t.Fatalf("right edge at %d, found %d", left+width, got)
		}
		if c := s.Columns(1); len(c) == 0 || c[0].Width() != width {
			t.Fatalf("a column of %d, found %v", width, c)
		}
	})
}
