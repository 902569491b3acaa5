package cuts_test

import (
	"image"
	"io"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/fit"
	"mivlet/core/raster"
	"mivlet/desk/access"
	"mivlet/desk/bench"
	"mivlet/desk/desktest"
	"mivlet/store"
)

// A tile has the very pixels of the original; only the encoding lies between.
func TestTilesAreTheOriginalsPixels(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	id := b.Ready("juniors-boat", 1) // 1600 × 1000
	p, err := b.Kept.Picture(id)
	require.NoError(t, err)
	f, err := b.Kept.Files.Open(p.OriginalHash)
	require.NoError(t, err)
	defer f.Close()
	whole, err := raster.Decode(f, p.Facts, raster.Limits{Side: 1 << 15, Pixels: 1 << 28, Bytes: 1 << 30})
	require.NoError(t, err)
	for _, at := range []struct {
		level, col, row int
		part            image.Rectangle
	}{{0, 0, 0, image.Rect(0, 0, 512, 512)}, {0, 3, 1, image.Rect(1536, 512, 1600, 1000)}, {1, 1, 0, image.Rect(1024, 0, 1600, 1000)}} {
		tile, err := b.Derive.Tile(id, at.level, at.col, at.row)
		require.NoError(t, err)
		got := desktest.PixelsOf(t, tile)
		size := fit.Size{W: at.part.Dx() >> at.level, H: at.part.Dy() >> at.level}
		assert.Equal(t, size, got.Upright())
		assert.Greater(t, raster.SSIM(whole.Cut(at.part, size), got.Image()), 0.85, "%+v: a JPEG of noise", at)
	}
	_, err = b.Derive.Tile(id, 0, 4, 0)
	desktest.Refusal(t, err, access.Missing, "no such tile")
	_, err = b.Derive.Tile(id, 9, 0, 0)
	desktest.Refusal(t, err, access.Missing, "no such tile")
}

// The slider's cut is the cut that is kept: byte by byte, once the budget is.
func TestTryingABudget(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	id := b.Arrive("DSC_0430.JPG", desktest.DemoFile(t, "DSC_0430.JPG")).ID
	require.NoError(t, b.Bench.Send([]uint{id}, bench.Assignment{Slot: "column", Section: "juniors"}))
	usual, err := b.Cuts.TryCut(id, "", 0)
	require.NoError(t, err)
	usual.Close()
	light, err := b.Cuts.TryCut(id, "", 110_000)
	require.NoError(t, err)
	tried, err := io.ReadAll(light)
	require.NoError(t, err)
	assert.LessOrEqual(t, light.Bytes, int64(110_000))
	assert.Less(t, light.Bytes, usual.Bytes)
	assert.Less(t, light.SSIM, usual.SSIM, "lighter looks less alike")
	require.NoError(t, b.Bench.SetBudget(id, "column", 110_000))
	cuts, err := b.Cuts.MakeCuts(id, "")
	require.NoError(t, err)
	at := slices.IndexFunc(cuts, func(c store.Cut) bool { return c.Density == 2 })
	require.GreaterOrEqual(t, at, 0)
	f, err := b.Cuts.OpenCut(cuts[at].Hash)
	require.NoError(t, err)
	defer f.Close()
	kept, err := io.ReadAll(f)
	require.NoError(t, err)
	assert.Equal(t, tried, kept)
	got, err := b.Bench.View(id)
	require.NoError(t, err)
	assert.Equal(t, "Budget for Full column: 110 kB", got.Steps[len(got.Steps)-1].Text)
	desktest.Refusal(t, b.Bench.SetBudget(id, "column", 3), access.Bad, "at least 2 kB")
	require.NoError(t, b.Bench.SetBudget(id, "column", 0))
	got, err = b.Bench.View(id)
	require.NoError(t, err)
	assert.Empty(t, got.Work.Budgets)
}

func TestSeveralSlotsFromOnePicture(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	id := b.Ready("juniors-boat", 1)
	require.NoError(t, b.Bench.SetAlso(id, "thumb", true))
	require.NoError(t, b.Bench.SetAlso(id, "link", true))
	require.NoError(t, b.Bench.SetAlso(id, "link", true), "twice is once")
	all, err := b.Bench.CutAll(id)
	require.NoError(t, err)
	require.Len(t, all.More, 2)
	assert.Equal(t, fit.Size{W: 150, H: 150}, all.More[0].Cuts[0].Size)
	assert.Equal(t, fit.Size{W: 1200, H: 675}, all.More[1].Cuts[0].Size)
	assert.True(t, all.Figures.Cuts[0].Exact && all.More[1].Cuts[0].Exact)
	require.NoError(t, b.Bench.SetSlot(id, "thumb"))
	got, err := b.Bench.View(id)
	require.NoError(t, err)
	assert.Equal(t, []string{"link"}, got.Work.Also, "what is the slot is not also one")
	desktest.Refusal(t, b.Bench.SetAlso(id, "nothing", true), access.Bad, "no slot")
}
