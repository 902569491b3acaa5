// Package steps is a history whose steps form a tree. Undo goes to the step that the
// shown one was made from, redo to the newest step that was made from it. A new step
// after an undo begins a new branch, and the old branch is kept.
package steps

import "slices"

// None stands for no step.
const None = -1

// Step is one step of a history.
type Step interface {
	// Numbers are the step's own number, which counts up, and that of the step that it
	// was made from: [None] for the first.
	Numbers() (own, from int)
}

// History is all steps of a thing, in the order they were made, with the one that is shown.
type History[S Step] struct {
	Steps []S
	Shown int
}

// Undo is the step that the shown one was made from; [None] where there is none.
func (h History[S]) Undo() int { return h.from(h.Shown) }

// Redo is the newest step that was made from the shown one; [None] where there is none.
func (h History[S]) Redo() int { return h.next(h.Shown) }

// First is the step that the history begins with; 0 where it has none.
func (h History[S]) First() int {
	if len(h.Steps) == 0 {
		return 0
	}
	own, _ := h.Steps[0].Numbers()
	return own
}

// Aside reports whether a step lies on a branch that was left: neither on the way to the
// shown step nor ahead of it. It can be gone to all the same.
func (h History[S]) Aside(step int) bool {
	for at := h.Shown; at != None; at = h.from(at) {
		if at == step {
			return false
		}
	}
	for at := h.Redo(); at != None; at = h.next(at) {
		if at == step {
			return false
		}
	}
	return true
}

func (h History[S]) from(step int) int {
	for _, s := range h.Steps {
		if own, from := s.Numbers(); own == step {
			return from
		}
	}
	return None
}

func (h History[S]) next(step int) int {
	for _, s := range slices.Backward(h.Steps) {
		if own, from := s.Numbers(); from == step {
			return own
		}
	}
	return None
}
