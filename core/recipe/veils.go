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

// WithVeils returns the recipe with veils added. It fails where one of them is none,
// or has the name of another.
func (r Recipe) WithVeils(veils []veil.Veil, source fit.Size) (Recipe, error) {
	for _, v := range veils {
		var err error
		if r, err = r.With(Edit{Op: OpVeil, Veil: &v}, source); err != nil {
			return r, err
		}
	}
	return r, nil
}

// VeilIDs returns the names of the veils of a recipe in their order.
func (r Recipe) VeilIDs() []string {
	var all []string
	for _, v := range r.Veils() {
		all = append(all, v.ID)
	}
	return all
}

// Veil returns the veil with a name.
func (r Recipe) Veil(id string) (veil.Veil, bool) {
	at := r.veilAt(id)
	if at < 0 {
		return veil.Veil{}, false
	}
	return *r.Edits[at].Veil, true
}

// SetVeil returns the recipe with the veil of v's name changed to v. It fails where v
// is no veil, or where there is none of that name.
func (r Recipe) SetVeil(v veil.Veil) (Recipe, error) {
	if err := v.Check(); err != nil {
		return r, err
	}
	at := r.veilAt(v.ID)
	if at < 0 {
		return r, fmt.Errorf("there is no veil %q", v.ID)
	}
	edits := slices.Clone(r.Edits)
	edits[at].Veil = &v
	return Recipe{edits}, nil
}

// DropVeil returns the recipe without the veil of a name. It fails where there is none.
func (r Recipe) DropVeil(id string) (Recipe, error) {
	at := r.veilAt(id)
	if at < 0 {
		return r, fmt.Errorf("there is no veil %q", id)
	}
	return Recipe{slices.Delete(slices.Clone(r.Edits), at, at+1)}, nil
}

// veilAt is where the veil of a name stands among the edits; -1 where there is none.
func (r Recipe) veilAt(id string) int {
	return slices.IndexFunc(r.Edits, func(e Edit) bool { return id != "" && e.Op == OpVeil && e.Veil.ID == id })
}
