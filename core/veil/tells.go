package veil

import "fmt"

// Says tells in plain words what a veil leaves of what it hides.
func (v Veil) Says() string {
	switch {
	case v.Patches() > 0:
		return fmt.Sprintf("Tells the colours of %d patches, %.0f bits at most: somebody who knows them may guess who it is.", v.Patches(), v.Bits())
	case v.Style == Figure:
		return "Tells nothing: a soft shape says that somebody is here."
	case v.Style == Colour:
		return "Tells nothing: one colour stands here."
	}
	return "Tells nothing: filled from what lies around it."
}

// Upgraded is a veil of the first kind, which drew averages of what it hid, as the one
// that stands for it now. style is how that one was drawn.
func Upgraded(v Veil, style string) Veil {
	v.Cells, v.Told = 0, nil
	if style == "solid" {
		v.Style = Colour
		return v
	}
	v.Style = Cover
	if v.Reason == Face {
		v.Style = Figure
	}
	return v
}
