package web

import (
	"fmt"
	"image"
	"slices"

	"mivlet/core/facts"
	"mivlet/core/fit"
	"mivlet/core/recipe"
	"mivlet/core/rules"
	"mivlet/core/veil"
	"mivlet/desk/derive"
)

// veilView is a veil in the list beside the stage.
type veilView struct {
	veil.Veil
	I    int
	Left string // what it leaves, in words
}

// Veils lists the veils of the picture.
func (v benchView) Veils() []veilView {
	var all []veilView
	for i, one := range v.Work.Recipe.Veils() {
		all = append(all, veilView{one, i, one.Says()})
	}
	return all
}

// VeilData is the veils as the hand on the stage reads them.
func (v benchView) VeilData() (string, error) {
	type shape struct {
		ID    string     `json:"id"`
		Shape veil.Shape `json:"shape"`
		fit.Box
		Points [][2]int `json:"points,omitempty"`
	}
	all := []shape{}
	for _, one := range v.Work.Recipe.Veils() {
		outline := shape{one.ID, one.Shape, fit.BoxOf(one.Box()), nil}
		for _, p := range one.Points {
			outline.Points = append(outline.Points, [2]int{p.X, p.Y})
		}
		all = append(all, outline)
	}
	return jsonText(all)
}

// Reasons lists what a veil can hide.
func (benchView) Reasons() []veil.Reason { return veil.Reasons }

// Styles lists how a veil can be drawn.
func (benchView) Styles() []veil.Style { return veil.Styles }

// Colours lists how many coarse colours a figure can keep along its shorter side.
func (benchView) Colours() []int {
	all := make([]int, veil.MostCells+1)
	for i := range all {
		all[i] = i
	}
	return all
}

// Seen is the size of the picture as it is turned, in source pixels.
func (v benchView) Seen() fit.Size { return v.Turn().Turned(v.Source) }

// Turn is how the picture is turned and mirrored.
func (v benchView) Turn() facts.Orientation { return v.Work.Recipe.View(v.Source).Turn }

// FrameSeen is the frame in the picture as it is turned.
func (v benchView) FrameSeen() image.Rectangle {
	return v.Turn().RectToUpright(v.Figures.Frame, v.Source)
}

// plane carries a point of the upright original to the picture as it is turned
// and mirrored (CIPA DC-008, Orientation: 1 to 8), as SVG writes a matrix.
func (v benchView) plane() [6]int {
	w, h := v.Source.W, v.Source.H
	return [9][6]int{{}, {1, 0, 0, 1, 0, 0}, {-1, 0, 0, 1, w, 0}, {-1, 0, 0, -1, w, h}, {1, 0, 0, -1, 0, h}, {0, 1, 1, 0, 0, 0}, {0, 1, -1, 0, h, 0}, {0, -1, -1, 0, h, w}, {0, -1, 1, 0, 0, w}}[v.Turn()]
}

// Plane is the transform from the upright original to the picture as it is
// turned and mirrored.
func (v benchView) Plane() string {
	m := v.plane()
	return fmt.Sprintf("matrix(%d %d %d %d %d %d)", m[0], m[1], m[2], m[3], m[4], m[5])
}

// InView is a part of the upright original in the picture as it is turned, as the
// window of an SVG.
func (v benchView) InView(part image.Rectangle) string {
	m := v.plane()
	at := func(p image.Point) image.Point {
		return image.Pt(m[0]*p.X+m[2]*p.Y+m[4], m[1]*p.X+m[3]*p.Y+m[5])
	}
	a, b := at(part.Min), at(part.Max)
	r := image.Rect(a.X, a.Y, b.X, b.Y)
	return fmt.Sprintf("%d %d %d %d", r.Min.X, r.Min.Y, r.Dx(), r.Dy())
}

// Least is the least width and height of a frame that is not soft, in pixels of
// the upright original; 0 where a side does not rule.
func (v benchView) Least() string {
	if v.Figures.Slot == nil {
		return "0 0"
	}
	want := v.Figures.Slot.Want()
	w, h := want.Width, want.Height
	if want.Inside {
		w, h = 0, 0 // the whole picture goes in, whatever its sides
	}
	if m := v.plane(); m[0] == 0 {
		w, h = h, w
	}
	return fmt.Sprintf("%d %d", w, h)
}

// CutScale is CSS pixels of the picture as it stands on a desktop for each pixel of the frame; 0
// without a cut.
func (v benchView) CutScale() float64 {
	if len(v.Figures.Cuts) == 0 {
		return 0
	}
	c := v.Figures.Usual()
	wide, high := float64(c.Size.W), float64(c.Size.H)
	if c.CSSWidth < c.Size.W { // as it stands, where the file has some pixels more
		wide, high = float64(c.CSSWidth), high*float64(c.CSSWidth)/wide
	}
	if m := v.plane(); m[0] == 0 {
		return high / float64(max(1, c.Source.Dx()))
	}
	return wide / float64(max(1, c.Source.Dx()))
}

// Ratio is a ratio that a frame can be held to.
type Ratio struct{ Value, Title string }

// CopyWidth is the width of the working copy on the stage, in pixels.
func (v benchView) CopyWidth() int { return derive.CopySize(v.Source).W }

// Slots are those that the picture can be fitted for: those of the house, and the spot of the
// banner that it is for.
func (v benchView) Slots() []rules.Slot { return v.Rules.SlotsWith(v.Work.Slot) }

// Ratios lists the usual ratios and those of the house's exact boxes.
func (v benchView) Ratios() []Ratio {
	all := []Ratio{{"", "free"}, {"keep", "as it is"}, {"1:1", "1:1"}, {"3:2", "3:2"}, {"4:3", "4:3"}, {"16:9", "16:9"}, {"2:3", "2:3"}}
	for _, slot := range v.Slots() {
		if w, h := slot.Ratio(); w > 0 {
			value := fmt.Sprintf("%d:%d", w, h)
			if !slices.ContainsFunc(all, func(r Ratio) bool { return r.Value == value }) {
				all = append(all, Ratio{value, value + ", " + slot.Title})
			}
		}
	}
	return all
}

// RatioNow is the ratio of an exact box that the picture is for; "" for others.
func (v benchView) RatioNow() string {
	if v.Slot == nil {
		return ""
	}
	if w, h := v.Slot.Ratio(); w > 0 {
		return fmt.Sprintf("%d:%d", w, h)
	}
	return ""
}

// Slant is the transform of the original inside the plane where it is
// straightened.
func (v benchView) Slant() string {
	return fmt.Sprintf("rotate(%g %g %g)", v.Straighten(), float64(v.Source.W)/2, float64(v.Source.H)/2)
}

// Straighten is the angle of the straightening, in degrees clockwise.
func (v benchView) Straighten() float64 { return v.Work.Recipe.View(v.Source).Straighten }

// FocusAt is the focus in source pixels, and whether one was chosen.
func (v benchView) FocusAt() (p struct {
	X, Y   int
	Chosen bool
}) {
	p.X, p.Y = v.Source.W/2, v.Source.H/2
	for _, e := range v.Work.Recipe.Edits {
		if e.Op == recipe.OpFocus {
			p.X, p.Y, p.Chosen = int(e.FocusX*float64(v.Source.W)), int(e.FocusY*float64(v.Source.H)), true
		}
	}
	return p
}

// drawn is the picture inside the drawing of its column: which file, its size,
// and the part of it that is seen.
type drawn struct {
	Image  string
	Source fit.Size
	View   string
}

// Drawn gives the picture as its recipe has it: what lies on the stage where it
// stands upright, with the frame as the window on it; else a copy of its own.
func (v benchView) Drawn() drawn {
	f := v.Figures.Frame
	for _, e := range v.Work.Recipe.Edits {
		if !v.Moving && (e.Op == recipe.OpTurn || e.Op == recipe.OpFlip || e.Op == recipe.OpStraighten) {
			size := fit.SizeOf(v.Work.Recipe.View(v.Source).Seen())
			return drawn{fmt.Sprintf("/looks/%d?v=%s", v.ID, derive.LookKey(v.Picture)), size, fmt.Sprintf("0 0 %d %d", size.W, size.H)}
		}
	}
	return drawn{fmt.Sprintf("/bench/%d/stage?v=%s", v.ID, derive.StageKey(v.Picture)), v.Figures.Source, fmt.Sprintf("%d %d %d %d", f.Min.X, f.Min.Y, f.Dx(), f.Dy())}
}
