package rules

import "mivlet/core/naming"

// What can be chosen where a rule is one of a few words.

// Acts lists what can be done with a type that Mivlet reads.
func (Rules) Acts() []Do { return []Do{Keep, Convert, Refuse} }

// DrawingActs lists what can be done with drawings.
func (Rules) DrawingActs() []Do { return []Do{Convert, Refuse} }

// OwnActs lists what can be done with a type of the house's own.
func (Rules) OwnActs() []Do { return []Do{Keep, Refuse} }

// Links lists where a picture can lead.
func (Rules) Links() []Link { return []Link{NoLink, EnlargeLink} }

// CutMarks lists how addresses of cuts change with their content.
func (Rules) CutMarks() []string { return []string{"query", "suffix"} }

// Joiners lists what can stand between the parts of a name.
func (Rules) Joiners() []string { return []string{"-", "_", ""} }

// Cases lists how letters of a name can be written.
func (Rules) Cases() []naming.Case {
	return []naming.Case{naming.Lower, naming.Capitals, naming.AsTyped}
}

// Wheres lists where a spot can stand on a page.
func (Rules) Wheres() []Where { return []Where{Above, Below, Beside, AsBlock} }

// Turns lists how banners can share a spot.
func (Rules) Turns() []Turn { return []Turn{ByTurns, InOrder, ByShare} }

// Empties lists what can show where no banner runs.
func (Rules) Empties() []Empty { return []Empty{ShowNothing, ShowOwn} }
