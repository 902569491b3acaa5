package derive_test

import (
	"image"
	"reflect"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/facts"
	"mivlet/core/fit"
	"mivlet/core/raster"
	"mivlet/desk/desktest"
)

// A picture is decoded as far as it is wanted.
func TestAPictureIsDecodedAsFarAsItIsWanted(t *testing.T) {
	b := desktest.Fresh(t)
	p, err := b.Kept.Picture(b.Ready("juniors-boat", 1))
	require.NoError(t, err)
	b.Derive.ForgetDecoded([]string{p.OriginalHash})
	whole := p.Facts.Upright()
	decoded := func(wanted fit.Size) int64 {
		s, done, err := b.Derive.SourceFor(p, wanted)
		require.NoError(t, err)
		defer done()
		assert.Equal(t, whole, s.Upright())
		return s.Bytes()
	}
	small, large := fit.Size{W: whole.W / 17, H: whole.H / 17}, fit.Size{W: whole.W / 5, H: whole.H / 5}
	least := decoded(small)
	more := decoded(large)
	all := decoded(fit.Size{})
	assert.Less(t, 10*least, more)
	assert.Less(t, more, all)
	assert.Equal(t, least, decoded(small), "as before, whatever is there")
}

// The same cut is the same to the bit, whatever of the picture was decoded before.
func TestACutDoesNotDependOnWhatIsThere(t *testing.T) {
	b := desktest.Fresh(t)
	p, err := b.Kept.Picture(b.Ready("juniors-boat", 1))
	require.NoError(t, err)
	whole := p.Facts.Upright()
	w := raster.Transform{From: whole.Rect(), Size: fit.ByWidth(whole, whole.W/7), Turn: facts.Upright}
	cut := func(before ...fit.Size) image.Image {
		b.Derive.ForgetDecoded([]string{p.OriginalHash})
		for _, size := range before {
			_, done, err := b.Derive.SourceFor(p, size)
			require.NoError(t, err)
			done()
		}
		m, err := b.Derive.Still(p, w)
		require.NoError(t, err)
		return m
	}
	alone := cut()
	assert.True(t, reflect.DeepEqual(alone, cut(fit.Size{})))
	assert.True(t, reflect.DeepEqual(alone, cut(fit.Size{W: 10, H: 10}, fit.Size{W: whole.W / 4, H: whole.H / 4})))
}
