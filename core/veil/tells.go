package veil

import "fmt"

// Says tells in plain words what a veil leaves of what it hides.
func (v Veil) Says() string {
	switch {
	case v.Patches() > 0:
		return fmt.Sprintf("Reveals the colours of %d patches, at most %.0f bits. Somebody who knows them may guess who it is.", v.Patches(), v.Bits())
	case v.Style == Figure:
		return "Reveals nothing: a soft shape says that somebody is here."
	case v.Style == Colour:
		return "Reveals nothing: filled with one colour."
	}
	return "Reveals nothing: filled from what is around it."
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
