// Package raster turns pictures into pixels and pixels into pictures: decode by
// content, upright, framed, resampled in linear light, and encoded again
// without any metadata.
package raster

import (
	"errors"
	"fmt"
	"image"
	"io"

	"mivlet/core/facts"
	"mivlet/core/fit"
	"mivlet/core/veil"
)

// ErrCutOff means that the file ends before the picture does.
var ErrCutOff = errors.New("the file ends in the middle of the picture")

// Source is a decoded original. Its pixels stay as they lie in the file;
// turning upright happens on the small result.
type Source struct {
	pixels      image.Image
	stored      fit.Size
	orientation facts.Orientation
	opaque      bool
	space       *space
	traces      veil.Traces
}

// FromImage returns a source of pixels that are decoded already, upright and in
// sRGB.
func FromImage(m image.Image) *Source {
	return &Source{pixels: m, stored: fit.SizeOf(m.Bounds()), orientation: facts.Upright, opaque: opaque(m), space: srgb}
}

// Upright returns the size of the source as it is to be seen.
func (s *Source) Upright() fit.Size { return s.orientation.Turned(s.stored) }

// Opaque reports whether the source has no transparency.
func (s *Source) Opaque() bool { return s.opaque }

// Bytes estimates the memory the source holds.
func (s *Source) Bytes() int64 {
	n := int64(s.stored.W) * int64(s.stored.H)
	switch m := s.pixels.(type) {
	case *image.Gray, *image.Paletted:
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
// as it is to be seen; nothing wanted means all pixels.
func DecodeFor(file io.ReadSeeker, f facts.Facts, limits Limits, wanted fit.Size) (*Source, error) {
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
	in := srgb
	if f.Profile != "" {
		in = spaceOf(facts.Profile(file, f.MediaType))
	}
	if _, err := file.Seek(0, io.SeekStart); err != nil {
		return nil, err
	}
	r := &ending{Reader: file}
	m, err := decode(r, f, wanted)
	if err != nil {
		return nil, r.judge(err)
	}
	if f.MediaType == "image/heic" {
		f.Orientation = facts.Upright // libheif has turned it already
	}
	if got := fit.SizeOf(m.Bounds()); got != f.Stored && f.MediaType != "image/heic" {
		return nil, fmt.Errorf("%w: its pixels measure %d × %d, and it says %d × %d", facts.ErrDamaged, got.W, got.H, f.Stored.W, f.Stored.H)
	}
	s := &Source{pixels: m, stored: fit.SizeOf(m.Bounds()), orientation: f.Orientation, opaque: true, space: in, traces: tracesOf(f.MediaType, m)}
	if o, ok := m.(interface{ Opaque() bool }); ok {
		s.opaque = o.Opaque()
	}
	return s, nil
}

// ending remembers whether the end of the file was reached. A decoder that
// fails there wanted more; the errors of decoders do not say so reliably.
type ending struct {
	io.Reader
	reached bool
}

func (e *ending) Read(p []byte) (int, error) {
	n, err := e.Reader.Read(p)
	if err == io.EOF {
		e.reached = true
	}
	return n, err
}

// judge tells a file that ends too soon from one that is damaged.
func (e *ending) judge(err error) error {
	if e.reached {
		return ErrCutOff
	}
	return fmt.Errorf("%w: %v", facts.ErrDamaged, err)
}
