package banners

import (
	"cmp"
	"image"
	"slices"

	"mivlet/core/audit"
	"mivlet/core/banner"
	"mivlet/core/layout"
	"mivlet/core/page"
	"mivlet/core/rules"
	"mivlet/desk/snapshot"
	"mivlet/store"
)

// stops are what keeps a picture from being a banner. How it is described counts on the banner
// itself, how it is fitted is worked out for the spot.
func (d *Desk) stops(r rules.Rules, doc banner.Doc, pic store.Picture) []audit.Finding {
	work := d.pictures.Work(pic)
	if spot, ok := r.Spot(doc.Spot); ok {
		slot := spot.Slot()
		work.Slot = &slot
	}
	return slices.DeleteFunc(audit.Stops(audit.Check(work)), func(f audit.Finding) bool {
		return f.Step == audit.Describe || f.Step == audit.Fit || f.Step == audit.Frame
	})
}

// shown is the picture of a banner at each size of its spot. lines are those of text in it.
func shown(r rules.Rules, spot rules.Spot, pic store.Picture, lines []line) []banner.Shown {
	view := pic.Work.Recipe.View(pic.Facts.Upright())
	phoneRoom := layout.Phone.Viewport()
	var all []banner.Shown
	for i, slot := range spot.Slots() {
		plan := view.Plan(slot.Want(), slot.Scales())
		first, best := plan[0], plan[len(plan)-1]
		s := banner.Shown{Phone: i > 0, Has: best.Size.W, Needs: slot.Width, Sharp: best.Effective}
		across := float64(slot.Width)
		if wide, phone := page.ShownWidth(r, spot, phoneRoom, phoneRoom); phone == s.Phone { // so it is on a phone
			across, s.Phone = float64(wide), true
		}
		if first.Source.Dx() > 0 {
			s.Letters = smallest(lines, first.Source) * across / float64(first.Source.Dx())
		}
		all = append(all, s)
	}
	return all
}

// line is a line of text in a picture.
type line struct {
	bounds image.Rectangle // pixels of the upright original
	height int             // of its letters
}

// smallest is the height of the smallest letters within a part of a picture, in its pixels; 0
// for none.
func smallest(lines []line, part image.Rectangle) float64 {
	least := 0
	for _, l := range lines {
		if l.bounds.In(part) && l.height > 0 {
			least = min(cmp.Or(least, l.height), l.height)
		}
	}
	return float64(least)
}

// linesOf are the lines of text in a picture.
func (d *Desk) linesOf(pic store.Picture) ([]line, error) {
	found, err := d.derive.LinesOf(pic)
	lines := make([]line, len(found))
	for i, l := range found {
		lines[i] = line{l.Bounds, cmp.Or(l.Height, l.Bounds.Dy())}
	}
	return lines, err
}

// findings are what falls short in a banner as it is drafted.
func (d *Desk) findings(at site, b store.Banner) ([]banner.Finding, error) {
	b.Live = nil
	k := d.known(at, b)
	pic, there := at.seen[k.Picture]
	spot, known := at.rules.Spot(k.Spot)
	live, err := d.liveAt()
	if err != nil {
		return nil, err
	}
	if !there || !known {
		return k.Findings(at.rules, at.today, nil, nil, live), nil
	}
	lines, err := d.linesOf(pic)
	return k.Findings(at.rules, at.today, d.stops(at.rules, k.Doc, pic), shown(at.rules, spot, pic, lines), live), err
}

// liveAt tells whether a path of the site itself leads to something that is live.
func (d *Desk) liveAt() (func(path string) bool, error) {
	site, err := d.Store.LiveSite()
	return func(path string) bool {
		there, moved := snapshot.Leads(d.Rules(), site, path)
		return there || moved != ""
	}, err
}
