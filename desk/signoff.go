package desk

import (
	"fmt"
	"strings"

	"mivlet/core/audit"
	"mivlet/core/words"
	"mivlet/store"
)

// PageFinding is a finding of a page, with the picture that it is about.
type PageFinding struct {
	audit.OnPage
	Picture store.Picture // the zero value where it is about none
}

// findings is what falls short on a page.
func (d *Desk) findings(n *snapshot) []PageFinding {
	works := map[uint]audit.Work{}
	for id, pic := range n.pictures {
		works[id] = workUnder(n.house.Rules, n.today, pic)
	}
	found := audit.CheckPage(audit.Page{Doc: n.Doc, House: n.house.Rules, Works: works, Weights: n.weights(), Leads: n.leads, Site: d.site})
	fs := make([]PageFinding, len(found))
	for i, f := range found {
		fs[i] = PageFinding{f, n.pictures[f.Picture]}
	}
	return fs
}

// weights are the bytes of the heaviest file of each place that is cut already.
func (n *snapshot) weights() map[string]int64 {
	all := map[string]int64{}
	for _, at := range n.stands() {
		key := audit.WeightOf(at.Block, at.Nth)
		for _, c := range n.madeFor(n.pictures[at.Picture], at.Slot) {
			all[key] = max(all[key], c.Bytes)
		}
	}
	return all
}

// leads tells of a path of the site whether something is live there, or where it has
// moved to.
func (n *snapshot) leads(path string) (there bool, moved string) {
	path = strings.TrimSuffix(path, "/")
	if path == "" {
		return true, "" // the way in
	}
	if _, ok := n.house.Section(strings.TrimPrefix(path, "/")); ok {
		return true, "" // the list of a section's pages
	}
	return n.site.live[path], n.site.moved[path]
}

// followable tells why nobody could follow an address; "" where they could.
func (d *Desk) followable(address string) string {
	if kind, _ := audit.Address(address, d.site); kind == audit.NoAddress {
		return fmt.Sprintf("“%s” is no address.", address)
	}
	return ""
}

// Mend does to a page what mends one of its findings: the one at the nth picture of a
// block that offers it. Where it is no longer found, nothing is changed.
func (d *Desk) Mend(id uint, block string, n int, do audit.Mending, value string) error {
	if err := d.mayWorkOn(id); err != nil {
		return err
	}
	v, err := d.Page(id)
	if err != nil {
		return err
	}
	for _, f := range v.Findings {
		if f.Block == block && f.Nth == n && f.Mend.Do == do && f.Mend.Value == value {
			return d.edit(id, newest, "Mended: "+f.Mend.Label, f.Apply)
		}
	}
	return refuse(Missing, "That is mended already, or has changed.", "Look at the sign-off as it is now.")
}

// Stops returns the findings that keep the page from going live.
func (v PageView) Stops() []PageFinding { return stopsAmong(v.Findings) }

func stopsAmong(fs []PageFinding) []PageFinding {
	var stops []PageFinding
	for _, f := range fs {
		if f.Level == words.Stop {
			stops = append(stops, f)
		}
	}
	return stops
}

// leastReason is the fewest characters of a reason that is one.
const leastReason = 10

// Sign is a publisher's word for letting a page go live with what says stop.
type Sign struct {
	Person string   `json:"person"`
	Reason string   `json:"reason"`
	Stops  []string `json:"stops"` // what was signed for
}

// sign refuses a page with stops, unless whoever publishes it says why it may go live
// all the same. A place that waits for a picture is left out of the live page.
func (d *Desk) sign(found []PageFinding, reason string) (*Sign, error) {
	stops := stopsAmong(found)
	if len(stops) == 0 {
		return nil, nil
	}
	reason = strings.Join(strings.Fields(reason), " ")
	if len([]rune(reason)) < leastReason {
		about := "The page"
		if stops[0].Picture.ID != 0 {
			about = nameOr(stops[0].Picture)
		}
		return nil, refuse(Bad, fmt.Sprintf("%s is not ready: %s", about, stops[0].Text), "Mend it, or sign for it with a reason that others can read later.")
	}
	s := &Sign{Person: d.who.Name, Reason: reason}
	for _, f := range stops {
		s.Stops = append(s.Stops, f.Text)
	}
	return s, nil
}
