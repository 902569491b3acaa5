package bench_test

import (
	"io"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/rules"
	"mivlet/core/veil"
	"mivlet/desk/bench"
	"mivlet/desk/desktest"
)

// One sheet tells what a picture tells: what can be seen, what the original carries, and
// where nearly the same is live without veils.
func TestWhatAPictureTells(t *testing.T) {
	t.Parallel()
	if testing.Short() {
		t.Skip("slow")
	}
	b := looking(t, desktest.Reads)
	id := b.Arrive("rota.png", desktest.DemoFile(t, "Screenshot 2026-11-02.png")).ID
	require.NoError(t, b.Bench.Send([]uint{id}, bench.Assignment{Slot: "column", Section: "juniors"}))
	before, err := b.Bench.Telling(id)
	require.NoError(t, err)
	assert.GreaterOrEqual(t, len(before.Private()), 16, "names, addresses and numbers")
	assert.False(t, before.Quiet())
	var veils []veil.Veil
	for _, l := range before.Private() {
		veils = append(veils, veil.Veil{Shape: veil.Rect, Bounds: l.Level, Style: veil.Cover, Reason: l.Reason, Letters: l.Height})
	}
	require.NoError(t, b.Bench.AddVeils(id, veils))
	after, err := b.Bench.Telling(id)
	require.NoError(t, err)
	assert.Empty(t, after.Private())
	assert.True(t, after.Quiet())

	juniors := b.Juniors()
	told, err := b.Bench.Telling(juniors)
	require.NoError(t, err)
	assert.Equal(t, 2, told.OpenFaces())
	assert.Contains(t, told.Carries, "where it was taken")
	assert.Contains(t, told.Carries, "when it was taken")
	assert.Equal(t, []string{"Ines Varrow"}, told.Names, "who took it")
	b.UnderRules(func(r *rules.Rules) { r.Hiding.Watch = []string{"IMG"} })
	told, err = b.Bench.Telling(juniors)
	require.NoError(t, err)
	assert.Contains(t, told.Names, "IMG", "a watched word in the file's name")
}

// The same photo, kept smaller and live without a veil, is told of.
func TestNearlyTheSameIsLiveUnveiled(t *testing.T) {
	t.Parallel()
	if testing.Short() {
		t.Skip("slow")
	}
	b := looking(t)
	first := b.Arrive("fire.jpg", desktest.DemoFile(t, "IMG_2140.JPG")).ID
	require.NoError(t, b.Bench.Send([]uint{first}, bench.Assignment{Slot: "column", Section: "juniors"}))
	require.NoError(t, b.Pictures.SetName(first, "juniors-fire"))
	require.NoError(t, desktest.Describe(b.Desk, first, "A fire on the shore"))
	b.Place(first)
	b.GoLive()
	f, _, err := b.Derive.Look(first)
	require.NoError(t, err)
	defer f.Close()
	data, err := io.ReadAll(f)
	require.NoError(t, err)
	second := b.Arrive("again.jpg", data).ID
	require.NoError(t, b.Bench.Send([]uint{second}, bench.Assignment{Slot: "column", Section: "juniors"}))
	_, keys := b.FacesOf(second)
	require.NotEmpty(t, keys)
	require.NoError(t, b.Bench.HideFaces(second, keys, veil.Cover))
	told, err := b.Bench.Telling(second)
	require.NoError(t, err)
	require.Len(t, told.Unveiled, 1)
	assert.Equal(t, first, told.Unveiled[0].ID)
	assert.Equal(t, "Autumn", told.Unveiled[0].Pages[0].Doc.Title)
}
