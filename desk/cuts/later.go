package cuts

import (
	"mivlet/core/rules"
	"mivlet/desk/access"
	"mivlet/desk/derive"
	"mivlet/desk/jobs"
)

// ToCut is a picture that is cut beside the screens.
type ToCut struct {
	Picture uint   `json:"picture"`
	Slots   []slot `json:"slots"`
	Still   bool   `json:"still,omitempty"` // what moves is cut as it stands still, too
}

// slot is one with all that its files follow from: the document of the rules leaves out what follows from
// the rest of it.
type slot struct {
	rules.Slot
	Widths []int `json:"widths"`
}

// CutOf is a task that cuts a picture for some slots.
func CutOf(picture uint, slots ...rules.Slot) ToCut {
	of := ToCut{Picture: picture}
	for _, s := range slots {
		of.Slots = append(of.Slots, slot{s, s.Widths})
	}
	return of
}

// Later makes cuts beside the screens, also when the program is ended meanwhile. Each picture is decoded
// once; what is made already is not made again.
func (d *Desk) Later(title string, tasks []jobs.Of[ToCut]) (*jobs.Job, error) {
	return d.later(d.jobs, title, tasks)
}

func (d *Desk) cut(of ToCut) error {
	p, err := d.Store.Picture(of.Picture)
	if err != nil {
		return access.NotFound(err, "A picture that was to be cut")
	}
	var slots []rules.Slot
	for _, s := range of.Slots {
		s.Slot.Widths = s.Widths
		slots = append(slots, s.Slot)
	}
	for _, s := range slots[:len(slots):len(slots)] {
		if of.Still && derive.Moves(p, s) {
			slots = append(slots, s.Still())
		}
	}
	_, err = d.CutsForAll(d.Rules(), p, slots)
	return err
}
