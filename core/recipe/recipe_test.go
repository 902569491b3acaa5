package recipe_test

import (
	"encoding/json"
	"image"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"mivlet/core/fit"
	"mivlet/core/recipe"
)

var source = fit.Size{W: 6000, H: 4000}

func TestFrameReplacesFrame(t *testing.T) {
	r, err := recipe.Recipe{}.WithFrame(image.Rect(100, 100, 900, 700), source)
	require.NoError(t, err)
	r, err = r.WithFrame(image.Rect(0, 0, 600, 400), source)
	require.NoError(t, err)
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

func TestFrameOutsideIsRefused(t *testing.T) {
	for _, frame := range []image.Rectangle{image.Rect(-1, 0, 10, 10), image.Rect(5990, 0, 6001, 10), image.Rect(10, 10, 10, 90), {}} {
		_, err := recipe.Recipe{}.WithFrame(frame, source)
		assert.Error(t, err, "%v", frame)
	}
}

func TestJSONRoundTrip(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		x, y := rapid.IntRange(0, 5999).Draw(t, "x"), rapid.IntRange(0, 3999).Draw(t, "y")
		frame := image.Rect(x, y, rapid.IntRange(x+1, 6000).Draw(t, "x2"), rapid.IntRange(y+1, 4000).Draw(t, "y2"))
		r, err := recipe.Recipe{}.WithFrame(frame, source)
		require.NoError(t, err)
		data, err := json.Marshal(r)
		require.NoError(t, err)
		var back recipe.Recipe
		require.NoError(t, json.Unmarshal(data, &back))
		assert.Equal(t, r.Frame(source), back.Frame(source))
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
	f.Add([]byte(`{"version":1,"edits":[{"op":"frame","x":1,"y":2,"width":3,"height":4}]}`))
	f.Fuzz(func(t *testing.T, data []byte) {
		var r recipe.Recipe
		if json.Unmarshal(data, &r) == nil {
			if frame := r.Frame(source); !frame.In(source.Rect()) {
				t.Fatalf("frame %v leaves the source", frame)
			}
		}
	})
}
