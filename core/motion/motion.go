// Package motion writes animations: GIF (GIF89a) and animated WebP (RFC 9649, 2.7).
//
// Most of what an animation shows stands still most of the time. A frame is therefore written as
// the smallest rectangle that holds what has changed since the one before ([Film.GIF] also leaves
// out, within it, each pixel that is there already). A GIF has 256 colours at most: one palette
// serves all frames where it can, and colours between those of the palette are mixed from two of
// them in a pattern that is fixed to the picture, so that what stands still does not crawl.
package motion

import (
	"bytes"
	"errors"
	"image"
	"image/draw"
	"time"
)

// Film is an animation as it shows.
type Film struct {
	Frames []image.Image   // all of one size, each as it shows
	Delays []time.Duration // how long each of them shows
	Loop   int             // how often it plays; 0 is for ever
}

// errEmpty refuses what has no frames, or not a delay for each.
var errEmpty = errors.New("an animation needs frames, and a delay for each")

// canvases are the frames of f, beginning at 0, 0, with straight alpha. Frames that are so
// already are not copied.
func (f Film) canvases() ([]*image.NRGBA, error) {
	if len(f.Frames) == 0 || len(f.Frames) != len(f.Delays) {
		return nil, errEmpty
	}
	all := make([]*image.NRGBA, len(f.Frames))
	for i, m := range f.Frames {
		if m.Bounds().Size() != f.Frames[0].Bounds().Size() {
			return nil, errors.New("the frames of an animation are of one size")
		}
		all[i] = straight(m)
	}
	return all, nil
}

// straight is m from 0, 0 with straight alpha.
func straight(m image.Image) *image.NRGBA {
	b := m.Bounds()
	size := image.Rectangle{Max: b.Size()}
	switch m := m.(type) {
	case *image.NRGBA:
		return &image.NRGBA{Pix: m.Pix, Stride: m.Stride, Rect: size}
	case *image.RGBA:
		if m.Opaque() { // nothing to divide by
			return &image.NRGBA{Pix: m.Pix, Stride: m.Stride, Rect: size}
		}
	}
	out := image.NewNRGBA(size)
	draw.Draw(out, size, m, b.Min, draw.Src)
	return out
}

// changed is the smallest rectangle that holds all pixels of b that are not as in a; empty where
// the two are the same.
func changed(a, b *image.NRGBA) (r image.Rectangle) {
	width, height := b.Rect.Dx(), b.Rect.Dy()
	for y := range height {
		old, now := row(a, y), row(b, y)
		if bytes.Equal(old, now) {
			continue
		}
		left := 0
		for at(old, left) == at(now, left) {
			left++
		}
		right := width
		for at(old, right-1) == at(now, right-1) {
			right--
		}
		r = r.Union(image.Rect(left, y, right, y+1))
	}
	return r
}
