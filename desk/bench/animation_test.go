package bench_test

import (
	"bytes"
	"image"
	"image/gif"
	"io"
	"testing"

	"github.com/gen2brain/webp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/raster"
	"mivlet/core/recipe"
	"mivlet/core/rules"
	"mivlet/core/veil"
	"mivlet/desk/access"
	"mivlet/desk/bench"
	"mivlet/desk/desktest"
	"mivlet/desk/pictures"
	"mivlet/sentences"
)

// What moves plays on the stage, with every frame and its veils; where it cannot
// move, the house says so and the chosen frame stands for it.
func TestAnAnimationOnTheBench(t *testing.T) {
	t.Parallel()
	if testing.Short() {
		t.Skip("slow")
	}
	b := desktest.Fresh(t)
	data := desktest.DemoFile(t, "paddle-stroke.gif")
	id := b.Arrive("paddle-stroke.gif", data).ID
	require.NoError(t, b.Bench.Send([]uint{id}, bench.Assignment{Slot: "side", Section: "juniors"}))
	v := desktest.BoxVeil(20, 20, 120, 60)
	v.Style = veil.Colour
	require.NoError(t, b.Bench.Edit(id, recipe.Edit{Op: recipe.OpVeil, Veil: &v}))
	stage, err := b.Derive.Stage(id, -1)
	require.NoError(t, err)
	moving, err := io.ReadAll(stage)
	require.NoError(t, err)
	stage.Close()
	frames, err := webp.DecodeAll(bytes.NewReader(moving))
	require.NoError(t, err)
	original, err := gif.DecodeAll(bytes.NewReader(data))
	require.NoError(t, err)
	require.Len(t, frames.Image, len(original.Image))
	for i, d := range frames.Delay {
		assert.Equal(t, original.Delay[i]*10, d, "the delay of frame %d, in ms", i)
		a, c := frames.Image[i].At(40, 40), frames.Image[i].At(120, 60)
		ra, ga, ba, _ := a.RGBA()
		rc, gc, bc, _ := c.RGBA()
		assert.InDeltaSlice(t, []float64{float64(ra), float64(ga), float64(ba)}, []float64{float64(rc), float64(gc), float64(bc)}, 4*257, "frame %d is one colour under the veil", i)
	}

	got, err := b.Bench.View(id)
	require.NoError(t, err)
	assert.Len(t, got.Frames(), 16, "of many frames the strip shows some")
	thumb, err := b.Derive.FrameThumb(id, got.Frames()[15])
	require.NoError(t, err)
	thumb.Close()
	desktest.Refusal(t, b.Bench.SetStill(id, 24), access.Bad, "no frame 25")

	// A slot that takes photographs only makes it stand still.
	still := b.Rules()
	still.Slots = append([]rules.Slot{}, still.Slots...)
	for i := range still.Slots {
		if still.Slots[i].ID == "side" {
			still.Slots[i].Formats = []string{"jpeg", "png"}
		}
	}
	require.NoError(t, b.House.ChangeRules(func(rules.Rules) (rules.Rules, error) { return still, nil }))
	_, err = b.House.ApplyRules("no motion beside text")
	require.NoError(t, err)
	got, err = b.Bench.View(id)
	require.NoError(t, err)
	assert.True(t, got.Stands["side"])
	assert.False(t, got.Stands["column"])
	assert.Contains(t, sentences.Of(got.Findings[0]), "does not play animations")
	first, err := b.Cuts.MakeCuts(id, "")
	require.NoError(t, err)
	require.NoError(t, b.Bench.SetStill(id, 12))
	chosen, err := b.Cuts.MakeCuts(id, "")
	require.NoError(t, err)
	open := func(hash string) *raster.Source {
		f, err := b.Cuts.OpenCut(hash)
		require.NoError(t, err)
		return desktest.PixelsOf(t, f)
	}
	assert.Less(t, raster.SSIM(open(first[0].Hash).Image(), open(chosen[0].Hash).Image()), 0.99, "frame 13 is another than the first")
}

// A veil is told to follow what moves, frame by frame, and to stand still again.
func TestAVeilIsToldToFollow(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	id := b.Arrive("stroke.gif", desktest.DemoFile(t, "paddle-stroke.gif")).ID
	require.NoError(t, b.Bench.Send([]uint{id}, bench.Assignment{Slot: "column", Section: "juniors"}))
	require.NoError(t, b.Bench.Edit(id, recipe.Edit{Op: recipe.OpVeil, Veil: &veil.Veil{Shape: veil.Rect, Bounds: image.Rect(100, 100, 140, 130), Style: veil.Cover, Reason: veil.Number, Letters: 12}}))
	name := b.VeilsOf(id)[0]
	require.NoError(t, b.Bench.FollowVeil(id, pictures.Newest, name, 12, image.Rect(200, 120, 240, 150)))
	v := b.PictureOf(id).Work.Recipe.Veils()[0]
	assert.Equal(t, image.Rect(150, 110, 190, 140), v.At(6).Bounds)
	desktest.Refusal(t, b.Bench.FollowVeil(id, pictures.Newest, name, 99, image.Rect(0, 0, 9, 9)), access.Bad, "the frames 1 to 24, not 100")
	desktest.Refusal(t, b.Bench.FollowVeil(id, pictures.Newest, name, 3, image.Rectangle{}), access.Bad, "none is empty")
	v.Bounds, v.Path, v.Letters = image.Rect(90, 100, 130, 130), nil, 0
	require.NoError(t, b.Bench.SetVeil(id, pictures.Newest, v))
	v = b.PictureOf(id).Work.Recipe.Veils()[0]
	assert.Len(t, v.Path, 2, "what is moved by hand goes on following")
	assert.Equal(t, 12, v.Letters)
	assert.Equal(t, image.Rect(90, 100, 130, 130), v.At(0).Bounds)
	require.NoError(t, b.Bench.StandVeil(id, pictures.Newest, name))
	assert.Empty(t, b.PictureOf(id).Work.Recipe.Veils()[0].Path)
	still := b.Ready("juniors-boat", 1)
	require.NoError(t, b.Bench.Edit(still, recipe.Edit{Op: recipe.OpVeil, Veil: &veil.Veil{Shape: veil.Rect, Bounds: image.Rect(100, 100, 140, 130), Style: veil.Cover}}))
	desktest.Refusal(t, b.Bench.FollowVeil(still, pictures.Newest, b.VeilsOf(still)[0], 0, image.Rect(0, 0, 9, 9)), access.Bad, "only in a picture that moves")
}
