package page

import (
	"fmt"
	"slices"
	"strconv"
	"strings"

	"mivlet/core/layout"
	"mivlet/core/rules"
)

// Listing is what a list block shows: live pages, newest first or in a given order.
type Listing struct {
	Of    Source `json:"of"`
	Which string `json:"which,omitempty"` // code of the section or category, or the tag
	Pages []uint `json:"pages,omitempty"` // chosen by hand, in their order
	Order Order  `json:"order,omitempty"` // empty is newest first, or as chosen by hand
	Most  int    `json:"most,omitempty"`  // how many are shown at most; 0 is all
	Look  Look   `json:"look"`
	// What stands with each besides its title.
	Days    bool `json:"days,omitempty"`
	Summary bool `json:"summary,omitempty"`
	// All leads on to a page that lists all of them.
	All bool `json:"all,omitempty"`
}

// Source is where the pages of a list come from.
type Source string

// The sources.
const (
	OfSection    Source = "section"
	OfCategory   Source = "category"
	OfTag        Source = "tag"
	OfHand       Source = "hand"       // chosen one by one
	OfSections   Source = "sections"   // the front pages of all sections
	OfCategories Source = "categories" // the front pages of all categories
)

// Sources lists all sources in the order they are offered.
var Sources = []Source{OfSection, OfCategory, OfTag, OfHand, OfSections, OfCategories}

// Order is the order of a list.
type Order string

// The orders.
const (
	AsGiven Order = ""       // newest first, or as chosen by hand, or as the house lists its groups
	Newest  Order = "newest" // by the day they are about, else by when they first went live
	Oldest  Order = "oldest"
	ByTitle Order = "title"
)

// Orders lists all orders in the order they are offered.
var Orders = []Order{AsGiven, Newest, Oldest, ByTitle}

// Look is how a list shows its pages.
type Look string

// The looks.
const (
	Tiles Look = "tiles" // covers of 4:3 beside each other
	Rows  Look = "rows"  // a thumbnail at the left of each
	Slim  Look = "slim"  // a small thumbnail at the left of each
	Bare  Look = "words" // no pictures
)

// Looks lists all looks in the order they are offered.
var Looks = []Look{Tiles, Rows, Slim, Bare}

// Slot is the shape in which a look shows covers; false where it shows none.
func (l Look) Slot() (rules.Slot, bool) {
	switch l {
	case Tiles:
		return Tile, true
	case Rows:
		return Thumb, true
	case Slim:
		return Small, true
	}
	return rules.Slot{}, false
}

// OnLeaf is how a list with the look shows pages where it shows all of them: there, they have
// pictures.
func (l Look) OnLeaf() Look {
	if l == Bare {
		return Slim
	}
	return l
}

// MostListed is the most pages that one list shows.
const MostListed = 60

// check refuses a list that shows nothing by what it says.
func (l Listing) check() error {
	switch {
	case !slices.Contains(Sources, l.Of):
		return fmt.Errorf("a list is of %v, not of %q", Sources, l.Of)
	case !slices.Contains(Orders, l.Order):
		return fmt.Errorf("the order of a list is one of %q, not %q", Orders, l.Order)
	case !slices.Contains(Looks, l.Look):
		return fmt.Errorf("a list is shown as %v, not as %q", Looks, l.Look)
	case l.Most < 0 || l.Most > MostListed:
		return fmt.Errorf("a list shows 0 to %d pages, not %d: 0 is all", MostListed, l.Most)
	case len(l.Pages) > MostListed:
		return fmt.Errorf("at most %d pages are chosen by hand, not %d", MostListed, len(l.Pages))
	}
	return nil
}

// Groups reports whether the list is of groups, not of pages.
func (l Listing) Groups() bool { return l.Of == OfSections || l.Of == OfCategories }

// Keys are what the list depends on: a page that is known by one of them may stand in it.
// See [Doc.KnownBy].
func (l Listing) Keys(r rules.Rules) []string {
	switch l.Of {
	case OfCategory:
		code := l.Which
		if c, ok := r.Category(code); ok {
			code = c.Code
		}
		return []string{Key(OfCategory, code)}
	case OfTag:
		return []string{Key(OfTag, strings.ToLower(l.Which))}
	case OfHand:
		keys := make([]string, len(l.Pages))
		for i, id := range l.Pages {
			keys[i] = Key(OfHand, strconv.FormatUint(uint64(id), 10))
		}
		return keys
	case OfSections, OfCategories:
		return []string{Key(l.Of, "")}
	}
	return []string{Key(OfSection, l.Which)}
}

// Key names one thing that lists go by.
func Key(of Source, which string) string { return string(of) + ":" + which }

// Lists returns the list blocks of the page, in reading order.
func (d Doc) Lists() []Block {
	var all []Block
	for _, b := range d.Blocks {
		if b.Kind == List {
			all = append(all, b)
		}
	}
	return all
}

// Leads reports whether a list of the page leads on to pages that list all of something.
func (d Doc) Leads() bool {
	return slices.ContainsFunc(d.Lists(), func(b Block) bool { return b.List.Leads() })
}

// Leads reports whether the list leads on to pages that list all of it.
func (l Listing) Leads() bool { return l.All && l.Of != OfHand && !l.Groups() }

// TileGap is the room between two tiles, in CSS px, on every screen.
const TileGap = 20

// across is how many tiles stand beside each other in a column of a width, in CSS px, on a
// desktop, and on a phone.
func across(width float64) (wide, narrow int) {
	switch {
	case width >= 700:
		return 3, 2
	case width >= 420:
		return 2, 2
	}
	return 1, 1
}

// TilePlace is where a list of tiles stands: how many beside each other on a desktop, and
// how wide each is on every screen, for a browser's choice of files.
func (d Doc) TilePlace(r rules.Rules, block string) (wide, narrow int, sizes string) {
	i := d.index(block)
	if i < 0 {
		return 1, 1, "100vw"
	}
	place := layout.Place{Section: r.Text(), Between: layout.Same(TileGap)}
	if band := d.bandOf(i); band != nil {
		place.Section = band.Section(r)
		place.Column = min(d.Blocks[i].Column, len(place.Section.Shares)-1)
	}
	wide, narrow = across(place.Width(layout.Desktop.Viewport()))
	small := place
	place.Parts, small.Parts = wide, narrow
	return wide, narrow, layout.SizesBelow(small, place)
}
