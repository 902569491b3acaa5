package veil_test

import (
	"image"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/veil"
)

func TestVeilsAsTheyAreTyped(t *testing.T) {
	t.Parallel()
	v, err := veil.Parse("rect:370,194,1030,56")
	require.NoError(t, err)
	assert.Equal(t, veil.Veil{Shape: veil.Rect, Bounds: image.Rect(370, 194, 1400, 250), Style: veil.Cover}, v)
	v, err = veil.Parse("ellipse: 1,2 ,3,4:figure")
	require.NoError(t, err)
	assert.Equal(t, veil.Veil{Shape: veil.Ellipse, Bounds: image.Rect(1, 2, 4, 6), Style: veil.Figure}, v)
	for _, wrong := range []string{"", "rect", "rect:1,2,3", "rect:1,2,3,4,5", "rect:a,2,3,4", "rect:1,2,3,NaN", "rect:1,2,3,1e9", "rect:-1e9,2,3,4", "polygon:1,2,3,4", "rect:1,2,3,4:cover:more"} {
		_, err := veil.Parse(wrong)
		assert.Error(t, err, wrong)
	}
}

// Whatever is typed for a veil is one with a shape and a style, or is refused.
func FuzzParse(f *testing.F) {
	f.Add("rect:370,194,1030,56")
	f.Add("ellipse:1,2,3,4:figure")
	f.Fuzz(func(t *testing.T, s string) {
		if v, err := veil.Parse(s); err == nil && v.Bounds.Dx() > 2e7 {
			t.Fatalf("%q reaches over %v", s, v.Bounds)
		}
	})
}
