// Package recipe holds the ordered edits that lead from an untouched original
// to what is shown. Coordinates are pixels of the upright original, so that
// turning later moves frame and veils along, and a recipe means the same
// whatever is made from it.
package recipe

import (
	"fmt"
	"image"
	"math"
	"slices"

	"mivlet/core/facts"
	"mivlet/core/fit"
	"mivlet/core/veil"
)

// Recipe is a list of edits. The zero value shows the original as it is.
type Recipe struct {
	Edits []Edit
}

// Op names an edit.
type Op string

// The edits. Of frame, straighten and focus a later one replaces an earlier
// one; turns, flips and veils add up.
const (
	OpFrame      Op = "frame"      // crop to a rectangle
	OpTurn       Op = "turn"       // by Degrees clockwise: 90, 180 or 270
	OpFlip       Op = "flip"       // along Axis: "h" left-right, "v" top-bottom
	OpStraighten Op = "straighten" // by Degrees clockwise, −15 to 15
	OpFocus      Op = "focus"      // FocusX, FocusY: the spot that must survive every crop
	OpVeil       Op = "veil"       // hide a region
)

// MostStraighten is the largest angle of a straightening, in degrees.
const MostStraighten = 15.0

// Edit is one step of a recipe. Which fields count depends on Op.
type Edit struct {
	Op      Op         `json:"op"`
	X       int        `json:"x,omitempty"`
	Y       int        `json:"y,omitempty"`
	Width   int        `json:"width,omitempty"`
	Height  int        `json:"height,omitempty"`
	Degrees float64    `json:"degrees,omitempty"`
	Axis    string     `json:"axis,omitempty"`
	FocusX  float64    `json:"focus_x,omitempty"` // 0 to 1, of the upright original's width
	FocusY  float64    `json:"focus_y,omitempty"`
	Veil    *veil.Veil `json:"veil,omitempty"`
}

func (e Edit) rect() image.Rectangle { return image.Rect(e.X, e.Y, e.X+e.Width, e.Y+e.Height) }

// FrameIn refuses a frame that holds nothing or leaves a picture of a size.
func FrameIn(f image.Rectangle, picture fit.Size) error {
	if err := checkFrame(f); err != nil {
		return err
	}
	if !f.In(picture.Rect()) {
		return fmt.Errorf("a frame of %d × %d pixels from %d, %d leaves the picture, which has %d × %d", f.Dx(), f.Dy(), f.Min.X, f.Min.Y, picture.W, picture.H)
	}
	return nil
}

// checkFrame refuses a frame that no picture can have.
func checkFrame(f image.Rectangle) error {
	if f.Dx() <= 0 || f.Dy() <= 0 {
		return fmt.Errorf("a frame of %d × %d pixels holds nothing", f.Dx(), f.Dy())
	}
	if f.Min.X < 0 || f.Min.Y < 0 {
		return fmt.Errorf("a frame from %d, %d leaves the picture", f.Min.X, f.Min.Y)
	}
	return nil
}

// Check refuses an edit that cannot be done to any picture.
func (e Edit) Check() error {
	switch e.Op {
	case OpFrame:
		return checkFrame(e.rect())
	case OpTurn:
		if e.Degrees != 90 && e.Degrees != 180 && e.Degrees != 270 {
			return fmt.Errorf("a turn is by 90, 180 or 270 degrees, not %v", e.Degrees)
		}
	case OpFlip:
		if e.Axis != "h" && e.Axis != "v" {
			return fmt.Errorf("a flip is along h or v, not %q", e.Axis)
		}
	case OpStraighten:
		if !(math.Abs(e.Degrees) <= MostStraighten) {
			return fmt.Errorf("a picture is straightened by −%v to %v degrees, not %v", MostStraighten, MostStraighten, e.Degrees)
		}
	case OpFocus:
		if !(e.FocusX >= 0 && e.FocusX <= 1 && e.FocusY >= 0 && e.FocusY <= 1) {
			return fmt.Errorf("the focus lies from 0 to 1, not at %v, %v", e.FocusX, e.FocusY)
		}
	case OpVeil:
		if e.Veil == nil {
			return fmt.Errorf("an edit %q needs the veil that it draws", e.Op)
		}
		return e.Veil.Check()
	default:
		return fmt.Errorf("edit %q is not known: it is one of frame, turn, flip, straighten, focus and veil", e.Op)
	}
	return nil
}

// Describe says the edit in plain words, for the history.
func (e Edit) Describe() string {
	switch e.Op {
	case OpFrame:
		return fmt.Sprintf("Framed to %d × %d from %d, %d", e.Width, e.Height, e.X, e.Y)
	case OpTurn:
		return map[float64]string{90: "Turned a quarter to the right", 180: "Turned upside down", 270: "Turned a quarter to the left"}[e.Degrees]
	case OpFlip:
		return map[string]string{"h": "Mirrored left and right", "v": "Mirrored top and bottom"}[e.Axis]
	case OpStraighten:
		return fmt.Sprintf("Straightened by %.1f°", e.Degrees)
	case OpFocus:
		return fmt.Sprintf("Focus at %.0f %% across, %.0f %% down", 100*e.FocusX, 100*e.FocusY)
	case OpVeil:
		return fmt.Sprintf("Hidden: %s, %s", e.Veil.Shape, e.Veil.Style)
	}
	return "Unknown edit"
}

// replaces reports whether an edit takes the place of an earlier one of its kind.
func (o Op) replaces() bool { return o == OpFrame || o == OpStraighten || o == OpFocus }

// With returns the recipe with an edit added. It fails where the edit is none,
// or where a frame leaves the source.
func (r Recipe) With(e Edit, source fit.Size) (Recipe, error) {
	if err := e.Check(); err != nil {
		return r, err
	}
	if e.Op == OpFrame {
		if err := FrameIn(e.rect(), source); err != nil {
			return r, err
		}
	}
	if e.Op == OpVeil && r.veilAt(e.Veil.ID) >= 0 {
		return r, fmt.Errorf("the veil %q is drawn already", e.Veil.ID)
	}
	edits := slices.DeleteFunc(slices.Clone(r.Edits), func(old Edit) bool { return e.Op.replaces() && old.Op == e.Op })
	if e.Op == OpFrame && e.rect() == source.Rect() || e.Op == OpStraighten && e.Degrees == 0 {
		return Recipe{edits}, nil // the whole picture, as it was: no edit
	}
	return Recipe{append(edits, e)}, nil
}

// WithFrame returns the recipe with the frame set. A frame of the whole source
// is no edit. It fails where the frame leaves the source or has no pixels.
func (r Recipe) WithFrame(frame image.Rectangle, source fit.Size) (Recipe, error) {
	return r.With(Edit{Op: OpFrame, X: frame.Min.X, Y: frame.Min.Y, Width: frame.Dx(), Height: frame.Dy()}, source)
}

// Undo returns the recipe without its last edit.
func (r Recipe) Undo() Recipe {
	if len(r.Edits) == 0 {
		return r
	}
	return Recipe{slices.Clone(r.Edits[:len(r.Edits)-1])}
}

// Frame returns the part of a source of the given upright size that the recipe
// shows.
func (r Recipe) Frame(source fit.Size) image.Rectangle { return r.View(source).Frame }

// View is what a recipe comes to for one source.
type View struct {
	Frame      image.Rectangle   // in the plane of the upright original, after straightening
	Straighten float64           // degrees clockwise
	Turn       facts.Orientation // of the framed part, at last
	Focus      fit.Focus         // in the frame as it is seen
	Veils      []veil.Veil
}

// View works out what the recipe shows of a source of the given upright size.
func (r Recipe) View(source fit.Size) View {
	v := View{Frame: source.Rect(), Turn: facts.Upright}
	focus := fit.Centre
	framed, focused := false, false
	for _, e := range r.Edits {
		switch e.Op {
		case OpFrame:
			if f := e.rect().Intersect(source.Rect()); !f.Empty() {
				v.Frame, framed = f, true
			}
		case OpTurn:
			v.Turn = v.Turn.Then(map[float64]facts.Orientation{90: facts.Turn90Clockwise, 180: facts.Turn180, 270: facts.Turn90AntiClocks}[e.Degrees])
		case OpFlip:
			v.Turn = v.Turn.Then(map[string]facts.Orientation{"h": facts.MirrorLeftRight, "v": facts.MirrorTopBottom}[e.Axis])
		case OpStraighten:
			v.Straighten = e.Degrees
		case OpFocus:
			focus, focused = fit.Focus{X: e.FocusX, Y: e.FocusY}, true
		case OpVeil:
			v.Veils = append(v.Veils, *e.Veil)
		}
	}
	if v.Straighten != 0 && !framed {
		v.Frame = LargestUpright(source, v.Straighten)
	}
	v.Focus = fit.Centre
	if focused {
		v.Focus = v.seen(focus, source)
	}
	return v
}

// seen carries a focus on the original to one in the frame as it is seen.
func (v View) seen(f fit.Focus, source fit.Size) fit.Focus {
	part := func(at float64, whole, from, length int) float64 {
		return min(max((at*float64(whole)-float64(from))/float64(length), 0), 1)
	}
	x := part(f.X, source.W, v.Frame.Min.X, v.Frame.Dx())
	y := part(f.Y, source.H, v.Frame.Min.Y, v.Frame.Dy())
	switch v.Turn {
	case facts.MirrorLeftRight:
		return fit.Focus{X: 1 - x, Y: y}
	case facts.Turn180:
		return fit.Focus{X: 1 - x, Y: 1 - y}
	case facts.MirrorTopBottom:
		return fit.Focus{X: x, Y: 1 - y}
	case facts.Transpose:
		return fit.Focus{X: y, Y: x}
	case facts.Turn90Clockwise:
		return fit.Focus{X: 1 - y, Y: x}
	case facts.Transverse:
		return fit.Focus{X: 1 - y, Y: 1 - x}
	case facts.Turn90AntiClocks:
		return fit.Focus{X: y, Y: 1 - x}
	}
	return fit.Focus{X: x, Y: y}
}

// Seen is the frame as it is seen, turned, at the origin.
func (v View) Seen() image.Rectangle {
	return v.Turn.Turned(fit.SizeOf(v.Frame)).Rect()
}

// Part carries a part of the frame as it is seen back to the plane of the
// upright original.
func (v View) Part(seen image.Rectangle) image.Rectangle {
	return v.Turn.RectToStored(seen, fit.SizeOf(v.Frame)).Add(v.Frame.Min)
}

// Plan returns the cuts that a slot needs of the view, with their source parts
// in the plane of the upright original.
func (v View) Plan(want fit.Want, densities []float64) []fit.Cut {
	cuts := fit.Plan(v.Seen(), v.Focus, want, densities)
	for i := range cuts {
		cuts[i].Source = v.Part(cuts[i].Source)
	}
	return cuts
}

// LargestUpright returns the largest upright rectangle, in the plane of a
// source that is turned by a small angle about its middle, that shows nothing
// but the picture.
func LargestUpright(source fit.Size, degrees float64) image.Rectangle {
	w, h := float64(source.W), float64(source.H)
	sin, cos := math.Sincos(math.Abs(degrees) * math.Pi / 180)
	long, short := max(w, h), min(w, h)
	var rw, rh float64
	if short <= 2*sin*cos*long || math.Abs(sin-cos) < 1e-10 {
		// Two corners touch the longer side: half of the shorter one rules.
		x := short / 2
		rw, rh = x/sin, x/cos
		if w < h {
			rw, rh = rh, rw
		}
	} else {
		both := cos*cos - sin*sin
		rw, rh = (w*cos-h*sin)/both, (h*cos-w*sin)/both
	}
	cw, chh := max(1, int(rw)-2), max(1, int(rh)-2) // a pixel of room for the kernel
	x, y := (source.W-cw)/2, (source.H-chh)/2
	return image.Rect(x, y, x+cw, y+chh)
}
