package previewer

import (
	"bytes"
	"errors"
	"image"
	"image/jpeg"

	"golang.org/x/image/draw"
)

// Manner is how a preview is shown.
type Manner struct {
	ID    string
	Title string
	Width int // of the picture, in CSS px
	High  int
}

// Manners are the two manners that the stand-in has: readers of links have one of them, or
// choose by what the page asks for.
var Manners = []Manner{
	{"large", "A large card", 520, 272},
	{"square", "A small square", 130, 130},
}

// MannerOf returns a manner by its ID.
func MannerOf(id string) (Manner, bool) {
	for _, m := range Manners {
		if m.ID == id {
			return m, true
		}
	}
	return Manner{}, false
}

var errNoPicture = errors.New("there is no picture to show")

// Shown is the picture as a manner shows it, as JPEG with two pixels to each CSS px: cropped
// around its middle, whatever stands there.
func (h *Held) Shown(m Manner) ([]byte, error) {
	if len(h.data) == 0 {
		return nil, errNoPicture
	}
	src, _, err := image.Decode(bytes.NewReader(h.data))
	if err != nil {
		return nil, err
	}
	out := image.NewRGBA(image.Rect(0, 0, 2*m.Width, 2*m.High))
	draw.BiLinear.Scale(out, out.Rect, src, middle(src.Bounds(), m.Width, m.High), draw.Src, nil)
	var b bytes.Buffer
	err = jpeg.Encode(&b, out, &jpeg.Options{Quality: 85})
	return b.Bytes(), err
}

// middle is the largest part with the proportions of w × h about the middle of a picture.
func middle(of image.Rectangle, w, h int) image.Rectangle {
	size := of.Size()
	part := image.Pt(size.X, size.X*h/w)
	if part.Y > size.Y {
		part = image.Pt(size.Y*w/h, size.Y)
	}
	at := of.Min.Add(size.Sub(part).Div(2))
	return image.Rectangle{Min: at, Max: at.Add(part)}
}
