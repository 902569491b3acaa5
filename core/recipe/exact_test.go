package recipe_test

import (
	"encoding/json"
	"image"
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/fit"
	"mivlet/core/recipe"
	"mivlet/core/veil"
)

// A focus at two tenths across and three tenths down, where it comes to when the picture is
// turned and mirrored. Each was worked out by hand.
func TestWhereAFocusComesTo(t *testing.T) {
	right, left := recipe.Edit{Op: recipe.OpTurn, Degrees: 90}, recipe.Edit{Op: recipe.OpTurn, Degrees: 270}
	over := recipe.Edit{Op: recipe.OpTurn, Degrees: 180}
	h, v := recipe.Edit{Op: recipe.OpFlip, Axis: "h"}, recipe.Edit{Op: recipe.OpFlip, Axis: "v"}
	spot := recipe.Edit{Op: recipe.OpFocus, FocusX: .2, FocusY: .3}
	for name, c := range map[string]struct {
		edits []recipe.Edit
		x, y  float64
	}{
		"as it is":               {nil, .2, .3},
		"mirrored left-right":    {[]recipe.Edit{h}, .8, .3},
		"mirrored top-bottom":    {[]recipe.Edit{v}, .2, .7},
		"upside down":            {[]recipe.Edit{over}, .8, .7},
		"to the right":           {[]recipe.Edit{right}, .7, .2},
		"to the left":            {[]recipe.Edit{left}, .3, .8},
		"right, then mirrored":   {[]recipe.Edit{right, h}, .3, .2},
		"right, then upended":    {[]recipe.Edit{right, v}, .7, .8},
		"mirrored, then right":   {[]recipe.Edit{h, right}, .7, .8},
		"turned twice and again": {[]recipe.Edit{right, right, right}, .3, .8},
	} {
		f := with(t, append([]recipe.Edit{spot}, c.edits...)...).View(source).Focus
		assert.InDelta(t, c.x, f.X, 1e-12, name)
		assert.InDelta(t, c.y, f.Y, 1e-12, name)
	}
	// In a frame it is a fraction of the frame, and at its edge where it lies outside.
	framed := func(frame image.Rectangle) fit.Focus {
		r, err := with(t, spot).WithFrame(frame, source) // at 1200, 1200 of 6000 × 4000
		require.NoError(t, err)
		return r.View(source).Focus
	}
	assert.Equal(t, fit.Focus{X: .1, Y: .5}, framed(image.Rect(1000, 200, 3000, 2200)))
	assert.Equal(t, fit.Focus{X: 0, Y: 1}, framed(image.Rect(2000, 200, 3000, 1000)))
	assert.Equal(t, fit.Focus{X: 1, Y: 0}, framed(image.Rect(0, 2000, 1000, 3000)))
	assert.Equal(t, fit.Centre, recipe.Recipe{}.View(source).Focus)
}

// The largest upright frame is as large as a search finds, and its corners lie in the
// picture. The condition for a rectangle w × h turned by a in W × H: w cos a + h sin a ≤ W
// and w sin a + h cos a ≤ H (plane geometry).
func TestTheLargestUprightFrame(t *testing.T) {
	for _, s := range []fit.Size{{W: 6000, H: 4000}, {W: 4000, H: 6000}, {W: 5000, H: 5000}, {W: 8000, H: 1000}, {W: 1000, H: 8000}, {W: 3000, H: 2999}} {
		for _, degrees := range []float64{.5, 3, -7, 15, -15} {
			sin, cos := math.Sincos(math.Abs(degrees) * math.Pi / 180)
			best := 0.0
			for w := 1.0; w < float64(max(s.W, s.H)); w++ {
				h := math.Min((float64(s.W)-w*cos)/sin, (float64(s.H)-w*sin)/cos)
				best = math.Max(best, w*h)
			}
			got := recipe.LargestUpright(s, degrees)
			w, h := float64(got.Dx()), float64(got.Dy())
			assert.LessOrEqual(t, w*cos+h*sin, float64(s.W), "%v by %v", s, degrees)
			assert.LessOrEqual(t, w*sin+h*cos, float64(s.H), "%v by %v", s, degrees)
			assert.Greater(t, (w+4)*(h+4), best*.999, "%v by %v: %v is not the largest", s, degrees, got)
			assert.LessOrEqual(t, w*h, best, "%v by %v", s, degrees)
			middle := got.Min.Add(got.Max)
			assert.InDelta(t, s.W, middle.X, 1, "about the middle")
			assert.InDelta(t, s.H, middle.Y, 1, "about the middle")
		}
	}
	assert.Equal(t, image.Rect(0, 0, 1, 1).Size(), recipe.LargestUpright(fit.Size{W: 2, H: 2}, 15).Size(), "never nothing")
}

// What is no edit leaves none, and limits are taken exactly.
func TestEditsAtTheirEdges(t *testing.T) {
	for e, ok := range map[recipe.Edit]bool{
		{Op: recipe.OpFrame, Width: 1, Height: 1}: true, {Op: recipe.OpFrame, Width: 0, Height: 1}: false, {Op: recipe.OpFrame, Width: 1, Height: 0}: false,
		{Op: recipe.OpFrame, X: -1, Width: 1, Height: 1}: false, {Op: recipe.OpFrame, Y: -1, Width: 1, Height: 1}: false,
		{Op: recipe.OpStraighten, Degrees: 15}: true, {Op: recipe.OpStraighten, Degrees: -15}: true, {Op: recipe.OpStraighten, Degrees: 15.01}: false,
		{Op: recipe.OpFocus, FocusX: 1, FocusY: 0}: true, {Op: recipe.OpFocus, FocusX: 1.01}: false, {Op: recipe.OpFocus, FocusY: 1.01}: false, {Op: recipe.OpFocus, FocusX: -.01}: false,
	} {
		assert.Equal(t, ok, e.Check() == nil, "%+v", e)
	}
	assert.Error(t, recipe.Edit{Op: recipe.OpStraighten, Degrees: math.NaN()}.Check())
	straight := recipe.Edit{Op: recipe.OpStraighten, Degrees: 2}
	r := with(t, straight)
	r, err := r.With(recipe.Edit{Op: recipe.OpStraighten, Degrees: 0}, source)
	require.NoError(t, err)
	assert.Empty(t, r.Edits, "straight as it was")
	r = with(t, straight, recipe.Edit{Op: recipe.OpTurn, Degrees: 90}, recipe.Edit{Op: recipe.OpStraighten, Degrees: 3})
	assert.Len(t, r.Edits, 2, "turning stays, straightening is replaced")
	veiled := recipe.Edit{Op: recipe.OpVeil, Veil: &veil.Veil{ID: "a", Shape: veil.Rect, Bounds: image.Rect(0, 0, 9, 9), Style: veil.Cover}}
	r = with(t, veiled)
	_, err = r.With(veiled, source)
	assert.ErrorContains(t, err, `"a"`, "the first one, too, is there already")
	assert.Equal(t, "Focus at 20 % across, 75 % down", recipe.Edit{Op: recipe.OpFocus, FocusX: .2, FocusY: .75}.Describe())
}

// A fault in a document is told with the number of the edit, counted from 1.
func TestFaultsOfDocumentsNameTheEdit(t *testing.T) {
	var r recipe.Recipe
	err := json.Unmarshal([]byte(`{"version":3,"edits":[{"op":"turn","degrees":90},{"op":"turn","degrees":45}]}`), &r)
	assert.ErrorContains(t, err, "edit 2: a turn is by 90, 180 or 270 degrees, not 45")
	assert.ErrorContains(t, json.Unmarshal([]byte(`{"version":9,"edits":[]}`), &r), "version 9")
}
