package shelves_test

import (
	"bytes"
	"image"
	_ "image/jpeg"
	_ "image/png"
	"io"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	_ "golang.org/x/image/webp"

	"mivlet/desk/access"
	"mivlet/desk/desktest"
	"mivlet/desk/shelves"
)

// A picture is taken along at a slot's sharpest or at a width, as what was asked for, named and
// described. The files are read by the decoders of Go, not by our own.
func TestTakingAPictureAlong(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	id := b.Ready("juniors-launch", 1) // 1600 × 1000
	b.Place(id)
	for _, c := range []struct {
		how    shelves.Take
		name   string
		format string
		w, h   int
	}{
		{shelves.Take{Slot: "side"}, "juniors-launch-600.jpg", "jpeg", 600, 375},
		{shelves.Take{Slot: "thumb", Format: "png"}, "juniors-launch-300.png", "png", 300, 300},
		{shelves.Take{Width: 800, Format: "jpeg"}, "juniors-launch-800.jpg", "jpeg", 800, 500},
		{shelves.Take{Width: 321, Format: "webp"}, "juniors-launch-321.webp", "webp", 321, 201},
		{shelves.Take{Width: 5000, Format: "jpeg"}, "juniors-launch-1600.jpg", "jpeg", 1600, 1000}, // never enlarged
	} {
		taken, f, err := b.Shelves.OpenTaken(id, c.how)
		require.NoError(t, err)
		data, err := io.ReadAll(f)
		require.NoError(t, err)
		require.NoError(t, f.Close())
		is, format, err := image.DecodeConfig(bytes.NewReader(data))
		require.NoError(t, err, c.name)
		assert.Equal(t, []any{c.name, c.format, c.w, c.h, int64(len(data))}, []any{taken.Name, format, is.Width, is.Height, taken.Bytes})
		assert.Equal(t, []int{c.w, c.h}, []int{taken.Width, taken.Height})
		assert.Contains(t, taken.HTML(), `alt="A boat on a quiet lake"`)
	}
	require.NoError(t, desktest.Describe(b.Desk, id, `Boat "Ada" <3`))
	taken, err := b.Shelves.Take(id, shelves.Take{Slot: "side"})
	require.NoError(t, err)
	assert.Equal(t, `<img src="juniors-launch-600.jpg" width="600" height="375" alt="Boat &#34;Ada&#34; &lt;3">`, taken.HTML())

	for says, how := range map[string]shelves.Take{"15 pixels": {Width: 15}, "0 pixels": {}, "6001 pixels": {Width: 6001}, `no slot "gone"`: {Slot: "gone"}, `as "tiff"`: {Width: 300, Format: "tiff"}} {
		_, err := b.Shelves.Take(id, how)
		desktest.Refusal(t, err, access.Bad, says)
	}
	b.Refuses(id, "Ines Varrow")
	_, err = b.Shelves.Take(id, shelves.Take{Slot: "side"})
	desktest.Refusal(t, err, access.Forbidden, "refused permission")
}
