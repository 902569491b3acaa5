package snapshot

import (
	"fmt"
	"slices"
	"strings"

	"mivlet/core/audit"
	"mivlet/core/rules"
	"mivlet/core/words"
	"mivlet/desk/access"
	"mivlet/desk/address"
	"mivlet/desk/cuts"
	"mivlet/desk/pictures"
	"mivlet/sentences"
	"mivlet/store"
)

// PageFinding is a finding of a page, with the picture that it is about.
type PageFinding struct {
	audit.OnPage
	Picture store.Picture // the zero value where it is about none
}

// Findings is what falls short on a page.
func (d *Desk) Findings(n *Snapshot) ([]PageFinding, error) {
	contrasts, err := d.Contrasts(n)
	if err != nil {
		return nil, err
	}
	return d.found(n, contrasts), nil
}

// found is what falls short on a page whose contrasts are measured.
func (d *Desk) found(n *Snapshot, contrasts map[string][]audit.Contrast) []PageFinding {
	works := map[uint]audit.Picture{}
	for id, pic := range n.Pictures {
		works[id] = pictures.WorkUnder(n.House.Rules, n.today, pic)
	}
	cover, _ := n.Cover()
	found := audit.CheckPage(audit.Page{Doc: n.Doc, House: n.House.Rules, Works: works, Weights: n.weights(), Leads: n.leads,
		Known: n.site.Known, Listed: n.Listed(), StandsFor: cover.ID, Contrasts: contrasts, Top: n.over.used(n.Page), Site: d.Site})
	fs := make([]PageFinding, len(found))
	for i, f := range found {
		fs[i] = PageFinding{f, n.Pictures[f.Picture]}
	}
	return fs
}

// Listed reports whether a live list shows the page, or would if it went live.
func (n *Snapshot) Listed() bool {
	return slices.ContainsFunc(n.Doc.KnownBy(n.House.Rules, n.ID, n.Section, n.Slug), func(key string) bool { return n.site.Lists[key] })
}

// weights are the bytes of the heaviest file of each place that is cut already.
func (n *Snapshot) weights() map[string]int64 {
	all := map[string]int64{}
	for _, at := range n.stands() {
		key := audit.WeightOf(at.Block, at.Nth)
		all[key] = max(all[key], cuts.Heaviest(n.MadeFor(n.Pictures[at.Picture], at.Slot), at.Slot))
	}
	return all
}

// leads is [Leads] on the site as it was when the page was read, with the files that the page
// itself offers.
func (n *Snapshot) leads(path string) (there bool, moved string) {
	for _, b := range n.Doc.Blocks {
		if b.File != nil && address.FilePath(n.Page, *b.File) == path {
			return true, ""
		}
	}
	return Leads(n.House.Rules, n.site, path)
}

// Leads tells of a path of the site whether something is live there, or where it has moved to.
func Leads(r rules.Rules, site store.LiveSite, path string) (there bool, moved string) {
	path = strings.TrimSuffix(path, "/")
	if path == "" {
		return true, "" // the way in
	}
	if _, ok := r.Section(strings.TrimPrefix(path, "/")); ok {
		return true, "" // the list of a section's pages
	}
	return site.Paths[path], site.Moved[path]
}

// Followable tells why nobody could follow an address; "" where they could.
func (d *Desk) Followable(address string) string {
	if kind, _ := audit.Address(address, d.Site); kind == audit.NoAddress {
		return fmt.Sprintf("“%s” is no address.", address)
	}
	return ""
}

// StopsAmong are the findings that keep a page from going live.
func StopsAmong(fs []PageFinding) []PageFinding {
	var stops []PageFinding
	for _, f := range fs {
		if f.Level == words.Stop {
			stops = append(stops, f)
		}
	}
	return stops
}

// Sign is a publisher's word for letting a page go live with what says stop.
type Sign struct {
	Person string   `json:"person"`
	Reason string   `json:"reason"`
	Stops  []string `json:"stops"` // what was signed for
}

// Sign refuses a page with stops, unless whoever publishes it says why it may go live
// all the same. A place that needs a picture is left out of the live page.
func (d *Desk) Sign(found []PageFinding, reason string) (*Sign, error) {
	stops := StopsAmong(found)
	if len(stops) == 0 {
		return nil, nil
	}
	reason = strings.Join(strings.Fields(reason), " ")
	if len([]rune(reason)) < access.LeastReason {
		about := "The page"
		if stops[0].Picture.ID != 0 {
			about = access.NameOr(stops[0].Picture)
		}
		return nil, access.Refuse(access.Bad, fmt.Sprintf("%s is not ready: %s", about, sentences.Of(stops[0].Finding)), "Fix it, or sign for it with a reason that others can read later.")
	}
	s := &Sign{Person: d.Person.Name, Reason: reason}
	for _, f := range stops {
		s.Stops = append(s.Stops, sentences.Of(f.Finding))
	}
	return s, nil
}
