package fit

import "image"

// Want is the space a picture is cut for, in CSS pixels. With a width only, the
// height follows; with a height only, the width follows (strips that slide
// sideways). With both it is an exact box, or, with Inside, a box that the
// whole picture must go into.
type Want struct {
	Width, Height int
	Inside        bool
	// Buffer is added to the ruling side, in CSS pixels, for containers that
	// stretch a little.
	Buffer int
}

// Cut is one file to make: which source pixels, to how many pixels.
type Cut struct {
	// Source is the part of the upright original the cut is taken from.
	Source image.Rectangle
	// Size is what the cut measures, in device pixels.
	Size Size
	// Density is what was asked for, in device pixels per CSS pixel.
	Density float64
	// CSSWidth is how wide the cut is shown, in CSS pixels.
	CSSWidth int
	// Effective is pixels of the cut divided by CSS pixels of the slot, on the
	// side that rules. It is below Density where the source was too small.
	Effective float64
}

// SameCut is how much larger than the cut before a further cut must be to be
// worth a file of its own.
const SameCut = 1.10

// Plan returns the cuts for one slot, one for each density in ascending order.
// frame is the framed part of the upright original, in its pixels. A further
// cut that would be within 10 % of the one before is left out.
func Plan(frame image.Rectangle, focus Focus, want Want, densities []float64) []Cut {
	cuts := make([]Cut, 0, len(densities))
	for _, d := range densities {
		c := one(frame, focus, want, d)
		if n := len(cuts); n > 0 && !larger(c.Size, cuts[n-1].Size) {
			continue
		}
		cuts = append(cuts, c)
	}
	return cuts
}

func larger(a, b Size) bool {
	return float64(a.W) > SameCut*float64(b.W) || float64(a.H) > SameCut*float64(b.H)
}

func one(frame image.Rectangle, focus Focus, want Want, d float64) Cut {
	src := SizeOf(frame)
	c := Cut{Source: frame, Density: d}
	switch {
	case want.Width > 0 && want.Height > 0 && !want.Inside:
		c.Source = BoxFrame(frame, Size{want.Width, want.Height}, focus)
		part := SizeOf(c.Source)
		w, h := device(want.Width, want.Buffer, d), device(want.Height, want.Buffer, d)
		if w > part.W || h > part.H {
			c.Size = part
		} else {
			c.Size = Size{w, h}
		}
		c.CSSWidth = want.Width
		c.Effective = ratio(c.Size.W, want.Width)
	case want.Width > 0 && want.Height > 0:
		box := Size{device(want.Width, want.Buffer, d), device(want.Height, want.Buffer, d)}
		c.Size = Inside(src, box)
		if c.Size.W > src.W || c.Size.H > src.H {
			c.Size = src
		}
		shown := Inside(src, Size{want.Width, want.Height})
		c.CSSWidth = shown.W
		c.Effective = ratio(c.Size.W, shown.W)
	case want.Height > 0:
		c.Size = ByHeight(src, min(device(want.Height, want.Buffer, d), src.H))
		c.CSSWidth = ByHeight(src, want.Height).W
		c.Effective = ratio(c.Size.H, want.Height)
	default:
		c.Size = ByWidth(src, min(device(want.Width, want.Buffer, d), src.W))
		c.CSSWidth = want.Width
		c.Effective = ratio(c.Size.W, want.Width)
	}
	return c
}

// device turns CSS pixels and a buffer into device pixels:
// round(css·d) + round(buffer·d).
func device(css, buffer int, d float64) int {
	return max(1, round(float64(css)*d)+round(float64(buffer)*d))
}

func ratio(pixels, css int) float64 {
	if css == 0 {
		return 0
	}
	return float64(pixels) / float64(css)
}
