// Package veil hides a region of a picture so that nobody can bring it back.
//
// Averages of what is hidden can be guessed back: whoever knows the font draws
// every candidate, averages it the same way and compares (Hill, Zhou, Saul,
// Shacham, "On the (In)effectiveness of Mosaicing and Blurring as Tools for
// Document Redaction", PoPETs 2016(4)), and blurred faces are recognised
// (McPherson, Shokri, Shmatikov, arXiv:1609.00408). A veil therefore reads no
// pixel of what it hides: the region, grown by as far as its traces reach, is
// filled from a ring around it. Two pictures that differ only inside the region
// give the same veiled picture, to the last bit.
//
// One kind may tell a little, where an editor asks for it: a figure with a few
// coarse colours, sampled once with noise of a secret and kept with the veil.
// What they tell at most is [Veil.Bits].
package veil

import (
	"encoding/hex"
	"fmt"
	"image"
	"slices"

	"mivlet/core/fit"
)

// Shape is the outline of a veil.
type Shape string

// The shapes.
const (
	Rect    Shape = "rect"
	Ellipse Shape = "ellipse"
	Polygon Shape = "polygon"
)

// Style is what is drawn where something is hidden.
type Style string

// The styles.
const (
	Cover  Style = "cover"  // filled smoothly from what lies around it
	Colour Style = "colour" // one colour that the house has chosen
	Figure Style = "figure" // a soft shape that says: somebody stands here
)

// Styles lists them in the order they are offered.
var Styles = []Style{Cover, Colour, Figure}

// Reason is what a veil hides.
type Reason string

// The reasons.
const (
	Face   Reason = "face"
	Person Reason = "person"
	Number Reason = "number"
	Name   Reason = "name"
	Plate  Reason = "plate"
	Screen Reason = "screen"
	Other  Reason = "other"
)

// Reasons lists them in the order they are offered.
var Reasons = []Reason{Face, Person, Number, Name, Plate, Screen, Other}

// OfText reports whether what is hidden for the reason can be read.
func (r Reason) OfText() bool { return r != Face && r != Person }

// Grey is the colour of a veil where the house has chosen none, as HTML writes it.
const Grey = "#8a8f8c"

// Veil is one hidden region, in pixels of the upright original.
type Veil struct {
	ID     string          `json:"id,omitempty"` // stays with the veil for life; empty where nobody keeps it
	Shape  Shape           `json:"shape"`
	Bounds image.Rectangle `json:"bounds"`           // of a rect or an ellipse
	Points []image.Point   `json:"points,omitempty"` // of a polygon, in order
	Style  Style           `json:"style"`
	Reason Reason          `json:"reason,omitempty"`
	// Letters is the height of the text that is hidden, in pixels; 0 where nobody
	// measured it.
	Letters int        `json:"letters,omitempty"`
	Fill    string     `json:"fill,omitempty"`  // of a colour, #rrggbb
	Cells   int        `json:"cells,omitempty"` // of a figure: coarse colours along the shorter side, 0 to [MostCells]
	Told    *Told      `json:"told,omitempty"`  // the coarse colours themselves, once they are sampled
	Path    []Keyframe `json:"path,omitempty"`  // where it stands in the frames of an animation, in their order

	margin float64 // how far what is hidden reaches over the outline; 0 until it is worked out
}

// Keyframe is where a veil stands from one frame of an animation on.
type Keyframe struct {
	Frame  int             `json:"frame"` // counted from 0
	Bounds image.Rectangle `json:"bounds"`
}

// Check refuses a veil that hides nothing or tells too much.
func (v Veil) Check() error {
	switch {
	case v.Shape != Rect && v.Shape != Ellipse && v.Shape != Polygon:
		return fmt.Errorf("a veil has the shape rect, ellipse or polygon, not %q", v.Shape)
	case !slices.Contains(Styles, v.Style):
		return fmt.Errorf("a veil has the style cover, colour or figure, not %q", v.Style)
	case v.Reason != "" && !slices.Contains(Reasons, v.Reason):
		return fmt.Errorf("a veil cannot hide a %q", v.Reason)
	case v.Shape == Polygon && len(v.Points) < 3:
		return fmt.Errorf("an outline needs three points, not %d", len(v.Points))
	case v.Box().Empty():
		return fmt.Errorf("a veil of %d × %d pixels hides nothing", v.Box().Dx(), v.Box().Dy())
	case v.Letters < 0:
		return fmt.Errorf("text is not %d pixels high", v.Letters)
	}
	if v.Style == Colour {
		if _, err := rgb(v.Fill); err != nil {
			return err
		}
	}
	for i, s := range v.Path {
		if s.Bounds.Empty() || s.Frame < 0 || i > 0 && s.Frame <= v.Path[i-1].Frame {
			return fmt.Errorf("the places of a veil follow its frames, and none is empty: see place %d", i+1)
		}
	}
	return v.checkColours()
}

func (v Veil) checkColours() error {
	switch {
	case v.Cells == 0 && v.Told == nil:
		return nil
	case v.Style != Figure:
		return fmt.Errorf("only a figure may keep coarse colours, not a %s", v.Style)
	case v.Reason.OfText() && v.Reason != "":
		return fmt.Errorf("coarse colours are for faces and people: a %s could be guessed from them", v.Reason)
	case v.Cells < 1 || v.Cells > MostCells:
		return fmt.Errorf("a figure has 1 to %d coarse colours along its shorter side, not %d", MostCells, v.Cells)
	}
	return v.Told.check()
}

// rgb reads a colour as HTML writes it, or nothing as [Grey].
func rgb(s string) ([3]uint8, error) {
	if s == "" {
		s = Grey
	}
	b, err := hex.DecodeString(s[1:])
	if err != nil || s[0] != '#' || len(b) != 3 {
		return [3]uint8{}, fmt.Errorf("%q is no colour: write it as #rrggbb, such as %s", s, Grey)
	}
	return [3]uint8(b), nil
}

// Box returns the smallest rectangle around the outline.
func (v Veil) Box() image.Rectangle {
	if v.Shape != Polygon {
		return v.Bounds
	}
	var b image.Rectangle
	for i, p := range v.Points {
		at := image.Rectangle{p, p.Add(image.Pt(1, 1))}
		if i == 0 {
			b = at
		} else {
			b = b.Union(at)
		}
	}
	return b
}

// Scaled returns the veil as it lies on a copy of another size: outwards, as that
// must not show the rim of what is hidden.
func (v Veil) Scaled(s fit.Scale) Veil {
	v.margin = v.Margin() * max(s.X, s.Y)
	if !v.Bounds.Empty() {
		v.Bounds = s.Outward(v.Bounds)
	}
	v.Points = slices.Clone(v.Points)
	for i, p := range v.Points {
		v.Points[i] = s.Point(p)
	}
	v.Path = slices.Clone(v.Path)
	for i := range v.Path {
		v.Path[i].Bounds = s.Outward(v.Path[i].Bounds)
	}
	return v
}

// Map returns the veil with its outline carried over by to, which maps pixels
// by turning and mirroring.
func (v Veil) Map(to func(image.Point) image.Point) Veil {
	if !v.Bounds.Empty() {
		v.Bounds = mapped(v.Bounds, to)
	}
	points := make([]image.Point, len(v.Points))
	for i, p := range v.Points {
		points[i] = to(p)
	}
	v.Points = points
	v.Path = slices.Clone(v.Path)
	for i := range v.Path {
		v.Path[i].Bounds = mapped(v.Path[i].Bounds, to)
	}
	v.Told = v.Told.mapped(to)
	return v
}

func mapped(r image.Rectangle, to func(image.Point) image.Point) image.Rectangle {
	a, b := to(r.Min), to(r.Max.Sub(image.Pt(1, 1)))
	return image.Rect(min(a.X, b.X), min(a.Y, b.Y), max(a.X, b.X)+1, max(a.Y, b.Y)+1)
}
