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
	"mivlet/core/recipe"
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

// Cuts of a small frame have no more of the picture decoded than the frame, once for all slots, and are the
// same to the bit as those of the whole picture.
func TestAFrameIsDecodedInPart(t *testing.T) {
	b := desktest.Fresh(t)
	p, err := b.Kept.Picture(b.Ready("juniors-boat", 1))
	require.NoError(t, err)
	whole := p.Facts.Upright()
	part := image.Rect(whole.W/3, whole.H/4, whole.W/3+whole.W/4, whole.H/4+whole.H/3)
	p.Work.Recipe = recipe.Recipe{Edits: []recipe.Edit{{Op: recipe.OpFrame, X: part.Min.X, Y: part.Min.Y, Width: part.Dx(), Height: part.Dy()}}}
	square := image.Rect(part.Min.X+3, part.Min.Y, part.Min.X+3+part.Dx()/2, part.Min.Y+part.Dx()/2)
	works := []raster.Transform{
		{From: part, Size: fit.ByWidth(fit.SizeOf(part), part.Dx()/2), Turn: facts.Upright},
		{From: square, Size: fit.ByWidth(fit.SizeOf(square), square.Dx()*2/3), Turn: facts.Upright},
	}
	cuts := func() (all []image.Image, held int64) {
		for _, w := range works {
			m, err := b.Derive.Still(p, w)
			require.NoError(t, err)
			all = append(all, m)
		}
		return all, b.Derive.Held()
	}
	forget := func() int64 {
		b.Derive.ForgetDecoded([]string{p.OriginalHash})
		return b.Derive.Held()
	}
	before := forget()
	ofPart, held := cuts()
	_, done, err := b.Derive.Source(p)
	require.NoError(t, err)
	done()
	all := b.Derive.Held() - held
	assert.Less(t, 8*(held-before), all, "of all %d bytes a twelfth, with what units of the file stick out", all)
	assert.Equal(t, before, forget(), "a part is forgotten as the whole is")

	_, partly := cuts()
	assert.Less(t, 8*(partly-before), all)
	p.Work.Recipe.Edits[0].X += 2
	_, err = b.Derive.Still(p, works[1])
	require.NoError(t, err)
	assert.Equal(t, partly+all, b.Derive.Held(), "whoever moves the frame has the whole picture for the next move")
	p.Work.Recipe.Edits[0].X -= 2
	forget()

	_, done, err = b.Derive.Source(p)
	require.NoError(t, err)
	done()
	ofWhole, after := cuts()
	assert.Equal(t, before+all, after, "where the whole is there, it is used")
	assert.True(t, reflect.DeepEqual(ofPart, ofWhole))
}
