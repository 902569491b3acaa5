package bench_test

import (
	"image"
	"sync"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/facts"
	"mivlet/core/recipe"
	"mivlet/core/veil"
	"mivlet/desk"
	"mivlet/desk/access"
	"mivlet/desk/bench"
	"mivlet/desk/desktest"
	"mivlet/desk/pictures"
	"mivlet/desk/presence"
)

// Whoever opens a picture sees who else has it open, and hears of every step.
func TestWhoElseIsThere(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	id := b.Ready("juniors-boat", 1)
	ines, odo := b.TwoPeople()
	first, err := ines.Bench.EnterBench(id)
	require.NoError(t, err)
	<-first.News() // of her own coming
	assert.Empty(t, first.Others())
	second, err := odo.Bench.EnterBench(id)
	require.NoError(t, err)
	<-first.News()
	assert.Equal(t, []presence.Other{{Name: "Odo"}}, first.Others())
	assert.Equal(t, []presence.Other{{Name: "Ines"}}, second.Others())
	again, err := odo.Bench.EnterBench(id)
	require.NoError(t, err)
	<-first.News()
	assert.Len(t, first.Others(), 1, "two tabs are one person")
	again.Leave()
	<-first.News()
	require.NoError(t, odo.Bench.Edit(id, recipe.Edit{Op: recipe.OpTurn, Degrees: 90}))
	<-first.News()
	second.Leave()
	<-first.News()
	assert.Empty(t, first.Others())
	first.Leave()
}

// Undoing and going on another way keeps what was undone: it may be somebody
// else's work.
func TestNobodysStepsAreLost(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	id := b.Ready("juniors-boat", 1)
	ines, odo := b.TwoPeople()
	require.NoError(t, odo.Bench.SetFrame(id, image.Rect(0, 0, 900, 600), facts.Upright))
	odos, err := odo.Bench.View(id)
	require.NoError(t, err)
	require.NoError(t, ines.Bench.GoTo(id, odos.Undo()))
	require.NoError(t, ines.Bench.Edit(id, recipe.Edit{Op: recipe.OpTurn, Degrees: 90}))
	got, err := ines.Bench.View(id)
	require.NoError(t, err)
	assert.True(t, got.Aside(odos.Step), "it is set aside")
	assert.False(t, got.Aside(got.Step))
	assert.Equal(t, odos.Undo(), got.Undo(), "undo leads back where the branches part")
	assert.Equal(t, -1, got.Redo())
	require.NoError(t, odo.Bench.GoTo(id, odos.Step))
	got, err = odo.Bench.View(id)
	require.NoError(t, err)
	assert.Equal(t, image.Rect(0, 0, 900, 600), got.Frame)
	assert.Equal(t, "Odo", got.Steps[got.Step].Person)
	require.NoError(t, ines.Bench.GoTo(id, got.Undo()))
	got, err = ines.Bench.View(id)
	require.NoError(t, err)
	assert.Equal(t, "Turned a quarter to the right", got.Steps[got.Redo()].Text, "redo takes the newest branch")
}

// A veil is not changed by its number where the numbers have moved meanwhile.
func TestVeilsThatSomebodyElseChanged(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	id := b.Ready("juniors-boat", 1)
	ines, odo := b.TwoPeople()
	for _, v := range []veil.Veil{desktest.BoxVeil(100, 100, 300, 60), desktest.BoxVeil(700, 500, 300, 60)} {
		require.NoError(t, ines.Bench.Edit(id, recipe.Edit{Op: recipe.OpVeil, Veil: &v}))
	}
	seen, err := ines.Bench.Shown(id)
	require.NoError(t, err)
	first, second := b.VeilsOf(id)[0], b.VeilsOf(id)[1]
	moved := func(x int) veil.Veil { v := desktest.BoxVeil(x, 500, 300, 60); v.ID = second; return v }
	require.NoError(t, odo.Bench.DropVeil(id, seen, first))
	desktest.Refusal(t, ines.Bench.DropVeil(id, seen, first), access.Clash, "taken this veil off")
	assert.Equal(t, []string{second}, b.VeilsOf(id), "two who drop the same veil drop one")
	require.NoError(t, ines.Bench.SetVeil(id, seen, moved(720)), "the other veil is as she saw it")
	desktest.Refusal(t, odo.Bench.SetVeil(id, seen, moved(740)), access.Clash, "changed this veil")
	require.NoError(t, ines.Bench.SetVeil(id, seen, moved(760)), "who is ahead of the answers to their own acts goes on")
	seen, err = ines.Bench.Shown(id)
	require.NoError(t, err)
	require.NoError(t, desktest.Describe(odo, id, "A boat on a lake"))
	require.NoError(t, ines.Bench.SetVeil(id, seen, moved(780)), "another kind of step is no clash")
}

// Many who drop the same veil at the same moment, each from the same screen, drop one.
func TestTheSameVeilIsDroppedOnce(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	id := b.Ready("juniors-boat", 1)
	ines, odo := b.TwoPeople()
	for range 15 {
		for _, v := range []veil.Veil{desktest.BoxVeil(100, 100, 300, 60), desktest.BoxVeil(700, 500, 300, 60)} {
			require.NoError(t, ines.Bench.Edit(id, recipe.Edit{Op: recipe.OpVeil, Veil: &v}))
		}
		all := b.VeilsOf(id)
		seen, err := ines.Bench.Shown(id)
		require.NoError(t, err)
		var wg sync.WaitGroup
		for _, who := range []*desk.Desk{ines, odo} {
			wg.Go(func() { _ = who.Bench.DropVeil(id, seen, all[0]) })
		}
		wg.Wait()
		assert.Equal(t, all[1:], b.VeilsOf(id))
		require.NoError(t, ines.Bench.DropVeil(id, pictures.Newest, all[1]))
	}
}

func TestAStepIsDoneToOthers(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	from := b.Ready("juniors-boat", 1) // 1600 × 1000
	half := b.Arrive("half.jpg", desktest.Photo(800, 500, 2)).ID
	tall := b.Arrive("tall.jpg", desktest.Photo(500, 800, 3)).ID
	require.NoError(t, b.Bench.Send([]uint{half, tall}, bench.Assignment{Slot: "thumb", Section: "juniors"}))
	require.NoError(t, b.Bench.SetFrame(from, image.Rect(400, 200, 1200, 800), facts.Upright))
	framed, err := b.Bench.Shown(from)
	require.NoError(t, err)
	n, err := b.Bench.ApplyStep(from, framed, []uint{half, tall, from})
	require.NoError(t, err)
	assert.Equal(t, 1, n, "a frame is not carried over to other proportions")
	got, err := b.Bench.View(half)
	require.NoError(t, err)
	assert.Equal(t, image.Rect(200, 100, 600, 400), got.Frame, "half the size, half the frame")
	assert.Contains(t, got.Steps[got.Step].Text, "as juniors-boat")

	require.NoError(t, b.Bench.SetSlot(from, "wide"))
	slot, err := b.Bench.Shown(from)
	require.NoError(t, err)
	n, err = b.Bench.ApplyStep(from, slot, []uint{half, tall})
	require.NoError(t, err)
	assert.Equal(t, 2, n)
	got, err = b.Bench.View(tall)
	require.NoError(t, err)
	assert.Equal(t, "wide", got.Work.Slot)

	require.NoError(t, desktest.Describe(b.Desk, from, "Another boat"))
	words, err := b.Bench.Shown(from)
	require.NoError(t, err)
	_, err = b.Bench.ApplyStep(from, words, []uint{half})
	desktest.Refusal(t, err, access.Bad, "cannot be copied to other pictures")
	_, err = b.Bench.ApplyStep(from, slot, nil)
	desktest.Refusal(t, err, access.Bad, "No picture is chosen")
	_, err = b.Bench.ApplyStep(from, 99, []uint{half})
	desktest.Refusal(t, err, access.Missing, "no such step")
}

func TestTheNextPictureTakesOver(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	from := b.Ready("juniors-boat", 1)
	require.NoError(t, b.Pictures.SetWords(from, pictures.Newest, pictures.Words{Alt: "A boat", Credit: "Marta Q."}))
	next := b.Arrive("next.jpg", desktest.Photo(1500, 900, 2)).ID
	require.NoError(t, b.Bench.Send([]uint{next}, bench.Assignment{Slot: "thumb", Section: "juniors"}))
	require.NoError(t, b.Bench.CarryOver(from, next, 3, 2))
	got, err := b.Bench.View(next)
	require.NoError(t, err)
	assert.Equal(t, "thumb", got.Work.Slot, "what it has of its own stays")
	assert.Equal(t, "Marta Q.", got.Work.Credit)
	assert.Equal(t, image.Rect(75, 0, 1425, 900), got.Frame, "1350 × 900 is 3:2")
	assert.Equal(t, "As juniors-boat", got.Steps[got.Step].Text)
	step := got.Step
	require.NoError(t, b.Bench.CarryOver(from, next, 1, 1))
	got, err = b.Bench.View(next)
	require.NoError(t, err)
	assert.Equal(t, step, got.Step, "a frame that is there stays; nothing changed, no step")
}
