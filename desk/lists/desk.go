// Package lists keeps what stands for live pages elsewhere: their cards, and the lists of
// them on other live pages. When a page goes live, moves or goes, the lists that show it
// are made anew in the same transaction. Nothing else of the pages that hold them changes:
// what was signed there stays, byte for byte.
package lists

import (
	"encoding/json"
	"fmt"
	"io"
	"slices"
	"sync"
	"sync/atomic"

	"mivlet/desk/access"
	"mivlet/store"
)

// SitePage is a page of the site, to be laid out.
type SitePage struct {
	Title   string
	Section string // whose page it is
	Main    string // the inside of its main element
	Head    string // more elements of its head
	Style   string // address of the page's own measures; "" where it has none
	Top     *Top   // nil where it begins as usual
}

// Top is a picture at the top of a page, behind the name of the site.
type Top struct {
	HTML    string `json:"html"`    // the picture, indented by one level
	Classes string `json:"classes"` // of the element that it stands in
	Below   bool   `json:"below"`   // the way to the sections stands below it
}

// Leaf is how the pages begin that list all of what a page lists. It is made when that page
// goes live, and kept with its live version: the lists are made anew without it.
type Leaf struct {
	Top
	Style   string `json:"style"`   // address of its measures
	Picture uint   `json:"picture"` // that it shows
}

// ReadLeaf reads how leaves begin from a live version; nil where they begin as usual.
func ReadLeaf(v store.LiveVersion) (*Leaf, error) {
	if v.Leaf == "" {
		return nil, nil
	}
	var l Leaf
	if err := json.Unmarshal([]byte(v.Leaf), &l); err != nil {
		return nil, fmt.Errorf("how the lists of page %d begin: %w", v.PageID, err)
	}
	return &l, nil
}

// Layout writes a whole HTML document around the inside of a page's main
// element: what the site looks like around it.
type Layout func(w io.Writer, p SitePage) error

// Desk is where lists are kept true.
type Desk struct {
	*access.Seat
	*shared
}

// shared is what the desks of all people share.
type shared struct {
	layout atomic.Pointer[Layout]
	mu     sync.Mutex
	stale  []string // hashes of what lists were before, newest last
}

// mostStale is how many files of former lists are remembered; the daily sweep takes all of
// them away.
const mostStale = 10_000

// New returns the desk of a seat.
func New(s *access.Seat) *Desk { return &Desk{s, &shared{}} }

// At returns the same desk for another seat.
func (d *Desk) At(s *access.Seat) *Desk { return &Desk{s, d.shared} }

// Stale returns the hashes of files that held lists before they were made anew, which the
// daily sweep has not reached yet. Whoever erases a picture takes them away, too: they name
// its files.
func (d *Desk) Stale() []string {
	d.mu.Lock()
	defer d.mu.Unlock()
	return slices.Clone(d.stale)
}

func (d *Desk) noteStale(files []store.Published) {
	d.mu.Lock()
	defer d.mu.Unlock()
	for _, f := range files {
		if f.PictureID == 0 {
			d.stale = append(d.stale, f.Hash)
		}
	}
	d.stale = slices.Clone(d.stale[max(0, len(d.stale)-mostStale):])
}

// Layout is what the site looks like around the pages that list all of something.
func (d *Desk) Layout() Layout {
	if l := d.layout.Load(); l != nil {
		return *l
	}
	return nil
}

// UseLayout tells what the site looks like around the pages that list all of something.
// Until then they are plain documents.
func (d *Desk) UseLayout(l Layout) error {
	if err := d.MayKeep(); err != nil {
		return err
	}
	d.layout.Store(&l)
	return nil
}
