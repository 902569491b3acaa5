package desk_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/veil"
	"mivlet/desk"
)

// Lines of text are found and told apart, and hidden in one step. The words come
// from a program that reads text, which scripts/test installs; the numbers are
// found without it.
func TestLinesOfTextAreProposed(t *testing.T) {
	b := fresh(t)
	id := b.arrive("rota.png", demoFile(t, "Screenshot 2026-11-02.png")).ID
	require.NoError(t, b.Send([]uint{id}, desk.Assignment{Slot: "column", Section: "juniors"}))
	found, err := b.TextLines(id)
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
	require.NoError(t, b.AddVeils(id, veils))
	got, err := b.Bench(id)
	require.NoError(t, err)
	assert.Len(t, got.Work.Recipe.Veils(), len(veils))
	require.NoError(t, b.GoTo(id, got.Undo()))
	got, err = b.Bench(id)
	require.NoError(t, err)
	assert.Empty(t, got.Work.Recipe.Veils(), "one step back and they are gone")
}
