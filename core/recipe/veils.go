package recipe

import (
	"fmt"
	"slices"

	"mivlet/core/fit"
	"mivlet/core/veil"
)

// Veils returns the veils of a recipe in their order.
func (r Recipe) Veils() []veil.Veil {
	var all []veil.Veil
	for _, e := range r.Edits {
		if e.Op == OpVeil {
			all = append(all, *e.Veil)
		}
	}
	return all
}

// WithVeils returns the recipe with veils added. It fails where one of them is none.
func (r Recipe) WithVeils(veils []veil.Veil, source fit.Size) (Recipe, error) {
	for _, v := range veils {
		var err error
		if r, err = r.With(Edit{Op: OpVeil, Veil: &v}, source); err != nil {
			return r, err
		}
	}
	return r, nil
}

// SetVeil returns the recipe with its i-th veil changed, counted from 0.
func (r Recipe) SetVeil(i int, v veil.Veil) (Recipe, error) {
	if err := v.Check(); err != nil {
		return r, err
	}
	at, err := r.veilAt(i)
	if err != nil {
		return r, err
	}
	edits := slices.Clone(r.Edits)
	edits[at].Veil = &v
	return Recipe{edits}, nil
}

// DropVeil returns the recipe without its i-th veil, counted from 0.
func (r Recipe) DropVeil(i int) (Recipe, error) {
	at, err := r.veilAt(i)
	if err != nil {
		return r, err
	}
	return Recipe{slices.Delete(slices.Clone(r.Edits), at, at+1)}, nil
}

func (r Recipe) veilAt(i int) (int, error) {
	n := 0
	for at, e := range r.Edits {
		if e.Op != OpVeil {
			continue
		}
		if n == i {
			return at, nil
		}
		n++
	}
	return 0, fmt.Errorf("there is no veil %d", i+1)
}
