package recipe_test

import (
	"encoding/json"
	"image"
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"mivlet/core/facts"
	"mivlet/core/fit"
	"mivlet/core/recipe"
	"mivlet/core/veil"
)

var source = fit.Size{W: 6000, H: 4000}

func with(t require.TestingT, edits ...recipe.Edit) recipe.Recipe {
	var r recipe.Recipe
	var err error
	for _, e := range edits {
		r, err = r.With(e, source)
		require.NoError(t, err)
	}
	return r
}

func TestFrameReplacesFrame(t *testing.T) {
	r := with(t, recipe.Edit{Op: recipe.OpFrame, X: 100, Y: 100, Width: 800, Height: 600}, recipe.Edit{Op: recipe.OpFrame, Width: 600, Height: 400})
	assert.Len(t, r.Edits, 1)
	assert.Equal(t, image.Rect(0, 0, 600, 400), r.Frame(source))
	assert.Equal(t, "Framed to 600 × 400 from 0, 0", r.Edits[0].Describe())
}

func TestWholeSourceIsNoEdit(t *testing.T) {
	r, err := recipe.Recipe{}.WithFrame(source.Rect(), source)
	require.NoError(t, err)
	assert.Empty(t, r.Edits)
	assert.Equal(t, source.Rect(), r.Frame(source))
}

func TestWhatIsNoEditIsRefused(t *testing.T) {
	for _, bad := range []recipe.Edit{
		{Op: recipe.OpFrame, X: -1, Width: 10, Height: 10}, {Op: recipe.OpFrame, X: 5990, Width: 11, Height: 10}, {Op: recipe.OpFrame, Width: 0, Height: 80},
		{Op: recipe.OpTurn, Degrees: 45}, {Op: recipe.OpFlip, Axis: "d"}, {Op: recipe.OpStraighten, Degrees: 16}, {Op: recipe.OpStraighten, Degrees: math.NaN()},
		{Op: recipe.OpFocus, FocusX: 1.1}, {Op: recipe.OpVeil}, {Op: recipe.OpVeil, Veil: &veil.Veil{Shape: veil.Rect, Style: veil.Cover}},
		{Op: recipe.OpVeil, Veil: &veil.Veil{Shape: veil.Rect, Style: veil.Figure, Cells: 40, Bounds: image.Rect(0, 0, 9, 9)}}, {Op: "melt"},
	} {
		r, err := recipe.Recipe{}.With(bad, source)
		assert.Error(t, err, "%+v", bad)
		assert.Empty(t, r.Edits)
	}
}

func TestTurningAndMirroring(t *testing.T) {
	quarter := recipe.Edit{Op: recipe.OpTurn, Degrees: 90}
	h, v := recipe.Edit{Op: recipe.OpFlip, Axis: "h"}, recipe.Edit{Op: recipe.OpFlip, Axis: "v"}
	turn := func(edits ...recipe.Edit) facts.Orientation { return with(t, edits...).View(source).Turn }
	assert.Equal(t, facts.Upright, turn(quarter, quarter, quarter, quarter), "turned four times is as it was")
	assert.Equal(t, facts.Turn180, turn(h, v), "both mirrors are a half turn")
	assert.Equal(t, turn(recipe.Edit{Op: recipe.OpTurn, Degrees: 270}), turn(quarter, quarter, quarter))
	assert.Equal(t, facts.Transpose, turn(quarter, h), "a quarter to the right, then left-right")
	assert.Equal(t, facts.Transverse, turn(h, quarter), "the order counts")
	assert.Equal(t, image.Rect(0, 0, 4000, 6000), with(t, quarter).View(source).Seen())
}

// Turning later moves the frame along: the same pixels are shown.
func TestTurningKeepsWhatIsFramed(t *testing.T) {
	r := with(t, recipe.Edit{Op: recipe.OpFrame, X: 1000, Y: 500, Width: 3000, Height: 2000}, recipe.Edit{Op: recipe.OpTurn, Degrees: 90})
	v := r.View(source)
	assert.Equal(t, image.Rect(1000, 500, 4000, 2500), v.Frame)
	cuts := v.Plan(fit.Want{Width: 640}, []float64{1})
	assert.Equal(t, fit.Size{W: 640, H: 960}, cuts[0].Size, "2000 × 3000 as it is seen")
	assert.Equal(t, v.Frame, cuts[0].Source)

	// A square from the top of what is seen is the left of the original's frame.
	r = with(t, append(r.Edits, recipe.Edit{Op: recipe.OpFocus, FocusX: 1000.0 / 6000, FocusY: 0.4})...)
	cuts = r.View(source).Plan(fit.Want{Width: 300, Height: 300}, []float64{1})
	assert.Equal(t, image.Rect(1000, 500, 3000, 2500), cuts[0].Source)
}

func TestStraightening(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		size := fit.Size{W: rapid.IntRange(50, 8000).Draw(t, "w"), H: rapid.IntRange(50, 8000).Draw(t, "h")}
		degrees := rapid.Float64Range(0.1, 15).Draw(t, "degrees")
		if rapid.Bool().Draw(t, "to the left") {
			degrees = -degrees
		}
		r := recipe.LargestUpright(size, degrees)
		sin, cos := math.Sincos(degrees * math.Pi / 180)
		for _, p := range []image.Point{r.Min, r.Max, {X: r.Min.X, Y: r.Max.Y}, {X: r.Max.X, Y: r.Min.Y}} {
			dx, dy := float64(p.X)-float64(size.W)/2, float64(p.Y)-float64(size.H)/2
			x, y := cos*dx+sin*dy+float64(size.W)/2, -sin*dx+cos*dy+float64(size.H)/2
			if x < -0.5 || y < -0.5 || x > float64(size.W)+0.5 || y > float64(size.H)+0.5 {
				t.Fatalf("a corner of %v lies outside the picture of %v turned by %v: %v, %v", r, size, degrees, x, y)
			}
		}
	})
	assert.Equal(t, source.Rect(), recipe.Recipe{}.Frame(source))
}

func anyEdit(t *rapid.T) recipe.Edit {
	x, y := rapid.IntRange(0, 5980).Draw(t, "x"), rapid.IntRange(0, 3980).Draw(t, "y")
	switch rapid.SampledFrom([]recipe.Op{recipe.OpFrame, recipe.OpTurn, recipe.OpFlip, recipe.OpStraighten, recipe.OpFocus, recipe.OpVeil}).Draw(t, "op") {
	case recipe.OpTurn:
		return recipe.Edit{Op: recipe.OpTurn, Degrees: rapid.SampledFrom([]float64{90, 180, 270}).Draw(t, "degrees")}
	case recipe.OpFlip:
		return recipe.Edit{Op: recipe.OpFlip, Axis: rapid.SampledFrom([]string{"h", "v"}).Draw(t, "axis")}
	case recipe.OpStraighten:
		return recipe.Edit{Op: recipe.OpStraighten, Degrees: rapid.Float64Range(-15, 15).Draw(t, "angle")}
	case recipe.OpFocus:
		return recipe.Edit{Op: recipe.OpFocus, FocusX: rapid.Float64Range(0, 1).Draw(t, "fx"), FocusY: rapid.Float64Range(0, 1).Draw(t, "fy")}
	case recipe.OpVeil:
		return recipe.Edit{Op: recipe.OpVeil, Veil: &veil.Veil{Shape: veil.Ellipse, Bounds: image.Rect(x, y, x+20, y+15), Style: rapid.SampledFrom(veil.Styles).Draw(t, "style")}}
	}
	return recipe.Edit{Op: recipe.OpFrame, X: x, Y: y, Width: rapid.IntRange(1, 6000-x).Draw(t, "w"), Height: rapid.IntRange(1, 4000-y).Draw(t, "h")}
}

func TestAnyRecipe(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		var r recipe.Recipe
		for range rapid.IntRange(0, 8).Draw(t, "edits") {
			before := r
			var err error
			e := anyEdit(t)
			r, err = r.With(e, source)
			require.NoError(t, err)
			if n := len(r.Edits); n > len(before.Edits) {
				require.Equal(t, before.View(source), r.Undo().View(source), "undo takes the last edit back")
			}
			require.NotEmpty(t, e.Describe())
		}
		v := r.View(source)
		require.True(t, v.Frame.In(source.Rect()) && !v.Frame.Empty())
		for _, c := range v.Plan(fit.Want{Width: 640, Height: 300}, []float64{1, 2}) {
			require.True(t, c.Source.In(v.Frame), "%v in %v", c.Source, v.Frame)
		}
		data, err := json.Marshal(r)
		require.NoError(t, err)
		var back recipe.Recipe
		require.NoError(t, json.Unmarshal(data, &back))
		require.Equal(t, v, back.View(source))
	})
}

func TestUnknownIsRefused(t *testing.T) {
	var r recipe.Recipe
	for _, bad := range []string{
		`{"version":9,"edits":[]}`, `{"version":1,"edits":[{"op":"melt"}]}`,
		`{"version":1,"edits":[{"op":"frame","width":0,"height":5}]}`, `{"version":1,"edits":[`, `{}`,
	} {
		assert.Error(t, json.Unmarshal([]byte(bad), &r), bad)
	}
}

func FuzzRecipeJSON(f *testing.F) {
	f.Add([]byte(`{"version":1,"edits":[{"op":"frame","x":1,"y":2,"width":3,"height":4},{"op":"turn","degrees":90}]}`))
	f.Add([]byte(`{"version":1,"edits":[{"op":"straighten","degrees":3.5},{"op":"focus","focus_x":0.2}]}`))
	f.Fuzz(func(t *testing.T, data []byte) {
		var r recipe.Recipe
		if json.Unmarshal(data, &r) == nil {
			if frame := r.Frame(source); !frame.In(source.Rect()) {
				t.Fatalf("frame %v leaves the source", frame)
			}
		}
	})
}
