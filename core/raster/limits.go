package raster

import (
	"fmt"

	"mivlet/core/facts"
	"mivlet/core/fit"
)

// Limits bounds what is decoded, checked before a pixel is allocated.
type Limits struct {
	Side   int   // longest side, in pixels
	Pixels int64 // width × height; of an animation, × frames
	Bytes  int64 // of the file
}

// LimitError tells which limit a picture goes beyond.
type LimitError struct {
	What  string // "side", "pixels", "pixels of all frames" or "bytes"
	Value int64
	Limit int64
	Size  fit.Size
}

func (e *LimitError) Error() string {
	if e.What == "bytes" {
		return fmt.Sprintf("the file has %d bytes, and the limit is %d", e.Value, e.Limit)
	}
	return fmt.Sprintf("the picture says that it measures %d × %d: its %s of %d go beyond the limit of %d",
		e.Size.W, e.Size.H, e.What, e.Value, e.Limit)
}

// check compares all that is known of a file with the limits.
func (l Limits) check(f facts.Facts) error {
	if l.Bytes > 0 && f.Bytes > l.Bytes {
		return &LimitError{"bytes", f.Bytes, l.Bytes, f.Stored}
	}
	return l.Check(f.Stored)
}

// checkFrames is check for an animation, all of whose frames are held at once.
func (l Limits) checkFrames(f facts.Facts) error {
	if err := l.check(f); err != nil {
		return err
	}
	if n := int64(f.Stored.W) * int64(f.Stored.H) * int64(f.Frames); l.Pixels > 0 && n > l.Pixels {
		return &LimitError{"pixels of all frames", n, l.Pixels, f.Stored}
	}
	return nil
}

// Check compares a declared size with the limits.
func (l Limits) Check(s fit.Size) error {
	if long := max(s.W, s.H); l.Side > 0 && long > l.Side {
		return &LimitError{"side", int64(long), int64(l.Side), s}
	}
	if n := int64(s.W) * int64(s.H); l.Pixels > 0 && n > l.Pixels {
		return &LimitError{"pixels", n, l.Pixels, s}
	}
	return nil
}
