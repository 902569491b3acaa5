// Package contrast tells how well text can be read over a colour or a picture: the contrast
// ratio of WCAG 2.2, measured on the pixels that lie behind the text.
package contrast

import (
	"image"
	"image/color"
	"image/draw"
	"math"
)

// What text needs at least (WCAG 2.2, 1.4.3). Large text is of 24 CSS px and more, or bold
// and of 18.66 CSS px and more.
const (
	ForText      = 4.5
	ForLargeText = 3.0
)

// linear are the 256 steps of a channel of sRGB in linear light (WCAG 2.2, definition of
// relative luminance, with the limit of IEC 61966-2-1).
var linear = func() (all [256]float64) {
	for i := range all {
		v := float64(i) / 255
		if all[i] = v / 12.92; v > 0.04045 {
			all[i] = math.Pow((v+0.055)/1.055, 2.4)
		}
	}
	return all
}()

// Luminance is the relative luminance of an opaque colour of sRGB: 0 for black, 1 for white.
func Luminance(c color.RGBA) float64 {
	return 0.2126*linear[c.R] + 0.7152*linear[c.G] + 0.0722*linear[c.B]
}

// Ratio is the contrast of two luminances: from 1, the same, to 21, black on white.
func Ratio(a, b float64) float64 {
	return (max(a, b) + 0.05) / (min(a, b) + 0.05)
}

// Shade is what is laid over a picture so that text over it can be read: black below light
// text, white below dark text. The zero value is light text on the picture as it is.
type Shade struct {
	Light   bool // white is laid over, and the text is dark
	Percent int  // how much of it, 0 to 100
}

// The colours of text over a picture.
var (
	LightText = color.RGBA{0xff, 0xff, 0xff, 0xff}
	DarkText  = color.RGBA{0x20, 0x26, 0x2b, 0xff}
)

// Ground is the colour that a site shows where the picture is transparent, or is not there
// yet.
func (s Shade) Ground() color.RGBA {
	if s.Light {
		return color.RGBA{0xe9, 0xee, 0xec, 0xff}
	}
	return color.RGBA{0x26, 0x34, 0x3a, 0xff}
}

// On is a picture on a ground: without its transparent parts.
func On(ground color.RGBA, m image.Image) image.Image {
	if o, ok := m.(interface{ Opaque() bool }); ok && o.Opaque() {
		return m
	}
	flat := image.NewRGBA(m.Bounds())
	draw.Draw(flat, flat.Rect, image.NewUniform(ground), image.Point{}, draw.Src)
	draw.Draw(flat, flat.Rect, m, m.Bounds().Min, draw.Over)
	return flat
}

// Text is the colour of the text over it.
func (s Shade) Text() color.RGBA {
	if s.Light {
		return DarkText
	}
	return LightText
}

// over are the 256 steps of a channel with the shade over them, in linear light. A browser
// mixes the values of sRGB themselves (Compositing and Blending Level 1).
func (s Shade) over() (all [256]float64) {
	part := float64(min(max(s.Percent, 0), 100)) / 100
	on := 0.0
	if s.Light {
		on = 255
	}
	for i := range all {
		all[i] = linear[int(math.Round(float64(i)*(1-part)+on*part))]
	}
	return all
}

// Patch is the side of the squares by which a picture is looked at, in CSS px: about that of
// a letter. One bright speck does not make a letter illegible, a bright square does.
const Patch = 16

// Backing is what lies behind text, ready to be measured.
type Backing struct {
	pixels *image.RGBA
	areas  []image.Rectangle
	patch  int
}

// Behind returns what lies behind text: those areas of a picture in which it can stand, in
// its pixels; scale is how many of its pixels are one CSS px. Without areas it is all of it.
func Behind(m image.Image, scale float64, areas ...image.Rectangle) Backing {
	pixels, ok := m.(*image.RGBA)
	if !ok {
		pixels = image.NewRGBA(m.Bounds())
		draw.Draw(pixels, pixels.Rect, m, m.Bounds().Min, draw.Src)
	}
	b := Backing{pixels: pixels, patch: max(1, int(math.Round(Patch*scale)))}
	if len(areas) == 0 {
		areas = []image.Rectangle{pixels.Rect}
	}
	for _, a := range areas {
		if a = a.Intersect(pixels.Rect); !a.Empty() {
			b.areas = append(b.areas, a)
		}
	}
	return b
}

// Least is the least contrast that text has with any patch behind it; 21 where there is none.
func (b Backing) Least(s Shade) float64 {
	text, over, least := Luminance(s.Text()), s.over(), 21.0
	for _, area := range b.areas {
		for y := area.Min.Y; y < area.Max.Y; y += b.patch {
			for x := area.Min.X; x < area.Max.X; x += b.patch {
				// At the edges a patch reaches back, so that it is a whole one.
				part := image.Rect(x, y, x+b.patch, y+b.patch)
				part = part.Sub(image.Pt(max(0, part.Max.X-area.Max.X), max(0, part.Max.Y-area.Max.Y))).Intersect(area)
				least = min(least, Ratio(text, b.mean(part, &over)))
			}
		}
	}
	return least
}

// mean is the mean luminance of a part.
func (b Backing) mean(part image.Rectangle, over *[256]float64) float64 {
	var red, green, blue float64
	for y := part.Min.Y; y < part.Max.Y; y++ {
		at := b.pixels.PixOffset(part.Min.X, y)
		for row := b.pixels.Pix[at : at+4*part.Dx()]; len(row) >= 4; row = row[4:] {
			red, green, blue = red+over[row[0]], green+over[row[1]], blue+over[row[2]]
		}
	}
	return (0.2126*red + 0.7152*green + 0.0722*blue) / float64(part.Dx()*part.Dy())
}

// Enough returns the shade, light or dark, with the least percent by which text over all of
// the backings has the contrast that it needs. 100 percent always has it.
func Enough(light bool, need float64, all ...Backing) Shade {
	reaches := func(s Shade) bool {
		for _, b := range all {
			if b.Least(s) < need {
				return false
			}
		}
		return true
	}
	low, high := 0, 100
	for low < high { // more of it never makes the contrast less
		if mid := (low + high) / 2; reaches(Shade{light, mid}) {
			high = mid
		} else {
			low = mid + 1
		}
	}
	return Shade{light, low}
}
