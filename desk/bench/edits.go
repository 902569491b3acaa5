package bench

import (
	"fmt"
	"slices"

	"mivlet/core/facts"
	"mivlet/core/fit"
	"mivlet/core/raster"
	"mivlet/core/recipe"
	"mivlet/core/veil"
	"mivlet/desk/access"
	"mivlet/store"
)

// Edit does one edit to a picture: a turn, a flip, a straightening, a focus, a
// frame or a veil. A veil is given a name.
func (d *Desk) Edit(id uint, e recipe.Edit) error {
	if e.Op != recipe.OpVeil || e.Veil == nil {
		return d.recipe(id, e.Describe(), func(p store.Picture) (recipe.Recipe, error) {
			return p.Work.Recipe.With(e, p.Facts.Upright())
		})
	}
	drawn, err := d.readyVeils(id, []veil.Veil{*named(*e.Veil)})
	if err != nil {
		return err
	}
	return d.recipe(id, e.Describe(), func(p store.Picture) (recipe.Recipe, error) {
		return p.Work.Recipe.WithVeils(drawn.of(p), p.Facts.Upright())
	})
}

// named is a veil with a fresh name of its own.
func named(v veil.Veil) *veil.Veil {
	v.ID = access.NewBlock()
	return &v
}

// namedAll are veils with fresh names.
func namedAll(veils []veil.Veil) []veil.Veil {
	all := make([]veil.Veil, len(veils))
	for i, v := range veils {
		all[i] = *named(v)
	}
	return all
}

// recipe changes the recipe of a picture, as one step.
func (d *Desk) recipe(id uint, text string, act func(store.Picture) (recipe.Recipe, error)) error {
	return d.pictures.Change(id, func(p *store.Picture) (string, error) {
		r, err := act(*p)
		if err != nil {
			return "", access.Because(access.Bad, access.Sentence(err), "The picture is as it was before.", err)
		}
		p.Work.Recipe = r
		return text, nil
	})
}

// SetVeil changes the veil of v's name: its place, style, strength or reason. seen is
// the step that the screen showed, or [Newest].
func (d *Desk) SetVeil(id uint, seen int, v veil.Veil) error {
	drawn, err := d.readyVeils(id, []veil.Veil{v})
	if err != nil {
		return err
	}
	return d.veil(id, seen, v.ID, string(v.Style), func(p store.Picture) (recipe.Recipe, error) {
		now := drawn.of(p)[0]
		if was, ok := p.Work.Recipe.Veil(v.ID); ok {
			now = keeping(now, was)
		}
		return p.Work.Recipe.SetVeil(now)
	})
}

// DropVeil takes the veil of a name off a picture. seen is the step that the screen
// showed, or [Newest].
func (d *Desk) DropVeil(id uint, seen int, name string) error {
	return d.veil(id, seen, name, "taken off", func(p store.Picture) (recipe.Recipe, error) { return p.Work.Recipe.DropVeil(name) })
}

// veil changes one veil of a picture that is as somebody saw it, as one step.
func (d *Desk) veil(id uint, seen int, name, text string, act func(store.Picture) (recipe.Recipe, error)) error {
	return d.pictures.ChangeIn(id, func(s store.Records, p *store.Picture) (string, error) {
		if _, err := d.asSeen(s, *p, seen, name); err != nil {
			return "", err
		}
		n := slices.Index(p.Work.Recipe.VeilIDs(), name) + 1
		r, err := act(*p)
		if err != nil {
			return "", access.Because(access.Bad, access.Sentence(err), "The picture is as it was before.", err)
		}
		p.Work.Recipe = r
		return fmt.Sprintf("Veil %d: %s", n, text), nil
	})
}

// RepeatVeils draws the veils of a picture on all others of the batch that are
// of the same size, and have none yet: screenshots one after the other. It
// returns how many they are.
func (d *Desk) RepeatVeils(id uint) (int, error) {
	from, err := d.Mine(d.Store, id)
	if err != nil {
		return 0, err
	}
	veils := from.Work.Recipe.Veils()
	if len(veils) == 0 {
		return 0, access.Refuse(access.Bad, "There is no veil to repeat.", "Draw one first.")
	}
	batch, err := d.pictures.Own(store.Bench)
	if err != nil {
		return 0, err
	}
	n := 0
	for _, p := range batch {
		if p.ID == id || p.Facts.Upright() != from.Facts.Upright() || len(p.Work.Recipe.Veils()) > 0 {
			continue
		}
		drawn, err := d.readyVeils(p.ID, namedAll(veils))
		if err != nil {
			return n, err
		}
		err = d.recipe(p.ID, fmt.Sprintf("The veils of %s repeated", access.NameOr(from)), func(p store.Picture) (recipe.Recipe, error) {
			return p.Work.Recipe.WithVeils(drawn.of(p), p.Facts.Upright())
		})
		if err != nil {
			return n, err
		}
		n++
	}
	return n, nil
}

// TrimBorder frames what is not plain border.
func (d *Desk) TrimBorder(id uint) error {
	p, err := d.Mine(d.Store, id)
	if err != nil {
		return err
	}
	src, done, err := d.derive.WorkingCopy(p)
	if err != nil {
		return err
	}
	defer done()
	small, whole := src.Upright(), p.Facts.Upright()
	part := raster.Trim(src.Image())
	if part == small.Rect() {
		return access.Refuse(access.Bad, "No plain border was found.", "The frame stays as it was.")
	}
	frame := fit.ScaleOf(small, whole).Outward(part)
	return d.SetFrame(id, frame.Intersect(whole.Rect()), facts.Upright)
}

// NextLacking returns the picture of the batch after this one that still lacks
// something, round to the beginning; 0 where none does.
func (d *Desk) NextLacking(id uint) (uint, error) {
	batch, err := d.OnBench()
	if err != nil {
		return 0, err
	}
	here := 0
	for i, item := range batch {
		if item.ID == id {
			here = i
		}
	}
	for i := range batch {
		if item := batch[(here+1+i)%len(batch)]; len(item.Lacks) > 0 && item.ID != id {
			return item.ID, nil
		}
	}
	return 0, nil
}
