package bench_test

import (
	"image"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/facts"
	"mivlet/desk/access"
	"mivlet/desk/bench"
	"mivlet/desk/desktest"
)

func TestSendingIsAllOrNothing(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	a := b.Arrive("a.jpg", desktest.Photo(400, 300, 1))
	desktest.Refusal(t, b.Bench.Send([]uint{a.ID, 999}, bench.Assignment{Slot: "column", Section: "juniors"}), access.Missing, "not here")
	desktest.Refusal(t, b.Bench.Send([]uint{a.ID}, bench.Assignment{Slot: "poster", Section: "juniors"}), access.Bad, "No slot")
	desktest.Refusal(t, b.Bench.Send([]uint{a.ID}, bench.Assignment{Slot: "column", Section: "nobody"}), access.Bad, "No section")
	desktest.Refusal(t, b.Bench.Send(nil, bench.Assignment{Slot: "column", Section: "juniors"}), access.Bad, "No picture")
	waiting, err := b.Pictures.Waiting()
	require.NoError(t, err)
	assert.Len(t, waiting, 1)
	require.NoError(t, b.Bench.Send([]uint{a.ID}, bench.Assignment{Slot: "side", Section: "touring"}))
	on, err := b.Bench.View(a.ID)
	require.NoError(t, err)
	assert.Equal(t, "touring", on.Section)
	assert.Equal(t, "Side picture", on.Slot.Title)
}

func TestStepsBackAndForth(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	id := b.Ready("juniors-first", 1)
	require.NoError(t, b.Bench.SetFrame(id, image.Rect(100, 100, 900, 700), facts.Upright))
	require.NoError(t, b.Bench.SetFrame(id, image.Rect(100, 100, 900, 700), facts.Upright))
	on, err := b.Bench.View(id)
	require.NoError(t, err)
	assert.Len(t, on.Steps, 5, "an act that changes nothing leaves no step")
	assert.True(t, on.Undo() >= 0)
	assert.False(t, on.Redo() >= 0)

	require.NoError(t, b.Bench.GoTo(id, 1))
	on, err = b.Bench.View(id)
	require.NoError(t, err)
	assert.Empty(t, on.Work.Name)
	assert.Equal(t, image.Rect(0, 0, 1600, 1000), on.Frame)
	assert.True(t, on.Redo() >= 0)
	require.NoError(t, b.Bench.GoTo(id, 4))
	on, err = b.Bench.View(id)
	require.NoError(t, err)
	assert.Equal(t, image.Rect(100, 100, 900, 700), on.Frame)
	desktest.Refusal(t, b.Bench.GoTo(id, 99), access.Missing, "no such step")
	desktest.Refusal(t, b.Bench.SetFrame(id, image.Rect(-5, 0, 100, 100), facts.Upright), access.Bad, "leaves the picture")
}
