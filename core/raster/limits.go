package raster

import (
	"fmt"

	"mivlet/core/facts"
	"mivlet/core/fit"
)

// Limits bounds what is decoded, checked before a pixel is allocated. 0 is no limit.
type Limits struct {
	Side        int   // longest side, in pixels
	Pixels      int64 // width × height
	Bytes       int64 // of the file
	Frames      int   // of an animation
	FramePixels int64 // of all frames of an animation together
	Memory      int64 // bytes that its pixels take once they are decoded, see [Cost]
}

// LimitError tells which limit a picture goes beyond.
type LimitError struct {
	What  string // "side", "pixels", "bytes", "frames", "pixels of all frames" or "memory"
	Value int64
	Limit int64
	Size  fit.Size
}

func (e *LimitError) Error() string {
	switch e.What {
	case "bytes":
		return fmt.Sprintf("the file has %d bytes, and the limit is %d", e.Value, e.Limit)
	case "frames":
		return fmt.Sprintf("the picture says that it has %d frames, and the limit is %d", e.Value, e.Limit)
	case "memory":
		return fmt.Sprintf("the picture says that it measures %d × %d: decoded it takes %d bytes, and the limit is %d", e.Size.W, e.Size.H, e.Value, e.Limit)
	}
	return fmt.Sprintf("the picture says that it measures %d × %d: its %s of %d go beyond the limit of %d",
		e.Size.W, e.Size.H, e.What, e.Value, e.Limit)
}

// CheckStill compares all that is known of a file with the limits, as far as one
// frame of it is decoded.
func (l Limits) CheckStill(f facts.Facts) error {
	if err := l.check(f); err != nil {
		return err
	}
	return l.checkMemory(f, 1)
}

// CheckFrames is CheckStill for an animation, all of whose frames are held at once.
func (l Limits) CheckFrames(f facts.Facts) error {
	if err := l.check(f); err != nil {
		return err
	}
	if l.Frames > 0 && f.Frames > l.Frames {
		return &LimitError{"frames", int64(f.Frames), int64(l.Frames), f.Stored}
	}
	if n := int64(f.Stored.W) * int64(f.Stored.H) * int64(f.Frames); l.FramePixels > 0 && n > l.FramePixels {
		return &LimitError{"pixels of all frames", n, l.FramePixels, f.Stored}
	}
	return l.checkMemory(f, f.Frames)
}

func (l Limits) checkMemory(f facts.Facts, frames int) error {
	if n := Cost(f, frames); l.Memory > 0 && n > l.Memory {
		return &LimitError{"memory", n, l.Memory, f.Stored}
	}
	return nil
}

func (l Limits) check(f facts.Facts) error {
	if l.Bytes > 0 && f.Bytes > l.Bytes {
		return &LimitError{"bytes", f.Bytes, l.Bytes, f.Stored}
	}
	return l.Check(f.Decoded())
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
