package pictures

import (
	"slices"
	"strings"

	"mivlet/core/audit"
	"mivlet/core/rules"
	"mivlet/core/words"
	"mivlet/store"
)

// Item is a picture in the strip or in the tray.
type Item struct {
	store.Picture
	Lacks []audit.Finding // what keeps it from going live
}

// Items returns the pictures at a station, newest first.
func (d *Desk) Items(at store.Station) ([]Item, error) {
	ps, err := d.Own(at)
	all := make([]Item, len(ps))
	for i, p := range ps {
		all[i] = d.Item(p)
	}
	return all, err
}

// stopsOf is what keeps a picture from going live.
func stopsOf(d *Desk, p store.Picture) []audit.Finding { return audit.Stops(audit.Check(d.Work(p))) }

// Work is a picture as its findings are worked out, under the rules that hold.
func (d *Desk) Work(p store.Picture) audit.Picture { return WorkUnder(d.Rules(), d.Today(), p) }

// WorkUnder is a picture as it is judged by some rules on a day.
func WorkUnder(house rules.Rules, today string, p store.Picture) audit.Picture {
	w := p.Work
	out := audit.Picture{Facts: p.Facts, Recipe: w.Recipe, Name: w.Name, Section: p.Section, Seen: p.Consents, Faces: p.Faces, Left: w.Left, Today: today, Credit: w.Credit, House: house,
		Said: words.Said{Alt: w.Alt, Decorative: w.Decorative, Reason: w.Reason, Hidden: strings.Split(w.Hidden, ",")}}
	if slot, ok := house.Slot(w.Slot); ok {
		out.Slot = &slot
	}
	return out
}

// Refused reports whether somebody on a picture may not be shown.
func (d *Desk) Refused(p store.Picture) bool { return Refuses(stopsOf(d, p)) }

// Refuses reports whether somebody on a picture may not be shown, by what keeps it from going
// live.
func Refuses(stops []audit.Finding) bool {
	return slices.ContainsFunc(stops, func(f audit.Finding) bool {
		return f.Code == audit.Refused || f.Code == audit.RefusedFace || f.Code == audit.Ended
	})
}

// Item is a picture with what keeps it from going live.
func (d *Desk) Item(p store.Picture) Item { return Item{p, stopsOf(d, p)} }
