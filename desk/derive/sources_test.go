package derive_test

import (
	"image"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/fit"
	"mivlet/desk/desktest"
)

// A picture is decoded as far as it is wanted, and one that is there with more pixels serves
// those who want fewer.
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
	assert.Equal(t, all, decoded(small), "all pixels are there")
	b.Derive.ForgetDecoded([]string{p.OriginalHash})
	assert.Equal(t, more, decoded(large))
	assert.Equal(t, more, decoded(small), "what is there is enough")
	s, done, err := b.Derive.Still(p, nil)
	require.NoError(t, err)
	defer done()
	assert.NotPanics(t, func() { s.Cut(image.Rect(0, 0, 10, 10), fit.Size{W: 10, H: 10}) })
}
