package shelves

import (
	"fmt"
	"html"
	"slices"

	"mivlet/core/facts"
	"mivlet/core/rules"
	"mivlet/desk/access"
	"mivlet/desk/address"
	"mivlet/desk/derive"
	"mivlet/store"
)

// Take says how a picture is taken along, for use elsewhere.
type Take struct {
	Slot   string // of the house; empty where a width is given
	Width  int    // in pixels
	Format string // one of [TakeFormats]; empty leaves it to the pixels
}

// TakeFormats are the formats in which a picture can be taken along.
var TakeFormats = []string{"jpeg", "png", "webp"}

// Limits of a width that is typed, in pixels, and of such a file, in bytes.
const (
	leastTaken  = 16
	mostTaken   = 6000
	takenBudget = 5_000_000
)

// Taken is a picture that is taken along.
type Taken struct {
	Name          string // of the file, by the house convention
	Alt           string
	Width, Height int // in pixels
	Bytes         int64
	hash          string
}

// HTML is how the picture stands in HTML elsewhere.
func (t Taken) HTML() string {
	return fmt.Sprintf("<img src=\"%s\" width=\"%d\" height=\"%d\" alt=\"%s\">", html.EscapeString(t.Name), t.Width, t.Height, html.EscapeString(t.Alt))
}

// Take cuts a picture for use elsewhere, with what hides something in it. Whoever may look at it
// may take it, but where somebody on it said no.
func (d *Desk) Take(id uint, how Take) (Taken, error) {
	p, err := d.Visible(id)
	if err != nil {
		return Taken{}, err
	}
	if d.pictures.Refused(p) {
		return Taken{}, access.Refuse(access.Forbidden, "Somebody in this picture refused permission.", "Cover them first, or take another picture.")
	}
	slot, err := d.takeSlot(how)
	if err != nil {
		return Taken{}, err
	}
	made, err := d.cuts.CutsOf(p, slot)
	if err != nil {
		return Taken{}, err
	}
	c := made[len(made)-1]
	return Taken{Name: address.NameOf(p) + fmt.Sprintf("-%d%s", c.Width, facts.Extension(c.MediaType)), Alt: p.Work.Alt, Width: c.Width, Height: c.Height, Bytes: c.Bytes, hash: c.Hash}, nil
}

// OpenTaken opens the file of a picture that is taken along, and notes in the trail who took it.
func (d *Desk) OpenTaken(id uint, how Take) (Taken, derive.File, error) {
	t, err := d.Take(id, how)
	if err != nil {
		return t, derive.File{}, err
	}
	err = d.Store.Tx(func(s store.Records) error {
		p, err := s.Picture(id)
		if err != nil {
			return access.NotFound(err, "The picture")
		}
		return d.TracePicture(s, p, "Took %s along", t.Name)
	})
	if err != nil {
		return t, derive.File{}, err
	}
	f, err := d.derive.Open(t.hash)
	return t, f, err
}

// takeSlot is the slot that a picture is cut for: one of the house at its sharpest, or a width.
func (d *Desk) takeSlot(how Take) (rules.Slot, error) {
	var slot rules.Slot
	switch known, ok := d.Rules().Slot(how.Slot); {
	case how.Slot != "" && !ok:
		return slot, access.Refuse(access.Bad, fmt.Sprintf("There is no slot %q.", how.Slot), "Choose one from the list, or type a width.")
	case ok:
		slot = known
		slot.Densities, slot.Widths = []float64{known.Sharpest()}, nil
	case how.Width < leastTaken || how.Width > mostTaken:
		return slot, access.Refuse(access.Bad, fmt.Sprintf("%d pixels cannot be cut.", how.Width), fmt.Sprintf("Type a width from %d to %d pixels.", leastTaken, mostTaken))
	default:
		slot = rules.Slot{ID: "along", Title: "Elsewhere", Width: how.Width, Densities: []float64{1}, Budget: takenBudget}
	}
	switch {
	case how.Format == "":
	case !slices.Contains(TakeFormats, how.Format):
		return slot, access.Refuse(access.Bad, fmt.Sprintf("A picture cannot be taken along as %q.", how.Format), "Choose JPEG, PNG or WebP.")
	default:
		slot.Formats, slot.Budget = []string{how.Format}, takenBudget
	}
	return slot, nil
}
