package raster

import (
	"image"
	"math"
	"slices"

	"mivlet/core/fit"
	"mivlet/core/veil"
)

// farTraces is how far a pixel is supposed to leave its traces in a file of lossy
// compression that is not laid out in blocks of one size, in pixels. (common practice)
const farTraces = 16

// tracesOf tells how far the traces of a pixel reach in a decoded file. block is the size of its
// coded units, where it is a JPEG.
func tracesOf(mediaType string, block image.Point) veil.Traces {
	switch mediaType {
	case "image/jpeg":
		return veil.Traces{Block: block}
	case "image/webp", "image/avif", "image/heic":
		return veil.Traces{Reach: farTraces}
	}
	return veil.Traces{}
}

// jpegBlock is the size of the smallest coded unit of a JPEG in pixels: 8 × 8, times how
// much less colour than light was kept (ITU-T T.81, A.2.4).
func jpegBlock(m image.Image) image.Point {
	switch m := m.(type) {
	case *image.Gray:
		return image.Pt(8, 8)
	case *image.YCbCr:
		return blockOf(m.SubsampleRatio)
	}
	return largestBlock
}

// largestBlock is the largest unit that the decoders take.
var largestBlock = image.Pt(32, 16)

func blockOf(s image.YCbCrSubsampleRatio) image.Point {
	switch s {
	case image.YCbCrSubsampleRatio444:
		return image.Pt(8, 8)
	case image.YCbCrSubsampleRatio422:
		return image.Pt(16, 8)
	case image.YCbCrSubsampleRatio440:
		return image.Pt(8, 16)
	case image.YCbCrSubsampleRatio420:
		return image.Pt(16, 16)
	}
	return largestBlock
}

// CameAs returns the source of a file that was converted from another type: what that one
// lost has left its traces, too.
func (s *Source) CameAs(mediaType string) *Source {
	c := *s
	if lossy(mediaType) {
		c.traces.Reach = max(c.traces.Reach, farTraces)
	}
	return &c
}

func lossy(mediaType string) bool { return tracesOf(mediaType, largestBlock) != (veil.Traces{}) }

// CopyOf returns the source as a copy that was made by [Source.Glance] of a picture of the
// size whole, which came in files of these types, and kept by [EncodeCopy]: what it takes
// over reaches as far as the traces in the whole, the kernel and, where the copy is a JPEG,
// its blocks do.
func (s *Source) CopyOf(whole fit.Size, mediaTypes ...string) *Source {
	c := *s
	scale := float64(s.Upright().W) / float64(whole.W)
	reach := lobes + 1 // of the kernel and of what is averaged before it, in pixels of the copy
	if slices.ContainsFunc(mediaTypes, lossy) {
		reach += int(math.Ceil(float64(len(mediaTypes)) * farTraces * scale))
	}
	c.traces = veil.Traces{Block: image.Pt(16, 16), Reach: reach}
	return &c
}

// toStored carries veils over to the stored pixels.
func (s *Source) toStored(veils []veil.Veil) []veil.Veil {
	all := make([]veil.Veil, len(veils))
	for i, v := range veils {
		all[i] = v.At(0).Map(func(p image.Point) image.Point { return s.orientation.ToStored(p, s.stored) })
	}
	return all
}

// canvas is the source as veils are drawn on it.
func (s *Source) canvas(ch int) veil.Canvas {
	return veil.Canvas{Bounds: s.stored.Rect(), Channels: ch, Traces: s.traces, Light: s.space.ofSRGB, SRGB: s.space.codes}
}

// layers makes veils ready for the stored pixels.
func (s *Source) layers(veils []veil.Veil, ch int, add rowAdder) []*veil.Layer {
	if len(veils) == 0 {
		return nil
	}
	return veil.Make(s.toStored(veils), s.canvas(ch), rowsOf(add))
}

func rowsOf(add rowAdder) veil.Rows {
	return func(dst []float32, y, x0, x1 int) {
		clear(dst)
		add(dst, y, x0, x1, 1)
	}
}

// VeilReach is the rectangle around all that a veil changes, in pixels of the upright
// source.
func (s *Source) VeilReach(v veil.Veil) image.Rectangle {
	r := s.toStored([]veil.Veil{v})[0].Reach(s.stored.Rect(), s.traces)
	if r.Empty() {
		return r
	}
	return s.orientation.RectToUpright(r, s.stored)
}

// Told samples the coarse colours that a figure keeps; nil where it is to keep none.
func (s *Source) Told(v veil.Veil, secret []byte) *veil.Told {
	ch := 4
	if s.opaque {
		ch = 3
	}
	stored := veil.Sample(s.toStored([]veil.Veil{v})[0], s.canvas(ch), rowsOf(adder(s.pixels, s.opaque, s.space)), secret)
	up := veil.Veil{Told: stored}.Map(func(p image.Point) image.Point { return s.orientation.ToUpright(p, s.stored) })
	return up.Told
}

// opaqueBeside reports whether the source has no transparency but under its veils:
// whether what is hidden was transparent must not be told either.
func (s *Source) opaqueBeside(veils []veil.Veil) bool {
	if s.opaque || len(veils) == 0 {
		return s.opaque
	}
	hidden := veil.Mask(s.toStored(veils), s.canvas(4))
	at := premultiplied(s.pixels)
	o := s.pixels.Bounds().Min
	for y := range s.stored.H {
		for x := range s.stored.W {
			if at(o.X+x, o.Y+y).A != 0xFFFF && !hidden(x, y) {
				return false
			}
		}
	}
	return true
}

// At is the work for a frame of an animation, counted from 0.
func (w Transform) At(frame int) Transform {
	w.Veils = veil.AllAt(w.Veils, frame)
	return w
}
