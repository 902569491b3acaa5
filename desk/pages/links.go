package pages

import (
	"path"
	"strings"

	"mivlet/core/page"
	addresses "mivlet/desk/address"
)

// LinkTarget is where a link within the words of a page can lead.
type LinkTarget struct {
	Title   string
	Address string // a path of the site
	Live    bool
	File    bool // a file that the page offers
}

// mostTargets is how many are listed at once.
const mostTargets = 8

// LinkTargets lists files of a page and pages of the house whose titles or addresses hold all
// words of text, those that are live first.
func (d *Desk) LinkTargets(id uint, text string) ([]LinkTarget, error) {
	p, err := d.OwnPage(id)
	if err != nil {
		return nil, err
	}
	titles, err := d.PageTitles(0)
	if err != nil {
		return nil, err
	}
	words := strings.Fields(strings.ToLower(text))
	fits := func(t LinkTarget) bool {
		in := strings.ToLower(t.Title + " " + t.Address)
		for _, w := range words {
			if !strings.Contains(in, w) {
				return false
			}
		}
		return true
	}
	var live, others []LinkTarget
	for _, b := range p.Doc.Blocks {
		if b.Kind != page.File || b.File == nil {
			continue
		}
		title := b.Text
		if title == "" {
			title = b.File.Name
		}
		if t := (LinkTarget{Title: title, Address: addresses.FilePath(p, *b.File), Live: p.Live(), File: true}); fits(t) {
			live = append(live, t)
		}
	}
	for _, t := range titles {
		target := LinkTarget{Title: t.Title, Address: path.Join("/", t.Section, t.Slug), Live: t.Live}
		switch {
		case t.ID == id || !fits(target):
		case t.Live:
			live = append(live, target)
		default:
			others = append(others, target)
		}
	}
	all := append(live, others...)
	return all[:min(len(all), mostTargets)], nil
}
