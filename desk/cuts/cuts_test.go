package cuts_test

import (
	"image"
	"os"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/facts"
	"mivlet/desk/access"
	"mivlet/desk/bench"
	"mivlet/desk/desktest"
	"mivlet/store"
)

func TestCutsAreMadeOnceAndFollowTheRecipe(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	id := b.Ready("juniors-boat", 1)
	cuts, err := b.Cuts.MakeCuts(id, "")
	require.NoError(t, err)
	// 360 on a phone of 390 and 640 on all else, each once and twice.
	assert.Equal(t, [][2]int{{360, 225}, {640, 400}, {720, 450}, {1280, 800}}, sizesOf(cuts))
	files := b.CountFiles()
	again, err := b.Cuts.MakeCuts(id, "")
	require.NoError(t, err)
	assert.Equal(t, cuts, again)
	assert.Equal(t, files, b.CountFiles())

	require.NoError(t, b.Bench.SetFrame(id, image.Rect(0, 0, 1000, 1000), facts.Upright))
	square, err := b.Cuts.MakeCuts(id, "")
	require.NoError(t, err)
	assert.Equal(t, [][2]int{{360, 360}, {640, 640}, {720, 720}, {1000, 1000}}, sizesOf(square), "never enlarged")
	_, err = b.Cuts.OpenCut(square[0].Hash)
	assert.NoError(t, err)
	_, err = b.Cuts.OpenCut(b.PictureOf(id).OriginalHash)
	var r *access.Refusal
	assert.ErrorAs(t, err, &r, "an original is no cut")
}

func sizesOf(cuts []store.Cut) (all [][2]int) {
	for _, c := range cuts {
		all = append(all, [2]int{c.Width, c.Height})
	}
	return all
}

// While the hand moves, bytes are an estimate; it has to be near the truth.
func TestEstimatesAreNearTheTruth(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	for _, name := range []string{"DSC_0430.JPG", "IMG_2093.JPG", "P1040860.JPG"} {
		data, err := os.ReadFile("../../demo/pictures/" + name)
		require.NoError(t, err)
		a := b.Arrive(name, data)
		require.NoError(t, b.Bench.Send([]uint{a.ID}, bench.Assignment{Slot: "column", Section: "juniors"}))
		about, err := b.Bench.Measured(a.ID, image.Rectangle{}, "")
		require.NoError(t, err)
		_, err = b.Cuts.MakeCuts(a.ID, "")
		require.NoError(t, err)
		exact, err := b.Bench.Measured(a.ID, image.Rectangle{}, "")
		require.NoError(t, err)
		for i := range about.Figures.Cuts {
			assert.False(t, about.Figures.Cuts[i].Exact)
			assert.True(t, exact.Figures.Cuts[i].Exact)
			assert.InEpsilon(t, exact.Figures.Cuts[i].Bytes, about.Figures.Cuts[i].Bytes, 0.3, "%s at %v", name, about.Figures.Cuts[i].Density)
		}
	}
}
