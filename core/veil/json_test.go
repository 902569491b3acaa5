package veil

import (
	"encoding/json"
	"image"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestVeilsAsJSON(t *testing.T) {
	t.Parallel()
	v := Veil{ID: "v1", Shape: Polygon, Bounds: image.Rect(10, 20, 110, 70), Points: []image.Point{{10, 20}, {110, 20}, {60, 70}}, Style: Cover, Reason: Face,
		Path: []Keyframe{{2, image.Rect(1, 2, 4, 6)}}}
	data, err := json.Marshal(v)
	require.NoError(t, err)
	assert.JSONEq(t, `{"id":"v1","shape":"polygon","bounds":{"x":10,"y":20,"width":100,"height":50},"points":[{"x":10,"y":20},{"x":110,"y":20},{"x":60,"y":70}],
		"style":"cover","reason":"face","path":[{"frame":2,"bounds":{"x":1,"y":2,"width":3,"height":4}}]}`, string(data))
	for _, doc := range []string{string(data), `{"id":"v1","shape":"polygon","bounds":{"Min":{"X":10,"Y":20},"Max":{"X":110,"Y":70}},"points":[{"X":10,"Y":20},{"X":110,"Y":20},{"X":60,"Y":70}],
		"style":"cover","reason":"face","path":[{"frame":2,"bounds":{"Min":{"X":1,"Y":2},"Max":{"X":4,"Y":6}}}]}`} {
		var read Veil
		require.NoError(t, json.Unmarshal([]byte(doc), &read))
		assert.Equal(t, v, read)
	}
	assert.Error(t, json.Unmarshal([]byte(`{"bounds":3}`), &v))
	assert.Error(t, json.Unmarshal([]byte(`{"path":[3]}`), &v))
}
