package banners

import (
	"slices"

	"mivlet/core/banner"
	"mivlet/core/rules"
	"mivlet/core/steps"
	"mivlet/desk/access"
	"mivlet/desk/cuts"
	"mivlet/desk/derive"
	"mivlet/store"
)

// State is what visitors get of a banner at the moment, as far as it goes by itself.
type State string

// The states.
const (
	Draft    State = "draft"    // nobody has approved it
	Approved State = "approved" // and it may show, in its days
	Stopped  State = "stopped"
)

// StateOf is the state of a banner.
func StateOf(b store.Banner) State {
	switch {
	case b.Live == nil:
		return Draft
	case b.Stopped:
		return Stopped
	}
	return Approved
}

// Line is a banner on the calendar.
type Line struct {
	store.Banner
	State   State
	Changed bool          // it says something else than visitors get
	Known   banner.Banner // as it is drafted, for its days
	// Holder is the title of the banner that has the spot to itself today; "" for none.
	Holder string
}

// Row is a spot on the calendar.
type Row struct {
	Spot  rules.Spot
	Lines []Line
}

// Calendar is all banners by their spots.
type Calendar struct {
	Today     string
	Rows      []Row
	Lost      []Line // whose spot the house does not have any more
	Deleted   []store.Banner
	Occasions []store.Occasion
}

// Calendar returns all banners.
func (d *Desk) Calendar() (Calendar, error) {
	if err := d.MayLook(); err != nil {
		return Calendar{}, err
	}
	c := Calendar{}
	return c, d.Store.View(func(s store.Records) error {
		at, err := d.siteOf(s)
		if err != nil {
			return err
		}
		c.Today = at.today
		for _, spot := range at.rules.Spots {
			c.Rows = append(c.Rows, Row{Spot: spot})
		}
		for _, b := range at.banners {
			l := d.line(at, b)
			lost := true
			for i := range c.Rows {
				if c.Rows[i].Spot.ID == b.Doc.Spot {
					c.Rows[i].Lines, lost = append(c.Rows[i].Lines, l), false
				}
			}
			if lost {
				c.Lost = append(c.Lost, l)
			}
		}
		for i := range c.Rows {
			d.holders(at, &c.Rows[i])
		}
		if c.Deleted, err = s.Banners(true); err != nil {
			return err
		}
		c.Occasions, err = s.Occasions()
		return err
	})
}

// holders notes which banners of a spot another one keeps from their turn today.
func (d *Desk) holders(at site, row *Row) {
	live := d.inSpot(at, row.Spot.ID)
	titles := map[uint]string{}
	for _, b := range live {
		titles[b.ID] = b.Title
	}
	for i, l := range row.Lines {
		if l.State == Approved {
			if h, held := banner.HeldBy(row.Spot, d.known(at, l.Banner), live, at.today); held {
				row.Lines[i].Holder = titles[h.ID]
			}
		}
	}
}

// line is a banner as it is drafted.
func (d *Desk) line(at site, b store.Banner) Line {
	drafted := b
	drafted.Live = nil
	return Line{Banner: b, State: StateOf(b), Changed: Changed(b), Known: d.known(at, drafted)}
}

// View is a banner on its screen.
type View struct {
	Line
	Spot      *rules.Spot // nil where the house does not have it any more
	Picture   *store.Picture
	Findings  []banner.Finding
	Occasions []store.Occasion
	Steps     []store.BannerStep
	Days      []store.BannerDay
	Recut     bool // its picture was changed since it was approved
	Today     string
}

func (v View) history() steps.History[store.BannerStep] {
	return steps.History[store.BannerStep]{Steps: v.Steps, Shown: v.Step}
}

// Undo is the step that the shown one was made from; -1 where there is none.
func (v View) Undo() int { return v.history().Undo() }

// Redo is the newest step that was made from the shown one; -1 where there is none.
func (v View) Redo() int { return v.history().Redo() }

// Of returns a banner on its screen.
func (d *Desk) Of(id uint) (View, error) {
	if err := d.MayLook(); err != nil {
		return View{}, err
	}
	days, err := d.counted(id)
	if err != nil {
		return View{}, err
	}
	v := View{Days: days}
	var at site
	err = d.Store.View(func(s store.Records) error {
		b, err := s.Banner(id)
		if err != nil {
			return access.NotFound(err, "The banner")
		}
		if at, err = d.siteOf(s); err != nil {
			return err
		}
		if b.Dropped() && b.Doc.Picture != 0 { // those of deleted banners are not read with the others
			if at.seen, err = s.PicturesIn([]uint{b.Doc.Picture}); err != nil {
				return err
			}
		}
		v.Line, v.Today = d.line(at, b), at.today
		if v.Occasions, err = s.Occasions(); err != nil {
			return err
		}
		v.Steps, err = s.BannerSteps(id)
		return err
	})
	if err != nil {
		return v, err
	}
	if spot, ok := at.rules.Spot(v.Doc.Spot); ok {
		v.Spot = &spot
	}
	if p, ok := at.seen[v.Doc.Picture]; ok && d.Sees(p) {
		v.Picture = &p
	}
	v.Recut = d.recut(at, v.Banner)
	v.Findings, err = d.findings(at, v.Banner) // text in the picture is looked for outside of the transaction
	return v, err
}

// recut reports whether visitors get a banner's picture otherwise than it would be cut now.
func (d *Desk) recut(at site, b store.Banner) bool {
	if b.Live == nil {
		return false
	}
	spot, known := at.rules.Spot(b.Live.Spot)
	pic, there := at.seen[b.Live.Picture]
	if !known || !there {
		return false
	}
	var keys []string
	for _, slot := range slotsFor(spot, pic) {
		keys = append(keys, cuts.CutKey(at.rules, pic, slot))
		for _, format := range at.rules.Placing.Lighter {
			keys = append(keys, cuts.CutKey(at.rules, pic, slot.As(format)))
		}
	}
	return slices.ContainsFunc(at.files[b.ID], func(f store.BannerFile) bool { return !slices.Contains(keys, f.CutKey) })
}

// moment reads what decides which banners run.
func (d *Desk) moment() (at site, err error) {
	return at, d.Store.View(func(s store.Records) error {
		at, err = d.siteOf(s)
		return err
	})
}

// Why is the answer to why a banner shows on a page, or does not.
type Why struct {
	Page       store.Page
	Shows      bool
	Conditions []banner.Condition // those that are not met first
	Holder     string             // title of the banner that holds the spot
	Occasion   string             // title
	Today      string
}

// Why tells why a banner shows on a page, or does not: as a publisher approved it or, where
// nobody has, as it is drafted.
func (d *Desk) Why(id, page uint) (Why, error) {
	if err := d.MayLook(); err != nil {
		return Why{}, err
	}
	w := Why{}
	return w, d.Store.View(func(s store.Records) error {
		b, err := s.Banner(id)
		if err != nil {
			return access.NotFound(err, "The banner")
		}
		if w.Page, err = s.Page(page); err != nil {
			return access.NotFound(err, "The page")
		}
		p, err := pageOf(s, page)
		if err != nil {
			return err
		}
		at, err := d.siteOf(s)
		if err != nil {
			return err
		}
		k := d.known(at, b)
		k.Stopped = k.Stopped || b.Dropped()
		w.Today = at.today
		w.Conditions = banner.Why(at.rules, k, d.inSpot(at, k.Spot), p, at.today)
		w.Shows = w.Conditions[0].Met
		w.Occasion = at.in[k.Occasion].Title
		for _, o := range at.banners {
			if c := w.Conditions[0]; c.Holder != 0 && o.ID == c.Holder {
				w.Holder = o.Doc.Title
			}
		}
		return nil
	})
}

// Shown opens the picture of a banner as it is drafted, at a size of its spot, as sharp as
// visitors may get it. It is cut where it is not yet.
func (d *Desk) Shown(id uint, phone bool) (derive.File, error) {
	b, err := d.Banner(id)
	if err != nil {
		return derive.File{}, err
	}
	r := d.Rules()
	spot, known := r.Spot(b.Doc.Spot)
	pic, err := d.Store.Picture(b.Doc.Picture)
	if err != nil || !known || !d.Sees(pic) {
		return derive.File{}, access.Refuse(access.Missing, "The banner has no picture for its spot.", "Choose a picture.")
	}
	slot := spot.Slot()
	if p, own := spot.PhoneSlot(); phone && own {
		slot = p
	}
	if !derive.Moves(pic, slot) {
		slot.Formats = []string{"jpeg", "png"} // as for visitors
	}
	made, err := d.cuts.CutsUnder(r, pic, slot)
	if err != nil {
		return derive.File{}, err
	}
	return d.derive.Open(cuts.Loaded(made, float64(made[0].CSSWidth), 2).Hash) // for a sharp screen
}
