// Package titlecard draws a picture of words: the title of a page and the name of the house,
// on a colour or over a darkened picture. It stands for pages that have no picture of their
// own where their links are shared.
package titlecard

import (
	_ "embed" // the letters
	"fmt"
	"image"
	"image/color"
	"slices"
	"strings"
	"sync"
	"unicode"

	"golang.org/x/image/draw"
	"golang.org/x/image/font"
	"golang.org/x/image/font/opentype"
	"golang.org/x/image/font/sfnt"
	"golang.org/x/image/math/fixed"

	"mivlet/core/contrast"
)

// The size of a card, in pixels (common practice for pictures of shared links).
const (
	Width  = 1200
	Height = 630
)

// Version is that of the drawing: another one draws the same words otherwise.
const Version = 1

// Where text stands, in pixels.
const (
	margin     = 88
	top        = 84
	houseSize  = 36
	houseLine  = Height - 76 // its base line
	titleFloor = Height - 150
)

// titleSizes are the sizes of a title, the largest that fits is taken; with how many lines.
var titleSizes = []struct {
	px   float64
	most int
}{{104, 2}, {88, 3}, {74, 4}, {62, 5}, {52, 6}}

// Card is what is drawn.
type Card struct {
	Title, House string
	Ground       color.RGBA
	Text         color.RGBA
	// Behind is a picture that fills the card; nil is the ground alone. It is darkened until
	// text over it has the contrast that WCAG asks for, and the text is white.
	Behind image.Image
}

//go:embed hanken-grotesk-latin-bold.ttf
var latin []byte

//go:embed hanken-grotesk-latin-ext-bold.ttf
var latinExt []byte

// fonts are the letters, the usual ones first.
var fonts = sync.OnceValue(func() (all []*sfnt.Font) {
	for _, data := range [][]byte{latin, latinExt} {
		f, err := opentype.Parse(data)
		if err != nil {
			panic(err) // they ship with the program
		}
		all = append(all, f)
	}
	return all
})

// Missing returns the letters of a text that cannot be drawn, each once.
func Missing(text string) []rune {
	var all []rune
	var b sfnt.Buffer
	for _, r := range text {
		if unicode.IsSpace(r) || slices.Contains(all, r) {
			continue
		}
		if fontOf(&b, r) < 0 {
			all = append(all, r)
		}
	}
	return all
}

// fontOf is which font has a letter; -1 for none.
func fontOf(b *sfnt.Buffer, r rune) int {
	return slices.IndexFunc(fonts(), func(f *sfnt.Font) bool {
		i, err := f.GlyphIndex(b, r)
		return err == nil && i != 0
	})
}

// letters sets text in one size.
type letters struct {
	faces []font.Face
	buf   sfnt.Buffer
}

func lettersOf(px float64) (*letters, error) {
	l := &letters{}
	for _, f := range fonts() {
		face, err := opentype.NewFace(f, &opentype.FaceOptions{Size: px, DPI: 72, Hinting: font.HintingNone})
		if err != nil {
			return nil, err
		}
		l.faces = append(l.faces, face)
	}
	return l, nil
}

// runs calls for each stretch of a text that one font has.
func (l *letters) runs(text string, do func(face font.Face, run string)) {
	from, at := 0, -1
	for i, r := range text {
		f := at
		if !unicode.IsSpace(r) {
			f = max(fontOf(&l.buf, r), 0)
		}
		if f != at && at >= 0 {
			do(l.faces[at], text[from:i])
			from = i
		}
		at = max(f, 0)
	}
	if at >= 0 {
		do(l.faces[at], text[from:])
	}
}

// width is how wide a text is, in pixels.
func (l *letters) width(text string) float64 {
	var w fixed.Int26_6
	l.runs(text, func(face font.Face, run string) { w += font.MeasureString(face, run) })
	return float64(w) / 64
}

func (l *letters) draw(on draw.Image, text string, x, y int, c color.RGBA) {
	at := fixed.P(x, y)
	l.runs(text, func(face font.Face, run string) {
		d := font.Drawer{Dst: on, Src: image.NewUniform(c), Face: face, Dot: at}
		d.DrawString(run)
		at = d.Dot
	})
}

// wrap puts words on lines of at most some pixels; a word that is longer stands alone.
func (l *letters) wrap(words []string, most float64) []string {
	var lines []string
	line := ""
	for _, w := range words {
		with := strings.TrimSpace(line + " " + w)
		if line != "" && l.width(with) > most {
			lines = append(lines, line)
			with = w
		}
		line = with
	}
	if line != "" {
		lines = append(lines, line)
	}
	return lines
}

// balanced wraps words into as few lines as fit, and makes these about equally long: the
// narrowest width that takes no more lines.
func (l *letters) balanced(words []string, most float64) []string {
	lines := l.wrap(words, most)
	low, high := 0.0, most
	for high-low > 1 {
		mid := (low + high) / 2
		if try := l.wrap(words, mid); len(try) <= len(lines) && l.widest(try) <= mid {
			high = mid
		} else {
			low = mid
		}
	}
	return l.wrap(words, high)
}

func (l *letters) widest(lines []string) float64 {
	w := 0.0
	for _, line := range lines {
		w = max(w, l.width(line))
	}
	return w
}

// set is a title in the largest size in which it fits.
type set struct {
	*letters
	px    float64
	lines []string
}

// Lines returns the lines of a title as it is set.
func Lines(title string) ([]string, error) {
	s, err := setTitle(title)
	return s.lines, err
}

func setTitle(title string) (set, error) {
	words := strings.Fields(title)
	var s set
	for _, size := range titleSizes {
		l, err := lettersOf(size.px)
		if err != nil {
			return s, err
		}
		s = set{l, size.px, l.balanced(words, Width-2*margin)}
		if len(s.lines) <= size.most && l.widest(s.lines) <= Width-2*margin && top+float64(len(s.lines))*lineHigh(size.px) <= titleFloor {
			return s, nil
		}
	}
	return s.shortened(titleSizes[len(titleSizes)-1].most), nil
}

// shortened leaves out what does not fit in the smallest size.
func (s set) shortened(most int) set {
	var lines []string
	for _, line := range s.lines {
		for s.width(line) > Width-2*margin { // one word, longer than the card is wide
			r := []rune(line)
			n := len(r)
			for n > 1 && s.width(string(r[:n])) > Width-2*margin {
				n--
			}
			lines = append(lines, string(r[:n]))
			line = string(r[n:])
		}
		lines = append(lines, line)
	}
	if len(lines) > most {
		last := []rune(lines[most-1])
		for len(last) > 0 && s.width(string(last)+"…") > Width-2*margin {
			last = last[:len(last)-1]
		}
		lines = append(lines[:most-1:most-1], strings.TrimSpace(string(last))+"…")
	}
	s.lines = lines
	return s
}

func lineHigh(px float64) float64 { return px * 1.12 }

// Draw draws a card. It fails where a letter cannot be drawn; see [Missing].
func Draw(c Card) (*image.RGBA, error) {
	if missing := Missing(c.Title + c.House); len(missing) > 0 {
		return nil, fmt.Errorf("the letters of the card have no %q", string(missing))
	}
	m := image.NewRGBA(image.Rect(0, 0, Width, Height))
	draw.Draw(m, m.Rect, image.NewUniform(c.Ground), image.Point{}, draw.Src)
	if c.Behind != nil {
		c.Text = contrast.LightText
		draw.CatmullRom.Scale(m, m.Rect, c.Behind, c.Behind.Bounds(), draw.Src, nil)
		shade := contrast.Enough(false, contrast.ForText, contrast.Behind(m, 1))
		draw.Draw(m, m.Rect, image.NewUniform(color.NRGBA{A: uint8(shade.Percent * 255 / 100)}), image.Point{}, draw.Over)
	}
	title, err := setTitle(c.Title)
	if err != nil {
		return nil, err
	}
	for i, line := range title.lines {
		title.draw(m, line, margin, top+int(float64(i)*lineHigh(title.px)+title.px*0.8), c.Text)
	}
	small, err := lettersOf(houseSize)
	if err != nil {
		return nil, err
	}
	draw.Draw(m, image.Rect(margin, houseLine-houseSize-26, Width-margin, houseLine-houseSize-22), image.NewUniform(c.Text), image.Point{}, draw.Src)
	house := c.House
	for r := []rune(house); small.width(house) > Width-2*margin; house = string(r) + "…" {
		r = r[:len(r)-1]
	}
	small.draw(m, house, margin, houseLine, c.Text)
	return m, nil
}
