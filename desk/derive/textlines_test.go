package derive_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/veil"
	"mivlet/desk/bench"
	"mivlet/desk/derive"
	"mivlet/desk/desktest"
)

// Lines of text are found and told apart, and hidden in one step. The words come
// from a program that reads text, which scripts/test installs; the numbers are
// found without it.
func TestLinesOfTextAreProposed(t *testing.T) {
	t.Parallel()
	b := desktest.FreshWith(t, desktest.Reads)
	id := b.Arrive("rota.png", desktest.DemoFile(t, "Screenshot 2026-11-02.png")).ID
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
