package bench_test

import (
	"bytes"
	"image"
	"image/color"
	"image/png"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/facts"
	"mivlet/core/recipe"
	"mivlet/core/veil"
	"mivlet/desk/access"
	"mivlet/desk/bench"
	"mivlet/desk/desktest"
	"mivlet/desk/pictures"
)

func TestTurningMovesFrameAndVeilsAlong(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	id := b.Ready("juniors-boat", 1) // 1600 × 1000
	require.NoError(t, b.Bench.SetFrame(id, image.Rect(100, 100, 1100, 900), facts.Upright))
	face := veil.Veil{Shape: veil.Ellipse, Bounds: image.Rect(300, 200, 500, 450), Style: veil.Figure, Cells: 4, Reason: veil.Face}
	require.NoError(t, b.Bench.Edit(id, recipe.Edit{Op: recipe.OpVeil, Veil: &face}))
	require.NoError(t, b.Bench.Edit(id, recipe.Edit{Op: recipe.OpTurn, Degrees: 90}))
	v, err := b.Bench.View(id)
	require.NoError(t, err)
	assert.Equal(t, 640, v.Figures.Usual().Size.W)
	assert.Equal(t, 800, v.Figures.Usual().Size.H, "1000 × 800, turned to 800 × 1000: 640 × 800")
	assert.Equal(t, image.Rect(100, 100, 1100, 900), v.Frame, "the frame is kept on the upright original")
	cuts, err := b.Cuts.MakeCuts(id, "")
	require.NoError(t, err)
	assert.Equal(t, 800, cuts[1].Height)
	desktest.Refusal(t, b.Bench.Edit(id, recipe.Edit{Op: recipe.OpTurn, Degrees: 45}), access.Bad, "90, 180 or 270")
}

func TestVeilsAreChangedTakenOffAndUndone(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	id := b.Ready("juniors-boat", 1)
	v := veil.Veil{Shape: veil.Rect, Bounds: image.Rect(100, 100, 400, 200), Style: veil.Cover, Reason: veil.Number}
	require.NoError(t, b.Bench.Edit(id, recipe.Edit{Op: recipe.OpVeil, Veil: &v}))
	v.ID = b.VeilsOf(id)[0]
	v.Style, v.Reason, v.Cells = veil.Figure, veil.Face, 3
	require.NoError(t, b.Bench.SetVeil(id, pictures.Newest, v))
	got, err := b.Bench.View(id)
	require.NoError(t, err)
	kept := got.Work.Recipe.Veils()[0]
	require.NotNil(t, kept.Told, "its coarse colours are sampled once")
	assert.Equal(t, 18, kept.Patches(), "six by three")
	kept.Told = nil
	assert.Equal(t, v, kept)
	assert.Equal(t, "Veil 1: figure", got.Steps[len(got.Steps)-1].Text)
	other := v
	other.ID = "nobody"
	desktest.Refusal(t, b.Bench.SetVeil(id, pictures.Newest, other), access.Clash, "taken this veil off")
	v.Cells = 40
	desktest.Refusal(t, b.Bench.SetVeil(id, pictures.Newest, v), access.Bad, "1 to 4 coarse colours")
	require.NoError(t, b.Bench.DropVeil(id, pictures.Newest, v.ID))
	require.NoError(t, b.Bench.GoTo(id, got.Step))
	got, err = b.Bench.View(id)
	require.NoError(t, err)
	assert.Len(t, got.Work.Recipe.Veils(), 1, "undo brings it back")
	stage, err := b.Derive.Stage(id, -1)
	require.NoError(t, err)
	stage.Close()
}

func TestVeilsAreRepeatedOverTheBatch(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	var ids []uint
	for i, size := range [][2]int{{600, 400}, {600, 400}, {500, 400}} {
		ids = append(ids, b.Arrive("screen.jpg", desktest.Photo(size[0], size[1], uint64(i))).ID)
	}
	require.NoError(t, b.Bench.Send(ids, bench.Assignment{Slot: "thumb", Section: "juniors"}))
	_, err := b.Bench.RepeatVeils(ids[0])
	desktest.Refusal(t, err, access.Bad, "no veil to repeat")
	v := veil.Veil{Shape: veil.Rect, Bounds: image.Rect(10, 10, 200, 60), Style: veil.Colour, Reason: veil.Name}
	require.NoError(t, b.Bench.Edit(ids[0], recipe.Edit{Op: recipe.OpVeil, Veil: &v}))
	n, err := b.Bench.RepeatVeils(ids[0])
	require.NoError(t, err)
	assert.Equal(t, 1, n, "only the one of the same size")
	second, err := b.Bench.View(ids[1])
	require.NoError(t, err)
	require.Len(t, second.Work.Recipe.Veils(), 1)
	drawn := second.Work.Recipe.Veils()[0]
	assert.NotEqual(t, b.VeilsOf(ids[0])[0], drawn.ID, "each has a name of its own")
	drawn.ID = ""
	assert.Equal(t, v, drawn)
	next, err := b.Bench.NextLacking(ids[0])
	require.NoError(t, err)
	assert.Equal(t, ids[1], next)
}

func TestTrimmingAPlainBorder(t *testing.T) {
	t.Parallel()
	m := image.NewRGBA(image.Rect(0, 0, 300, 200))
	for y := range 200 {
		for x := range 300 {
			c := color.RGBA{250, 250, 250, 255}
			if image.Pt(x, y).In(image.Rect(40, 30, 240, 150)) {
				c = color.RGBA{uint8(x), uint8(y), 90, 255}
			}
			m.SetRGBA(x, y, c)
		}
	}
	var file bytes.Buffer
	require.NoError(t, png.Encode(&file, m))
	b := desktest.Fresh(t)
	id := b.Arrive("scan.png", file.Bytes()).ID
	require.NoError(t, b.Bench.Send([]uint{id}, bench.Assignment{Slot: "thumb", Section: "juniors"}))
	require.NoError(t, b.Bench.TrimBorder(id))
	v, err := b.Bench.View(id)
	require.NoError(t, err)
	assert.Equal(t, image.Rect(40, 30, 240, 150), v.Frame)
	whole := b.Ready("juniors-boat", 1)
	desktest.Refusal(t, b.Bench.TrimBorder(whole), access.Bad, "No plain border")
}
