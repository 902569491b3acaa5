package derive_test

import (
	"bytes"
	"image"
	"image/png"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/fit"
	"mivlet/core/raster"
	"mivlet/core/recipe"
	"mivlet/core/veil"
	"mivlet/desk/bench"
	"mivlet/desk/derive"
	"mivlet/desk/desktest"
)

// What is left out of the stage while it is in the hand shows that the test above can fail.
func TestTheStageLeavesOutTheVeilInTheHand(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	var file bytes.Buffer
	require.NoError(t, png.Encode(&file, desktest.Scene(1)))
	id := b.Arrive("board.png", file.Bytes()).ID
	require.NoError(t, b.Bench.Send([]uint{id}, bench.Assignment{Slot: "column", Section: "juniors"}))
	require.NoError(t, b.Bench.Edit(id, recipe.Edit{Op: recipe.OpVeil, Veil: &veil.Veil{Shape: veil.Rect, Bounds: desktest.HiddenAt, Style: veil.Cover}}))
	bare, err := b.Derive.Stage(id, 0)
	require.NoError(t, err)
	covered, err := b.Derive.Stage(id, -1)
	require.NoError(t, err)
	at := func(f derive.File) image.Image {
		s := desktest.PixelsOf(t, f)
		down := fit.ScaleOf(fit.SizeOf(desktest.Scene(1).Rect), s.Upright())
		return s.Cut(down.Rect(desktest.HiddenAt), fit.Size{W: 160, H: 40})
	}
	assert.Less(t, raster.SSIM(at(bare), at(covered)), 0.5)
}
