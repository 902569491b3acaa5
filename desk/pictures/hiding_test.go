package pictures_test

import (
	"crypto/sha256"
	"encoding/hex"
	"image"
	"testing"

	"github.com/stretchr/testify/assert"

	"mivlet/core/recipe"
	"mivlet/core/veil"
	"mivlet/desk/pictures"
	"mivlet/store"
)

// What stands for a veil stays as it was when pages went live with it, though veils are
// written otherwise by now.
func TestWhatStandsForAVeilStays(t *testing.T) {
	v := veil.Veil{ID: "v", Shape: veil.Polygon, Bounds: image.Rect(1, 2, 4, 6), Points: []image.Point{{1, 2}, {4, 2}, {1, 6}}, Style: veil.Cover, Reason: veil.Face, Letters: 9,
		Path: []veil.Keyframe{{Frame: 3, Bounds: image.Rect(5, 6, 7, 8)}}}
	const was = `[{"shape":"polygon","bounds":{"Min":{"X":1,"Y":2},"Max":{"X":4,"Y":6}},"points":[{"X":1,"Y":2},{"X":4,"Y":2},{"X":1,"Y":6}],"style":"cover","letters":9,"path":[{"frame":3,"bounds":{"Min":{"X":5,"Y":6},"Max":{"X":7,"Y":8}}}]}]`
	sum := sha256.Sum256([]byte(was))
	p := store.Picture{Work: store.Work{Recipe: recipe.Recipe{Edits: []recipe.Edit{{Op: recipe.OpVeil, Veil: &v}}}}}
	assert.Equal(t, []string{hex.EncodeToString(sum[:8])}, pictures.Hiding(p))
}
