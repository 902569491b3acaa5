package pictures

import (
	"cmp"
	"fmt"
	"maps"
	"slices"
	"strings"

	"mivlet/core/naming"
	"mivlet/core/rules"
	"mivlet/desk/access"
	"mivlet/sentences"
	"mivlet/store"
)

// NameRefusal is a name that breaks the convention, with the one that would do.
type NameRefusal struct {
	Name     string
	Problems []naming.Problem
	Proposal string
}

func (r *NameRefusal) Error() string {
	return fmt.Sprintf("%q is no name by the house convention: %s", r.Name, sentences.Problem(r.Problems[0]))
}

// taken is the problem of a name that another picture has.
var taken = naming.Problem{Code: naming.TakenName}

// Clues are what a proposal for a picture is drawn from.
func (d *Desk) Clues(p store.Picture, typed string) naming.Clues {
	if strings.TrimSpace(typed) == "" {
		typed = p.OriginalName
	}
	k := d.Rules().Clues(p.Section, p.Facts.Taken)
	k.Typed, k.Alt, k.Today, k.Slot, k.Fallback = typed, p.Work.Alt, d.Now(), p.Work.Slot, p.OriginalHash[:6]
	return k
}

// Propose returns the name that the house would give a picture, with each step
// that led to it. Where it is taken, the next number is.
func (d *Desk) Propose(p store.Picture, typed string) (naming.Proposal, error) {
	return d.Free(d.Store, p, d.Clues(p, typed))
}

// Free returns the proposal from clues, with the next number where it is taken.
func (d *Desk) Free(s store.Records, p store.Picture, k naming.Clues) (naming.Proposal, error) {
	c := d.Rules().Naming
	first := c.Propose(k)
	try := first
	for n := d.firstNumber(); ; n++ {
		used, err := s.NameTaken(p.Section, try.Name, p.ID)
		if err != nil || !used {
			return try, err
		}
		k.Number = max(n, k.Number+1)
		try = c.Propose(k)
		if try.Name == first.Name { // the convention has no number: it gets one all the same
			try.Name = fmt.Sprintf("%s%s%d", first.Name, c.Joiner, n)
		}
		try.Steps = append(slices.Clone(first.Steps), fmt.Sprintf("“%s” is taken: the next number.", first.Name))
	}
}

// firstNumber is where numbers begin.
func (d *Desk) firstNumber() int {
	for _, p := range d.Rules().Naming.Parts {
		if p.Kind == naming.Number {
			return max(p.Start, 1)
		}
	}
	return 2
}

// SetName names a picture. A name that breaks the convention is refused with a
// [*NameRefusal]. The old name still finds the picture.
func (d *Desk) SetName(id uint, name string) error {
	defer d.TakeNames()()
	name = strings.TrimSpace(name)
	return d.Store.Tx(func(s store.Records) error {
		p, err := d.Mine(s, id)
		if err != nil {
			return err
		}
		return d.rename(s, &p, name)
	})
}

// rename gives a picture another name, as one step of its history. Call it in a
// transaction, with names held.
func (d *Desk) rename(s store.Records, p *store.Picture, name string) error {
	former := p.Work.Name
	if err := d.checkName(s, *p, name); err != nil || former == name {
		return err
	}
	if former != "" {
		if err := s.AddFormerName(p.ID, p.Section, former); err != nil {
			return err
		}
	}
	p.Work.Name = name
	if err := s.AddStep(p, "Named "+name, d.Person.Name, d.Now()); err != nil { // indexes it, former names and all
		return err
	}
	return d.TracePicture(s, *p, "%s: named %s", cmp.Or(former, p.OriginalName), name)
}

// checkName refuses a name that breaks the convention or is taken.
func (d *Desk) checkName(s store.Records, p store.Picture, name string) error {
	ps := d.Rules().Naming.Check(name, d.Rules().Clues(p.Section, p.Facts.Taken))
	if len(ps) == 0 {
		used, err := s.NameTaken(p.Section, name, p.ID)
		if err != nil {
			return err
		}
		if !used {
			return nil
		}
		ps = []naming.Problem{taken}
	}
	free, err := d.Free(s, p, d.Clues(p, name))
	if err != nil {
		return err
	}
	return &NameRefusal{name, ps, free.Name}
}

// ExampleName shows a convention on the picture that was worked on last.
func (d *Desk) ExampleName(r rules.Rules) (store.Picture, naming.Proposal, error) {
	if err := d.MayLook(); err != nil {
		return store.Picture{}, naming.Proposal{}, err
	}
	found, _, err := d.Store.Shelf(store.ShelfQuery{Most: 1})
	if err != nil || len(found) == 0 {
		return store.Picture{}, naming.Proposal{}, err
	}
	p := found[0]
	k := d.Clues(p, cmp.Or(p.Work.Name, p.OriginalName))
	k.Subject = cmp.Or(p.Work.Alt, "First launch")
	return p, r.Naming.Propose(k), nil
}

// Renaming is what a picture would be called.
type Renaming struct {
	Picture store.Picture
	From    string
	To      string
	Steps   []string
}

// PlanNames tells what pictures would be called by what they all show, numbered
// in their order, without naming them. An empty subject draws each name from
// what is known of the picture itself.
func (d *Desk) PlanNames(ids []uint, subject string) ([]Renaming, error) {
	if err := d.MayLook(); err != nil {
		return nil, err
	}
	var plan []Renaming
	used := map[string]bool{}
	numbered := len(ids) > 1 && strings.TrimSpace(subject) != ""
	for i, id := range ids {
		p, err := d.Store.Picture(id)
		if err != nil {
			return nil, access.NotFound(err, "A picture")
		}
		if err := d.MayWork(p.Section); err != nil {
			return nil, err
		}
		k := d.Clues(p, p.Work.Name)
		k.Subject = subject
		if numbered {
			k.Number = i + 1
		}
		to, err := d.Free(d.Store, p, k)
		if err != nil {
			return nil, err
		}
		for n := d.firstNumber(); used[p.Section+"/"+to.Name]; n++ { // two of this very plan
			k.Number = max(n, k.Number+1)
			if to, err = d.Free(d.Store, p, k); err != nil {
				return nil, err
			}
		}
		used[p.Section+"/"+to.Name] = true
		plan = append(plan, Renaming{p, p.Work.Name, to.Name, to.Steps})
	}
	return plan, nil
}

// Rename names several pictures, all or none. All placements follow; live pages
// say that they want publishing again.
func (d *Desk) Rename(names map[uint]string) error {
	defer d.TakeNames()()
	if err := d.MayLook(); err != nil {
		return err
	}
	if len(names) == 0 {
		return access.Refuse(access.Bad, "No picture is chosen.", "Tick the pictures to name.")
	}
	return d.Store.Tx(func(s store.Records) error {
		for _, id := range slices.Sorted(maps.Keys(names)) {
			p, err := d.Mine(s, id)
			if err != nil {
				return err
			}
			if p.Work.Name == names[id] {
				continue
			}
			if err := d.rename(s, &p, names[id]); err != nil {
				return err
			}
		}
		return nil
	})
}

// TakeNames keeps others from taking names until done: a name is checked and taken in one go.
func (d *Desk) TakeNames() (done func()) {
	d.naming.Lock()
	return d.naming.Unlock
}
