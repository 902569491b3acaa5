package ruler_test

import (
	"image"
	"image/color"
	"image/draw"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/ruler"
)

// sheet is white paper with flat boxes of a grey.
func sheet(w, h int, grey uint8, boxes ...image.Rectangle) *image.RGBA {
	m := image.NewRGBA(image.Rect(0, 0, w, h))
	draw.Draw(m, m.Rect, image.White, image.Point{}, draw.Src)
	for _, b := range boxes {
		draw.Draw(m, b, image.NewUniform(color.Gray{grey}), image.Point{}, draw.Src)
	}
	return m
}

// text draws lines of words: dark strokes of four px, six apart, in rows of ten px.
func text(m *image.RGBA, at image.Rectangle) { inkedText(m, at, 20) }

// inkedText is text in a grey.
func inkedText(m *image.RGBA, at image.Rectangle, grey uint8) {
	for y := at.Min.Y; y+10 <= at.Max.Y; y += 16 {
		for x := at.Min.X; x+4 <= at.Max.X; x += 10 {
			draw.Draw(m, image.Rect(x, y, x+4, y+10), image.NewUniform(color.Gray{grey}), image.Point{}, draw.Src)
		}
	}
}

// places are columns by their edges.
func places(all []ruler.Column) (out [][2]int) {
	for _, c := range all {
		out = append(out, [2]int{c.Left, c.Right})
	}
	return out
}

// All four lines of a box are found with their beginnings and ends, to the pixel.
func TestLinesOfABox(t *testing.T) {
	s := ruler.Read(sheet(400, 300, 100, image.Rect(50, 60, 250, 220)))
	require.Len(t, s.Upright(), 2)
	require.Len(t, s.Level(), 2)
	for i, at := range []int{50, 250} {
		l := s.Upright()[i]
		assert.Equal(t, []int{at, 60, 220, 160}, []int{l.At, l.From, l.To, l.Length()})
	}
	for i, at := range []int{60, 220} {
		l := s.Level()[i]
		assert.Equal(t, []int{at, 50, 250, 200}, []int{l.At, l.From, l.To, l.Length()})
	}
	shifted := sheet(400, 300, 100, image.Rect(50, 60, 250, 220)).SubImage(image.Rect(20, 30, 400, 300))
	assert.Equal(t, 30, ruler.Read(shifted).Upright()[0].At, "places are counted from the picture's own corner")
}

// A step of eight levels of grey is a line, one of seven is none; sixteen px are long
// enough; a gap of two px is bridged, one of three is not.
func TestWhatCountsAsALine(t *testing.T) {
	lines := func(m image.Image) int { return len(ruler.Read(m).Upright()) }
	assert.Equal(t, 2, lines(sheet(100, 100, 247, image.Rect(20, 20, 80, 80))), "eight levels")
	assert.Zero(t, lines(sheet(100, 100, 248, image.Rect(20, 20, 80, 80))), "seven levels")
	assert.Equal(t, 2, lines(sheet(100, 100, 0, image.Rect(20, 20, 80, 36))))
	assert.Zero(t, lines(sheet(100, 100, 0, image.Rect(20, 20, 80, 35))))
	assert.Equal(t, 2, lines(sheet(100, 100, 0, image.Rect(20, 20, 80, 40), image.Rect(20, 42, 80, 62))), "a gap of two")
	assert.Equal(t, 4, lines(sheet(100, 100, 0, image.Rect(20, 20, 80, 40), image.Rect(20, 43, 80, 63))), "a gap of three")
	assert.Equal(t, 1, lines(sheet(100, 100, 0, image.Rect(0, 0, 80, 100))), "the rim of the picture is no line")
	red := sheet(100, 100, 0)
	draw.Draw(red, image.Rect(0, 0, 50, 100), image.NewUniform(color.RGBA{255, 0, 0, 255}), image.Point{}, draw.Src)
	green := sheet(100, 100, 0)
	draw.Draw(green, image.Rect(0, 0, 50, 100), image.NewUniform(color.RGBA{0, 255, 0, 255}), image.Point{}, draw.Src)
	assert.Equal(t, []int{1, 1}, []int{lines(red), lines(green)})
	both := sheet(100, 100, 0)
	draw.Draw(both, both.Rect, image.NewUniform(color.RGBA{0, 130, 0, 255}), image.Point{}, draw.Src)
	draw.Draw(both, image.Rect(0, 0, 50, 100), image.NewUniform(color.RGBA{255, 0, 0, 255}), image.Point{}, draw.Src)
	assert.Zero(t, lines(both), "equal luma (ITU-R BT.601: .299 × 255 = 76, .587 × 130 = 76)")
}

// Of two lines within reach the nearer one is meant; a long one reaches farther than a
// short one; beyond the reach nothing is.
func TestWhatAHandMeans(t *testing.T) {
	s := ruler.Read(sheet(400, 400, 0, image.Rect(100, 50, 130, 350)))
	assert.Equal(t, 100, s.Snap(108, 200, 8, true))
	assert.Equal(t, 109, s.Snap(109, 200, 8, true), "nine px are beyond eight")
	assert.Equal(t, 92, s.Snap(92, 41, 8, true), "nine above its end")
	assert.Equal(t, 100, s.Snap(92, 42, 8, true), "eight above its end")
	assert.Equal(t, 100, s.Snap(92, 358, 8, true))
	assert.Equal(t, 92, s.Snap(92, 359, 8, true))
	assert.Equal(t, 100, s.Snap(112, 200, 30, true), "the nearer of two")
	assert.Equal(t, 130, s.Snap(118, 200, 30, true))
	assert.Equal(t, 50, s.Snap(55, 115, 8, false))
	long := ruler.Read(sheet(400, 400, 0, image.Rect(100, 0, 101, 400), image.Rect(106, 190, 107, 208)))
	assert.Contains(t, []int{100, 101}, long.Snap(103, 200, 8, true), "the longer one, a little farther off")
}

// A column is 120 to 2,400 CSS px wide, at least 40 tall, and closed above and below.
func TestWhatCountsAsAColumn(t *testing.T) {
	columns := func(m image.Image, scale float64) [][2]int { return places(ruler.Read(m).Columns(scale)) }
	assert.Equal(t, [][2]int{{50, 170}}, columns(sheet(400, 300, 100, image.Rect(50, 60, 170, 220)), 1), "120 wide")
	assert.Empty(t, columns(sheet(400, 300, 100, image.Rect(50, 60, 169, 220)), 1), "119 wide")
	assert.Equal(t, [][2]int{{50, 250}}, columns(sheet(400, 300, 100, image.Rect(50, 60, 250, 100)), 1), "40 tall")
	assert.Empty(t, columns(sheet(400, 300, 250, image.Rect(50, 60, 250, 99)), 1), "39 tall, and too pale for ink")
	assert.Equal(t, [][2]int{{50, 290}}, columns(sheet(400, 300, 100, image.Rect(50, 60, 290, 220)), 2), "120 at twice the pixels")
	assert.Empty(t, columns(sheet(400, 300, 100, image.Rect(50, 60, 288, 220)), 2), "119 at twice the pixels")
	assert.Equal(t, [][2]int{{30, 2430}}, columns(sheet(2500, 200, 100, image.Rect(30, 60, 2430, 160)), 1), "2,400 wide")
	assert.Empty(t, columns(sheet(2500, 200, 100, image.Rect(30, 60, 2431, 160)), 1), "2,401 wide")
	open := sheet(400, 300, 247)
	for _, x := range []int{50, 250} { // two upright rules, with nothing above and below
		draw.Draw(open, image.Rect(x, 60, x+2, 220), image.NewUniform(color.Gray{200}), image.Point{}, draw.Src)
	}
	assert.Empty(t, columns(open, 1))
	draw.Draw(open, image.Rect(50, 60, 252, 62), image.NewUniform(color.Gray{200}), image.Point{}, draw.Src)
	assert.NotEmpty(t, columns(open, 1), "closed above")
	uneven := sheet(400, 400, 247, image.Rect(50, 60, 52, 220), image.Rect(250, 60, 252, 380), image.Rect(50, 60, 252, 62), image.Rect(50, 218, 252, 220))
	assert.Empty(t, columns(uneven, 1), "two lines of different lengths are no two edges of one thing")
}

// What is filled again and again comes first, each width is proposed once, and no more
// than eight are.
func TestColumnsInOrder(t *testing.T) {
	twice := ruler.Read(sheet(900, 700, 100, image.Rect(50, 50, 250, 150), image.Rect(50, 200, 250, 300), image.Rect(300, 350, 500, 450), image.Rect(550, 500, 850, 600))).Columns(1)
	assert.Equal(t, [][2]int{{50, 250}, {550, 850}}, places(twice), "200 wide and 300 wide, and 200 once")
	assert.Equal(t, []int{50, 300}, []int{twice[0].Top, twice[0].Bottom}, "from the first to the last of them")
	assert.False(t, twice[0].Rough)
	alone := ruler.Read(sheet(900, 700, 100, image.Rect(300, 50, 500, 150), image.Rect(550, 500, 850, 600))).Columns(1)
	assert.Equal(t, [][2]int{{550, 850}, {300, 500}}, places(alone), "alone the larger one comes first")
	near := ruler.Read(sheet(900, 700, 100, image.Rect(50, 50, 250, 150), image.Rect(300, 250, 501, 350), image.Rect(550, 450, 752, 550))).Columns(1)
	assert.Equal(t, [][2]int{{550, 752}, {50, 250}}, places(near), "201 px are 202 once more, and 200 are not")
	var many []image.Rectangle
	for i := range 10 {
		many = append(many, image.Rect(50, 20+60*i, 200+20*i, 70+60*i))
	}
	assert.Len(t, ruler.Read(sheet(900, 700, 100, many...)).Columns(1), 8)
}

// Lines of text that begin at one edge are a column whose right edge is rough; a wide gap
// parts two, and a few lines or short ones are none.
func TestColumnsOfText(t *testing.T) {
	m := sheet(900, 400, 0)
	text(m, image.Rect(60, 40, 360, 340))
	text(m, image.Rect(420, 40, 640, 340))
	found := ruler.Read(m).Columns(1)
	require.Len(t, found, 2)
	assert.Equal(t, [][2]int{{60, 354}, {420, 634}}, places(found), "as far as the last stroke reaches")
	for _, c := range found {
		assert.True(t, c.Rough)
		assert.Equal(t, []int{0, 400}, []int{c.Top, c.Bottom})
	}
	close := sheet(900, 400, 0) // words that are 26 px apart are one line
	text(close, image.Rect(60, 40, 204, 340))
	text(close, image.Rect(226, 40, 360, 340))
	assert.Equal(t, [][2]int{{60, 360}}, places(ruler.Read(close).Columns(1)))
	few := sheet(900, 400, 0)
	text(few, image.Rect(60, 40, 360, 82)) // three lines of ten px: thirty rows
	assert.Len(t, ruler.Read(few).Columns(1), 1)
	fewer := sheet(900, 400, 0)
	text(fewer, image.Rect(60, 40, 360, 72)) // two
	assert.Empty(t, ruler.Read(fewer).Columns(1))
	short := sheet(900, 400, 0)
	text(short, image.Rect(60, 40, 170, 340))
	assert.Empty(t, ruler.Read(short).Columns(1), "104 px")
	sharp := sheet(900, 400, 0)
	text(sharp, image.Rect(60, 40, 310, 340))
	assert.Equal(t, [][2]int{{60, 304}}, places(ruler.Read(sharp).Columns(2)), "122 CSS px at twice the pixels")
	text(short, image.Rect(60, 40, 200, 340))
	assert.Empty(t, ruler.Read(short).Columns(2), "67 CSS px")
	pale := sheet(900, 400, 216)
	draw.Draw(pale, image.Rect(60, 40, 360, 340), image.NewUniform(color.Gray{250}), image.Point{}, draw.Src)
	assert.Empty(t, ruler.Read(pale).Columns(1), "what differs from paper by less than forty levels is no ink")
}

// A scale that is nearly a usual one is that; the tolerance is a pixel and a half.
func TestScalesAtTheirEdges(t *testing.T) {
	for _, usual := range []float64{1, 1.25, 1.5, 1.75, 2, 2.5, 3, 4} {
		assert.Equal(t, usual, ruler.ScaleFrom(int(usual*400)+1, 400))
		assert.Equal(t, usual, ruler.ScaleFrom(int(usual*400)-1, 400))
		assert.NotEqual(t, usual, ruler.ScaleFrom(int(usual*400)+2, 400))
	}
	assert.Equal(t, 1.0, ruler.ScaleFrom(500, -3))
	assert.Equal(t, 5.0, ruler.ScaleFrom(500, 100))
}

// What parts two columns of text is a gap of more than 28 CSS px; what is ink differs from
// the paper by forty levels; and text in a box that begins where the box does is the box.
func TestTextAtItsEdges(t *testing.T) {
	gap := func(px int, scale float64) int {
		m := sheet(1600, 400, 0)
		text(m, image.Rect(60, 40, 354, 340)) // its last stroke ends at 354
		text(m, image.Rect(354+px, 40, 1200, 340))
		return len(ruler.Read(m).Columns(scale))
	}
	assert.Equal(t, []int{1, 2}, []int{gap(28, 1), gap(29, 1)})
	assert.Equal(t, []int{1, 2}, []int{gap(56, 2), gap(57, 2)})
	ink := func(grey uint8) int {
		m := sheet(900, 400, 0)
		inkedText(m, image.Rect(60, 40, 360, 340), grey)
		return len(ruler.Read(m).Columns(1))
	}
	assert.Equal(t, []int{1, 0}, []int{ink(215), ink(216)})
	boxed := func(left int) []bool {
		m := sheet(900, 400, 0)
		for _, side := range []image.Rectangle{image.Rect(50, 30, 550, 32), image.Rect(50, 368, 550, 370), image.Rect(50, 30, 52, 370), image.Rect(548, 30, 550, 370)} {
			draw.Draw(m, side, image.NewUniform(color.Gray{220}), image.Point{}, draw.Src)
		}
		text(m, image.Rect(left, 40, 480, 360))
		var rough []bool
		for _, c := range ruler.Read(m).Columns(1) {
			rough = append(rough, c.Rough)
		}
		return rough
	}
	assert.NotContains(t, boxed(54), true, "four px in")
	assert.Contains(t, boxed(66), true, "sixteen px in")
}
