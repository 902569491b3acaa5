package steps

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"
)

type step struct{ own, from int }

func (s step) Numbers() (own, from int) { return s.own, s.from }

// Arrived, turned, framed; undone to turned, then hidden: framing lies aside.
func ExampleHistory() {
	h := History[step]{Steps: []step{{0, None}, {1, 0}, {2, 1}, {3, 1}}, Shown: 3}
	fmt.Println("undo goes to", h.Undo(), "and then redo to", History[step]{h.Steps, h.Undo()}.Redo())
	fmt.Println("aside:", h.Aside(2))
	// Output:
	// undo goes to 1 and then redo to 3
	// aside: true
}

func TestNoStepsAtAll(t *testing.T) {
	var h History[step]
	assert.Equal(t, None, h.Undo())
	assert.Equal(t, None, h.Redo())
	assert.Zero(t, h.First())
	assert.True(t, h.Aside(1))
}

// A history whose first steps were forgotten begins with what is left.
func TestWhatIsForgottenEndsTheWayBack(t *testing.T) {
	h := History[step]{Steps: []step{{4, 3}, {5, 4}}, Shown: 5}
	assert.Equal(t, 4, h.First())
	assert.Equal(t, 4, h.Undo())
	assert.False(t, h.Aside(4))
	assert.False(t, h.Aside(3), "the way leads there, though it is gone")
}

// Whatever is done, undo leads back to the beginning, and redo after an undo to a step
// that was made from where it stands.
func TestUndoAndRedo(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		h := History[step]{Steps: []step{{0, None}}}
		for n := range rapid.IntRange(1, 30).Draw(t, "acts") {
			if rapid.Bool().Draw(t, "undo") && h.Undo() != None {
				h.Shown = h.Undo()
				continue
			}
			h.Steps = append(h.Steps, step{n + 1, h.Shown})
			h.Shown = n + 1
		}
		if back := h.Undo(); back != None {
			before := History[step]{h.Steps, back}
			assert.GreaterOrEqual(t, before.Redo(), h.Shown, "the newest of those made there")
		}
		way := map[int]bool{}
		for at := h.Shown; at != None; at = (History[step]{h.Steps, at}).Undo() {
			assert.False(t, way[at], "no circle")
			way[at] = true
			assert.False(t, h.Aside(at))
		}
		assert.True(t, way[0], "it began somewhere")
	})
}

// A step that was undone is ahead, not aside, as long as nothing else was made from where
// one stands; then the branch that was left is.
func TestAheadAndAside(t *testing.T) {
	all := []step{{0, None}, {1, 0}, {2, 1}, {3, 1}, {4, 3}}
	h := History[step]{Steps: all, Shown: 1}
	var aside []int
	for _, s := range all {
		if h.Aside(s.own) {
			aside = append(aside, s.own)
		}
	}
	assert.Equal(t, []int{2}, aside)
	assert.Equal(t, 3, h.Redo(), "the newest that was made from it")
	assert.Equal(t, 0, h.Undo())
	h.Shown = 0
	assert.Equal(t, None, h.Undo())
	assert.Equal(t, 0, History[step]{}.First())
}
