// Package raster turns pictures into pixels and pixels into pictures: decode by
// content, upright, framed, resampled in linear light, and encoded again
// without any metadata.
package raster

import (
	"errors"
	"fmt"
	"image"
	"io"

	"github.com/gen2brain/avif"

	"mivlet/core/facts"
	"mivlet/core/fit"
	"mivlet/core/heif"
	"mivlet/core/jpegdec"
	"mivlet/core/svg"
	"mivlet/core/veil"
)

// ErrCutOff means that the file ends before the picture does.
var ErrCutOff = errors.New("the file ends in the middle of the picture")

// Source is a decoded original. Its pixels stay as they lie in the file;
// turning upright happens on the small result.
type Source struct {
	pixels      image.Image
	eighths     int         // of the stored size that the pixels have
	offset      image.Point // of the first pixel, where only a part was decoded
	stored      fit.Size
	orientation facts.Orientation
	opaque      bool
	space       *space
	traces      veil.Traces
}

// FromImage returns a source of pixels that are decoded already, upright and in
// sRGB.
func FromImage(m image.Image) *Source {
	return &Source{pixels: m, eighths: 8, stored: fit.SizeOf(m.Bounds()), orientation: facts.Upright, opaque: opaque(m), space: srgb}
}

// Upright returns the size of the source as it is to be seen.
func (s *Source) Upright() fit.Size { return s.orientation.Turned(s.stored) }

// Opaque reports whether the source has no transparency.
func (s *Source) Opaque() bool { return s.opaque }

// Bytes estimates the memory the source holds.
func (s *Source) Bytes() int64 {
	n := int64(s.stored.W) * int64(s.stored.H)
	switch m := s.pixels.(type) {
	case *image.Gray:
		return int64(len(m.Pix))
	case *image.Paletted:
		return n
	case *image.YCbCr:
		return int64(len(m.Y) + len(m.Cb) + len(m.Cr))
	case *image.NRGBA64, *image.RGBA64:
		return n * 8
	}
	return n * 4
}

// Decode reads the picture in file, from its start. f are its facts; an animation gives
// its first frame. It fails with a [*LimitError], with [ErrCutOff] or with
// [facts.ErrDamaged].
func Decode(file io.ReadSeeker, f facts.Facts, limits Limits) (*Source, error) {
	return DecodeFor(file, f, limits, fit.Size{})
}

// DecodeFor reads a picture that will be brought down to no more than wanted,
// as it is to be seen; nothing wanted means all pixels. Where the file allows it, it
// decodes fewer of them: see [Scale].
func DecodeFor(file io.ReadSeeker, f facts.Facts, limits Limits, wanted fit.Size) (*Source, error) {
	return DecodePart(file, f, limits, wanted, image.Rectangle{})
}

// DecodePart is DecodeFor for a picture of which nothing but a part, as it is to be seen, is read by
// what is done to it; an empty part is all of it. Where the file allows it, no more than that is decoded,
// and [Source.Whole] says so. Veils are drawn, and a picture is turned by degrees, on the whole.
func DecodePart(file io.ReadSeeker, f facts.Facts, limits Limits, wanted fit.Size, part image.Rectangle) (*Source, error) {
	if err := limits.CheckStill(f); err != nil {
		return nil, err
	}
	if f.CutOff {
		return nil, ErrCutOff
	}
	decode, ok := decoders[f.MediaType]
	if !ok {
		return nil, &facts.TypeError{MediaType: f.MediaType, Kind: facts.ErrNotTaken}
	}
	in, convert := srgb, conversion(nil)
	if f.Profile != "" {
		profile, named := facts.Profile(file, f.MediaType)
		in, convert = spaceOf(profile, named), conversionOf(profile, named)
	}
	if _, err := file.Seek(0, io.SeekStart); err != nil {
		return nil, err
	}
	r := &ending{ReadSeeker: file}
	d, err := decode(r, f, want{f.Orientation.Turned(wanted), stored(part, f)})
	if unread := facts.Unread(f.MediaType, err); unread != nil {
		return nil, unread
	}
	if err != nil {
		return nil, r.judge(err)
	}
	if f.MediaType == "image/heic" {
		f.Orientation = facts.Upright // libheif has turned it already
	}
	got, offset := fit.SizeOf(d.pixels.Bounds()), image.Point{}
	if d.part {
		offset = d.pixels.Bounds().Min
		got = inEighths(f.Stored, d.eighths)
	} else if due := inEighths(f.Stored, d.eighths); got != due && f.MediaType != "image/heic" {
		return nil, fmt.Errorf("%w: its pixels measure %d × %d, and it says %d × %d", facts.ErrDamaged, got.W, got.H, due.W, due.H)
	}
	if convert != nil {
		if m := convert(d.pixels); m != nil {
			d.pixels, in = m, srgb
		}
	}
	s := &Source{pixels: d.pixels, eighths: d.eighths, offset: offset, stored: got, orientation: f.Orientation, opaque: true, space: in, traces: tracesOf(f.MediaType, d.block)}
	if d.eighths < 8 {
		s.stored = f.Stored
	}
	if o, ok := d.pixels.(interface{ Opaque() bool }); ok {
		s.opaque = o.Opaque()
	}
	return s, nil
}

// stored is a part as it is stored.
func stored(part image.Rectangle, f facts.Facts) image.Rectangle {
	if part.Empty() {
		return part
	}
	return f.Orientation.RectToStored(part, f.Stored)
}

// Whole reports whether all of the picture was decoded, and not only a part.
func (s *Source) Whole() bool {
	whole := inEighths(s.stored, s.eighths)
	return s.offset == (image.Point{}) && fit.SizeOf(s.pixels.Bounds()) == whole
}

// inEighths is the size of a picture that was decoded at n eighths of its own.
func inEighths(s fit.Size, n int) fit.Size {
	return fit.Size{W: (s.W*n + 7) / 8, H: (s.H*n + 7) / 8}
}

// Scale is at how many eighths of its size a picture is decoded for what is wanted of it: 1, 2, 4
// or 8. The same work on the same picture gives the same pixels, as it is always done at the scale
// that it needs, whatever is decoded already.
func Scale(f facts.Facts, wanted fit.Size) int {
	if f.MediaType != "image/jpeg" {
		return 8
	}
	return jpegdec.Eighths(f.Stored, f.Orientation.Turned(wanted))
}

// Needs is how many pixels of a whole picture, as it is to be seen, some work on a part of it
// wants; nothing means all, as veils are drawn on the file's own.
func (w Transform) Needs(whole fit.Size) fit.Size {
	if len(w.Veils) > 0 {
		return fit.Size{}
	}
	return w.reads(whole)
}

// reads is how many pixels of a whole picture some work on a part of it reads, its veils apart.
func (w Transform) reads(whole fit.Size) fit.Size {
	size := w.Turn.Turned(w.Size)
	if w.Straighten != 0 { // it is brought down to twice the size first
		size = fit.Size{W: 2 * size.W, H: 2 * size.H}
	}
	up := func(whole, part, size int) int { return (whole*size + part - 1) / max(part, 1) }
	return fit.Size{W: up(whole.W, w.From.Dx(), size.W), H: up(whole.H, w.From.Dy(), size.H)}
}

// ending remembers whether the end of the file was reached. A decoder that
// fails there wanted more; the errors of decoders do not say so reliably.
type ending struct {
	io.ReadSeeker
	reached bool
}

func (e *ending) Read(p []byte) (int, error) {
	n, err := e.ReadSeeker.Read(p)
	if err == io.EOF {
		e.reached = true
	}
	return n, err
}

// judge tells a file that ends too soon from one that is damaged.
func (e *ending) judge(err error) error {
	var damage jpegdec.DamageError
	told := errors.As(err, &damage) || errors.Is(err, heif.ErrDecode) || errors.Is(err, avif.ErrDecode) || errors.Is(err, svg.ErrDrawing) // who read all of it
	if e.reached && !told || errors.Is(err, io.ErrUnexpectedEOF) {
		return ErrCutOff
	}
	return fmt.Errorf("%w: %v", facts.ErrDamaged, err)
}

// Eighths is at how many eighths of its own sides a picture was decoded: 1, 2, 4 or 8.
func (s *Source) Eighths() int { return s.eighths }

// Decoded is how many pixels were decoded, as they are stored: upright or not.
func (s *Source) Decoded() fit.Size { return fit.SizeOf(s.pixels.Bounds()) }
