package desk_test

import (
	"io"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/rules"
	"mivlet/core/veil"
	"mivlet/desk/bench"
	"mivlet/desk/derive"
)

// Lines of text are found and told apart, and hidden in one step. The words come
// from a program that reads text, which scripts/test installs; the numbers are
// found without it.
func TestLinesOfTextAreProposed(t *testing.T) {
	t.Parallel()
	b := fresh(t)
	id := b.arrive("rota.png", demoFile(t, "Screenshot 2026-11-02.png")).ID
	require.NoError(t, b.Bench.Send([]uint{id}, bench.Assignment{Slot: "column", Section: "juniors"}))
	found, err := b.Derive.TextLines(id)
	require.NoError(t, err)
	kinds := map[string]int{}
	reasons := map[veil.Reason]int{}
	var veils []veil.Veil
	for _, l := range found {
		kinds[l.Kind]++
		reasons[l.Reason]++
		if l.Kind != "text" {
			veils = append(veils, veil.Veil{Shape: veil.Rect, Bounds: l.Bounds, Style: veil.Cover, Reason: l.Reason})
		}
	}
	assert.GreaterOrEqual(t, kinds["number"], 6, "six telephone numbers")
	assert.GreaterOrEqual(t, kinds["private"], 10, "six addresses and most of six names")
	assert.GreaterOrEqual(t, reasons[veil.Name], 4)
	columns := map[int][]derive.TextLine{}
	for _, l := range found {
		if l.Column > 0 {
			columns[l.Column] = append(columns[l.Column], l)
		}
	}
	numbers := 0
	for _, c := range columns {
		for _, l := range c {
			assert.Equal(t, c[0].Level.Dx(), l.Level.Dx(), "a column is levelled to one length")
			assert.True(t, l.Bounds.In(l.Level), "%v in %v", l.Bounds, l.Level)
		}
		if len(c) >= 6 && c[len(c)-1].Kind == "number" {
			numbers++
		}
	}
	assert.Equal(t, 1, numbers, "the telephone numbers are one column")
	require.NoError(t, b.Bench.AddVeils(id, veils))
	got, err := b.Bench.View(id)
	require.NoError(t, err)
	assert.Len(t, got.Work.Recipe.Veils(), len(veils))
	require.NoError(t, b.Bench.GoTo(id, got.Undo()))
	got, err = b.Bench.View(id)
	require.NoError(t, err)
	assert.Empty(t, got.Work.Recipe.Veils(), "one step back and they are gone")
}

// One sheet tells what a picture tells: what can be seen, what the original carries, and
// where nearly the same is live without veils.
func TestWhatAPictureTells(t *testing.T) {
	t.Parallel()
	b := looking(t)
	id := b.arrive("rota.png", demoFile(t, "Screenshot 2026-11-02.png")).ID
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

	juniors := b.juniors()
	told, err := b.Bench.Telling(juniors)
	require.NoError(t, err)
	assert.Equal(t, 2, told.OpenFaces())
	assert.Contains(t, told.Carries, "where it was taken")
	assert.Contains(t, told.Carries, "when it was taken")
	assert.Equal(t, []string{"Ines Varrow"}, told.Names, "who took it")
	b.under(func(r *rules.Rules) { r.Hiding.Watch = []string{"IMG"} })
	told, err = b.Bench.Telling(juniors)
	require.NoError(t, err)
	assert.Contains(t, told.Names, "IMG", "a watched word in the file's name")
}

// The same photo, kept smaller and live without a veil, is told of.
func TestNearlyTheSameIsLiveUnveiled(t *testing.T) {
	t.Parallel()
	b := looking(t)
	first := b.arrive("fire.jpg", demoFile(t, "IMG_2140.JPG")).ID
	require.NoError(t, b.Bench.Send([]uint{first}, bench.Assignment{Slot: "column", Section: "juniors"}))
	require.NoError(t, b.Pictures.SetName(first, "juniors-fire"))
	require.NoError(t, describe(b.Desk, first, "A fire on the shore"))
	b.place(first)
	b.publish()
	f, _, err := b.Derive.Look(first)
	require.NoError(t, err)
	defer f.Close()
	data, err := io.ReadAll(f)
	require.NoError(t, err)
	second := b.arrive("again.jpg", data).ID
	require.NoError(t, b.Bench.Send([]uint{second}, bench.Assignment{Slot: "column", Section: "juniors"}))
	_, keys := b.faces(second)
	require.NotEmpty(t, keys)
	require.NoError(t, b.Bench.HideFaces(second, keys, veil.Cover))
	told, err := b.Bench.Telling(second)
	require.NoError(t, err)
	require.Len(t, told.Unveiled, 1)
	assert.Equal(t, first, told.Unveiled[0].ID)
	assert.Equal(t, "Autumn", told.Unveiled[0].Pages[0].Doc.Title)
}
