package district

import (
	"mivlet/core/rules"
	"mivlet/desk/access"
)

// Giving is how the parts of the rules are given to all other houses, seen from the rules of the office.
type Giving struct {
	Parts []PartGiven
	First rules.Giving // what a new house begins with
}

// PartGiven is how one part is given.
type PartGiven struct {
	rules.Part
	How rules.Giving
}

// Given tells how the parts are given.
func (d *Desk) Given() (g Giving, err error) {
	if err := d.may(); err != nil {
		return g, err
	}
	now, err := d.houses.Given()
	if err != nil {
		return g, err
	}
	own := d.Rules()
	for _, p := range rules.Parts() {
		g.Parts = append(g.Parts, PartGiven{p, now.Fixed(p.Name, own)})
	}
	g.First = now.First(own)
	return g, nil
}

// Give has parts of the rules be the same in all houses as they are here, or leaves them to each house; [rules.Otherwise]
// leaves a part as it is given. It holds in all houses at once.
func (d *Desk) Give(parts map[string]rules.Giving, first rules.Giving) error {
	if err := d.may(); err != nil {
		return err
	}
	g, err := d.houses.Given()
	if err != nil {
		return err
	}
	own := d.Rules()
	for part, how := range parts {
		switch how {
		case rules.Alike:
			if g, err = g.Fix(part, own); err != nil {
				return access.Refuse(access.Bad, err.Error(), "Go back, and choose again.")
			}
		case rules.Free:
			g = g.Free(part)
		}
	}
	switch first {
	case rules.Alike:
		g = g.BeginAs(own)
	case rules.Free:
		g = g.BeginUsually()
	}
	if err := d.houses.Give(d.Context, g); err != nil {
		return err
	}
	return d.trace("Changed which rules are the same in all houses")
}
