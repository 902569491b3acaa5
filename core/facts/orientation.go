package facts

import (
	"image"

	"mivlet/core/fit"
)

// Orientation is the Exif tag 0x0112 (CIPA DC-008): how stored pixels are to be
// turned to stand upright, from 1 to 8. Other values count as [Upright].
type Orientation int

// The eight orientations, named by what brings the stored pixels upright.
const (
	Upright          Orientation = 1
	MirrorLeftRight  Orientation = 2
	Turn180          Orientation = 3
	MirrorTopBottom  Orientation = 4
	Transpose        Orientation = 5
	Turn90Clockwise  Orientation = 6
	Transverse       Orientation = 7
	Turn90AntiClocks Orientation = 8
)

// Swaps reports whether width and height change places.
func (o Orientation) Swaps() bool { return o >= Transpose && o <= Turn90AntiClocks }

// Turned returns a size with width and height changed where o swaps them.
func (o Orientation) Turned(s fit.Size) fit.Size {
	if o.Swaps() {
		return fit.Size{W: s.H, H: s.W}
	}
	return s
}

// OnSide reports whether the picture is not stored upright.
func (o Orientation) OnSide() bool { return o > Upright && o <= Turn90AntiClocks }

// ToStored maps an upright pixel to where it lies in a file of the given
// stored size.
func (o Orientation) ToStored(p image.Point, stored fit.Size) image.Point {
	right, bottom := stored.W-1, stored.H-1
	switch o {
	case MirrorLeftRight:
		return image.Pt(right-p.X, p.Y)
	case Turn180:
		return image.Pt(right-p.X, bottom-p.Y)
	case MirrorTopBottom:
		return image.Pt(p.X, bottom-p.Y)
	case Transpose:
		return image.Pt(p.Y, p.X)
	case Turn90Clockwise:
		return image.Pt(p.Y, bottom-p.X)
	case Transverse:
		return image.Pt(right-p.Y, bottom-p.X)
	case Turn90AntiClocks:
		return image.Pt(right-p.Y, p.X)
	}
	return p
}

// RectToStored maps an upright rectangle to the stored pixels it covers.
func (o Orientation) RectToStored(r image.Rectangle, stored fit.Size) image.Rectangle {
	a := o.ToStored(r.Min, stored)
	b := o.ToStored(r.Max.Sub(image.Pt(1, 1)), stored)
	return image.Rect(min(a.X, b.X), min(a.Y, b.Y), max(a.X, b.X)+1, max(a.Y, b.Y)+1)
}

// ToUpright maps a stored pixel to where it is seen: what [Orientation.ToStored] undoes.
func (o Orientation) ToUpright(p image.Point, stored fit.Size) image.Point {
	return o.back().ToStored(p, o.Turned(stored))
}

// RectToUpright maps stored pixels to the upright rectangle they are seen in.
func (o Orientation) RectToUpright(r image.Rectangle, stored fit.Size) image.Rectangle {
	return o.back().RectToStored(r, o.Turned(stored))
}

// back is the orientation that undoes o.
func (o Orientation) back() Orientation {
	switch o {
	case Turn90Clockwise:
		return Turn90AntiClocks
	case Turn90AntiClocks:
		return Turn90Clockwise
	}
	return o
}

// turns are the orientations as matrices that carry stored directions (x to the
// right, y down) to upright ones.
var turns = [9][4]int{
	{}, {1, 0, 0, 1}, {-1, 0, 0, 1}, {-1, 0, 0, -1}, {1, 0, 0, -1}, {0, 1, 1, 0}, {0, -1, 1, 0}, {0, -1, -1, 0}, {0, 1, -1, 0},
}

// Then returns the orientation that does the work of o and then that of next.
func (o Orientation) Then(next Orientation) Orientation {
	a, b := turns[o.known()], turns[next.known()]
	both := [4]int{b[0]*a[0] + b[1]*a[2], b[0]*a[1] + b[1]*a[3], b[2]*a[0] + b[3]*a[2], b[2]*a[1] + b[3]*a[3]}
	for i, m := range turns {
		if i > 0 && m == both {
			return Orientation(i)
		}
	}
	return Upright
}

func (o Orientation) known() Orientation {
	if o < Upright || o > Turn90AntiClocks {
		return Upright
	}
	return o
}
