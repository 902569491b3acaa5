// Package rules holds what a house has agreed on: the frame of its pages, the
// places for pictures, which files it takes, how it names and describes them,
// and which sections share the work. One document that everything else obeys.
package rules

import (
	"fmt"
	"slices"

	"mivlet/core/layout"
	"mivlet/core/naming"
)

// Version is the version of the JSON form that this package reads and writes.
const Version = 1

// Rules is the house's document. What is read with [Parse] or made by
// [Rules.Resolved] has the widths of its slots worked out.
type Rules struct {
	Version  int               `json:"version"`
	House    string            `json:"house"`
	Page     PageLayout        `json:"page"`
	Slots    []Slot            `json:"slots"`
	Types    []Type            `json:"types"`
	Limits   Limits            `json:"limits"`
	Placing  Placing           `json:"placing"`
	Naming   naming.Convention `json:"naming"`
	Words    Wording           `json:"words"`
	Hiding   Hiding            `json:"hiding,omitzero"`
	Sections []Section         `json:"sections"`
	// Categories are what pages are about, across all sections.
	Categories []Category `json:"categories,omitempty"`
	// TextSizes are how large paragraphs of other styles are; what is 0 is as in [UsualTextSizes].
	TextSizes TextSizes `json:"text_sizes,omitzero"`
	// Spots are the places for banners.
	Spots []Spot `json:"spots,omitempty"`
	// TimeZone is where days of the house begin, such as Europe/London; empty is UTC.
	TimeZone string `json:"time_zone,omitempty"`
}

// PageLayout is what all pages of the house share. Lengths are CSS px.
type PageLayout struct {
	Cap           int            `json:"cap"` // widest page, with its padding
	Breaks        layout.Breaks  `json:"breaks"`
	Padding       layout.Lengths `json:"padding"` // at the left and right of a section
	Gutter        layout.Lengths `json:"gutter"`  // between columns
	ColumnPadding layout.Lengths `json:"column_padding"`
	Patterns      []Pattern      `json:"patterns"`
	Spacing       []int          `json:"spacing"` // steps of air that are offered
}

// Pattern is a way to divide a section into columns.
type Pattern struct {
	ID     string    `json:"id"`
	Title  string    `json:"title"`
	Shares []float64 `json:"shares"`
	Cap    int       `json:"cap,omitempty"`   // widest section with its padding; 0 as wide as the page
	Order  []int     `json:"order,omitempty"` // of the columns on a phone, counted from 0; empty as they stand
}

// Limits says what is taken in at all.
type Limits struct {
	Bytes   int64 `json:"bytes"`    // largest file
	Side    int   `json:"side"`     // longest side in pixels
	Pixels  int64 `json:"pixels"`   // most pixels altogether
	BinDays int   `json:"bin_days"` // how long the bin keeps what was deleted
	// Of an animation.
	Frames      int   `json:"frames"`       // most frames
	FramePixels int64 `json:"frame_pixels"` // most pixels of all frames together
}

// Link is where a picture on a page leads.
type Link string

// The links. Never the bare file, unless a placement chooses it.
const (
	NoLink      Link = "none"
	EnlargeLink Link = "enlarge"
	AddressLink Link = "address" // of a placement only
)

// LighterFormats are what may be offered beside JPEG.
var LighterFormats = []string{"avif", "webp"}

// Placing is how pictures stand on pages where nobody says otherwise.
type Placing struct {
	Air        int      `json:"air"`         // around a picture beside text, CSS px
	Line       int      `json:"line"`        // width of the line around it, CSS px
	LineColour string   `json:"line_colour"` // such as #444444
	Link       Link     `json:"link"`
	Enlarged   int      `json:"enlarged"`    // longest side of the enlarged picture, CSS px
	Keep       []string `json:"keep"`        // words that may stay inside a cut: "credit", "alt"
	Lighter    []string `json:"lighter"`     // formats that are offered beside JPEG where they weigh less: "webp", "avif"
	Inline     bool     `json:"inline"`      // styles go into the HTML, for pages that live elsewhere
	CutMark    string   `json:"cut_mark"`    // what changes an address with its content: "query" or "suffix"
	CacheHours int      `json:"cache_hours"` // how long browsers may keep a picture without asking again
}

// Wording are the rules for texts that go with a picture.
type Wording struct {
	Language       string `json:"language"`    // of pages, BCP 47
	LongestAlt     int    `json:"longest_alt"` // characters
	LongestCaption int    `json:"longest_caption"`
	CreditAsked    bool   `json:"credit_asked"`
	ConsentAsked   bool   `json:"consent_asked"` // who may be seen must be noted
}

// Hiding says how what is private is found and hidden.
type Hiding struct {
	Colour    string   `json:"colour,omitempty"`     // of veils of one colour, such as #8a8f8c; empty is a grey
	LeaveFace bool     `json:"leave_face,omitempty"` // faces are not looked for
	FacesStop bool     `json:"faces_stop,omitempty"` // an uncovered face in a picture that nobody was asked about stops it
	Watch     []string `json:"watch,omitempty"`      // words to watch for: names of people of the house, streets
}

// Section is a department, team or year group.
type Section struct {
	Code   string `json:"code"` // first part of its names
	Title  string `json:"title"`
	Sign   string `json:"sign"`   // one of Signs: told apart without colour
	Folder string `json:"folder"` // of its pages and files on the site
	// UnusedDays is after how many days a picture that nothing uses is thrown away; 0 for never.
	UnusedDays int `json:"unused_days,omitempty"`
}

// LeastUnusedDays and MostUnusedDays bound [Section.UnusedDays].
const LeastUnusedDays, MostUnusedDays = 30, 3650

// Category is what some pages of the house are about, whichever section they belong to.
type Category struct {
	Code  string `json:"code"` // stands in pages and addresses; it stays when the title changes
	Title string `json:"title"`
	// Was are the codes of categories that were joined to this one: pages that name one of
	// them are of this category.
	Was []string `json:"was,omitempty"`
}

// Signs are the signs a section can have.
var Signs = []string{"wave", "leaf", "hull", "blade", "flame", "ring", "peak", "bell", "key", "star", "drop", "book"}

// Slot returns the slot with an ID, also that of a spot.
func (r Rules) Slot(id string) (Slot, bool) {
	if s, ok := r.slotOfSpot(id); ok {
		return s, true
	}
	return find(r.Slots, func(s Slot) bool { return s.ID == id })
}

// Pattern returns the column pattern with an ID.
func (r Rules) Pattern(id string) (Pattern, bool) {
	return find(r.Page.Patterns, func(p Pattern) bool { return p.ID == id })
}

// Section returns the section with a code.
func (r Rules) Section(code string) (Section, bool) {
	return find(r.Sections, func(s Section) bool { return s.Code == code })
}

// Category returns the category with a code, or the one that it was joined to.
func (r Rules) Category(code string) (Category, bool) {
	return find(r.Categories, func(c Category) bool { return c.Code == code || slices.Contains(c.Was, code) })
}

// Join returns the rules with one category joined to another. Pages that name the first
// are of the second from then on; nothing on them changes.
func (r Rules) Join(from, to string) (Rules, error) {
	gone, known := r.Category(from)
	kept, there := r.Category(to)
	switch {
	case !known || gone.Code != from:
		return r, Faults{{"/categories/" + from, fmt.Sprintf("there is no category %q to join", from)}}
	case !there || kept.Code != to || from == to:
		return r, Faults{{"/categories/" + from, fmt.Sprintf("it cannot be joined to %q: choose another category of the house", to)}}
	}
	out := r.clone()
	out.Categories = slices.DeleteFunc(out.Categories, func(c Category) bool { return c.Code == from })
	for i := range out.Categories {
		if c := &out.Categories[i]; c.Code == to {
			c.Was = append(append(c.Was, from), gone.Was...)
		}
	}
	return out.Resolved(), nil
}

// Type returns what the house does with a media type.
func (r Rules) Type(mediaType string) (Type, bool) {
	return find(r.Types, func(t Type) bool { return t.MediaType == mediaType })
}

func find[T any](all []T, is func(T) bool) (T, bool) {
	for _, v := range all {
		if is(v) {
			return v, true
		}
	}
	var none T
	return none, false
}
