package raster_test

import (
	"bytes"
	"image/gif"
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/facts"
	"mivlet/core/fit"
	"mivlet/core/raster"
	"mivlet/internal/reference"
)

const paddle = "../../demo/pictures/paddle-stroke.gif"

// A GIF at its own size is no heavier than it came, and as a GIF shows the very same; at half
// its size it is no heavier than what gifsicle makes of it with all its effort, which does not look at
// what is lost.
func TestMovingIsNoHeavier(t *testing.T) {
	if testing.Short() {
		t.Skip("slow")
	}
	t.Parallel()
	was, err := os.ReadFile(paddle)
	require.NoError(t, err)
	_, a := animation(t, paddle)
	full := a.Frames[0].Upright()
	at := func(size fit.Size, o raster.Options) raster.Encoded {
		e, err := a.Encode(raster.Transform{From: full.Rect(), Size: size, Turn: facts.Upright}, o)
		require.NoError(t, err)
		return e
	}
	assert.LessOrEqual(t, len(at(full, raster.Options{}).Data), len(was))
	same := at(full, raster.Options{Format: raster.GIF})
	file := filepath.Join(t.TempDir(), "same.gif")
	require.NoError(t, os.WriteFile(file, same.Data, 0o600))
	_, again := animation(t, file)
	require.Len(t, again.Frames, len(a.Frames))
	for i, f := range a.Frames {
		assert.Equal(t, whole(f), whole(again.Frames[i]), "frame %d", i)
	}

	// A third of its frames at half its size.
	a.Frames, a.Delays = a.Frames[:8], a.Delays[:8]
	half := fit.Size{W: full.W / 2, H: full.H / 2}
	theirs := reference.Run(t, "gifsicle", "-O3", "--no-warnings", "--scale", "0.5", paddle, "#0-7")
	for _, format := range []raster.Format{raster.Auto, raster.GIF} {
		small := at(half, raster.Options{Format: format})
		assert.GreaterOrEqual(t, small.SSIM, 0.958)
		assert.LessOrEqual(t, len(small.Data), len(theirs))
	}

	// The smallest decides for all sizes of an animation, as for pictures that stand still.
	small := at(half, raster.Options{})
	require.Equal(t, raster.WebP, small.Format)
	assert.Equal(t, "image/webp", at(full, raster.Options{}.AsThis(small)).MediaType)
}

// What lies outside the frames of a GIF does not come with it, nor do its frames where anything is
// hidden, cut away or turned.
func TestMovingAsItIsOnlyWhereNothingChanges(t *testing.T) {
	dir := t.TempDir()
	file := filepath.Join(dir, "with.gif")
	reference.Run(t, "convert", "-size", "40x30", "-delay", "8", "xc:red", "xc:green", "-comment", "Behind the boathouse", "-loop", "0", file)
	_, a := animation(t, file)
	full := a.Frames[0].Upright()
	as := raster.Transform{From: full.Rect(), Size: full, Turn: facts.Upright}
	turned := as
	turned.Turn = facts.Turn180
	cropped := as
	cropped.From.Max.X, cropped.Size.W = 30, 30
	for name, w := range map[string]raster.Transform{"as it is": as, "turned": turned, "cropped": cropped} {
		e, err := a.Encode(w, raster.Options{Format: raster.GIF})
		require.NoError(t, err)
		assert.NotContains(t, string(e.Data), "boathouse")
		g, err := gif.DecodeAll(bytes.NewReader(e.Data))
		require.NoError(t, err)
		assert.Equal(t, w.Size, fit.Size{W: g.Config.Width, H: g.Config.Height}, name)
		assert.Len(t, g.Image, 2)
	}
}
