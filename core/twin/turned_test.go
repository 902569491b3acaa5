package twin_test

import (
	"fmt"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/twin"
	"mivlet/internal/reference"
)

// A photo is known whichever way it was turned and mirrored, and others are not taken for it:
// ImageMagick turns the demo's photos, and writes them anew.
func TestTurnedAndMirrored(t *testing.T) {
	t.Parallel()
	dir := t.TempDir()
	names, err := filepath.Glob("../../demo/pictures/*.JPG")
	require.NoError(t, err)
	require.Greater(t, len(names), 10)
	ways := [][]string{{"-flop"}, {"-flip"}, {"-rotate", "90"}, {"-rotate", "180"}, {"-rotate", "270"}, {"-transpose"}, {"-transverse"}}
	var all []twin.Hash
	for i, name := range names {
		small := filepath.Join(dir, fmt.Sprint(i, ".jpg"))
		reference.Run(t, "convert", "-define", "jpeg:size=400x400", name, "-auto-orient", "-resize", "160x160", small)
		h := hashOf(t, small)
		all = append(all, h)
		way := ways[i%len(ways)]
		turned := filepath.Join(dir, fmt.Sprint(i, "-turned.jpg"))
		reference.Run(t, "convert", append(append([]string{small}, way...), "-resize", "90%", "-quality", "70", turned)...)
		assert.LessOrEqual(t, h.Ways().Apart(hashOf(t, turned)), twin.Near, "%s, %v", filepath.Base(name), way)
	}
	for i, h := range all {
		for j, o := range all {
			if i != j {
				assert.Greater(t, h.Ways().Apart(o), twin.Near+5, "%s and %s", names[i], names[j])
			}
			assert.Equal(t, h.Ways().Apart(o), o.Ways().Apart(h), "it is the same both ways")
		}
	}
}

// All eight ways are told apart, and turning back leads home.
func TestEightWays(t *testing.T) {
	t.Parallel()
	h := twin.Hash{0x0123456789abcdee, 0xfedcba9876543210, 0}
	seen := map[twin.Hash]bool{}
	for _, way := range h.Ways() {
		seen[way] = true
		assert.Contains(t, way.Ways(), h)
		assert.Zero(t, way[2], "what is flat stays so")
	}
	assert.Len(t, seen, 8)
	assert.Equal(t, h, h.Ways()[0])
}
