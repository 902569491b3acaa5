// Package page is the page document: bands of columns that hold words and
// pictures, as versioned JSON inside and clean HTML outside.
package page

import (
	"encoding/json"
	"fmt"
	"slices"

	"mivlet/core/rules"
)

// Version is the version of the JSON form that this package writes. Versions 1, which had
// no bands, 2, which had no details, covers and lists, 3, whose bands had no pictures behind
// them, and 4, whose captions were plain text, are read, too.
const Version = 5

// Kind names what a block is.
type Kind string

// The kinds of blocks.
const (
	Band    Kind = "band"    // a band of columns begins here, and goes on until the next
	Heading Kind = "heading" // of a level
	Text    Kind = "text"    // CommonMark: paragraphs, lists, quotes, tables
	Picture Kind = "picture" // one picture, with its caption
	Beside  Kind = "beside"  // a picture with words beside it
	Pair    Kind = "pair"    // two pictures beside each other
	Strip   Kind = "strip"   // pictures of one height that slide sideways
	File    Kind = "file"    // a file to take along
	Divider Kind = "divider" // a line across the column
	List    Kind = "list"    // of pages, by their covers or titles
	Facts   Kind = "facts"   // the details of the page, as a small list
	Album   Kind = "album"   // thumbnails of an album, which enlarge
	Spot    Kind = "spot"    // of the house, in which banners run; its text is the ID
	HTML    Kind = "html"    // as it came from elsewhere; what acts is taken out
)

// Kinds lists all kinds.
var Kinds = []Kind{Band, Heading, Text, Picture, Beside, Pair, Strip, File, Divider, List, Facts, Album, Spot, HTML}

// Takes reports whether a picture of the slot can stand in a block of the kind: a strip
// takes the slots that are measured by their height, all others those that stand in a text.
func (k Kind) Takes(s rules.Slot) bool { return k != Album && k != Spot && s.Stands() != (k == Strip) }

// SlotFor is the slot of a picture that comes to stand in a block of the kind, by dropping
// as by inserting: the one it was fitted for, where that can stand there; else the first of
// the house that can.
func (k Kind) SlotFor(r rules.Rules, fitted string) string {
	if own, ok := r.Slot(fitted); ok && k.Takes(own) {
		return own.ID
	}
	return r.FirstSlot(k.Takes)
}

// Doc is a page: its title, what is known of it, and its blocks in reading order.
type Doc struct {
	Version int     `json:"version"`
	Title   string  `json:"title"`
	Details Details `json:"details,omitzero"`
	Cover   *Cover  `json:"cover,omitempty"`  // nil is the first large picture
	Shared  *Cover  `json:"shared,omitempty"` // the link picture; nil is the cover
	// Card is shown as the link picture in the place of all others; nil is none.
	Card   *TitleCard `json:"card,omitempty"`
	Blocks []Block    `json:"blocks"`
}

// Block is one piece of a page.
type Block struct {
	ID   string `json:"id"` // stays with the block for life
	Kind Kind   `json:"kind"`
	// Column of its band that it stands in, counted from 0.
	Column int `json:"column,omitempty"`
	// Text is plain for a heading, CommonMark for a text and beside a picture,
	// HTML for what is kept as it came, and the ID of a spot.
	Text  string `json:"text,omitempty"`
	Level int    `json:"level,omitempty"` // of a heading, 2 to 4; 0 is 2

	Placement *Placement  `json:"placement,omitempty"` // of a picture, alone or with words beside it
	Pictures  []Placement `json:"pictures,omitempty"`  // of a pair or a strip; of an album while it is filled
	Band      *BandLayout `json:"band,omitempty"`      // of a band
	File      *Attachment `json:"file,omitempty"`      // of a file
	List      *Listing    `json:"list,omitempty"`      // of a list
	Album     *AlbumShow  `json:"album,omitempty"`     // of an album
}

// Attachment is a file that visitors can take along.
type Attachment struct {
	Hash      string `json:"hash"` // of its content
	Name      string `json:"name"` // as it will be called
	MediaType string `json:"media_type"`
	Bytes     int64  `json:"bytes"`
}

// Holds returns the placements of the block, in reading order.
func (b Block) Holds() []Placement {
	if b.Placement != nil {
		return []Placement{*b.Placement}
	}
	return b.Pictures
}

// WithPlacement returns the block with another placement in the place of the nth.
func (b Block) WithPlacement(n int, p Placement) (Block, error) {
	switch {
	case b.Placement != nil && n == 0:
		b.Placement = &p
		return b, nil
	case n >= 0 && n < len(b.Pictures):
		b.Pictures = slices.Clone(b.Pictures)
		b.Pictures[n] = p
		return b, nil
	}
	return b, fmt.Errorf("block %s holds no picture %d", b.ID, n+1)
}

// HeadingLevel is the level that a heading has in HTML; 0 for other blocks.
func (b Block) HeadingLevel() int {
	if b.Kind != Heading {
		return 0
	}
	return max(b.Level, 2)
}

// Insert puts a block into the gap before the block at position gap; the gap
// after the last block has the number of blocks as its position.
func (d Doc) Insert(gap int, b Block) (Doc, error) {
	if gap < 0 || gap > len(d.Blocks) {
		return d, fmt.Errorf("the page has no gap %d", gap)
	}
	if d.index(b.ID) >= 0 {
		return d, fmt.Errorf("block %s is on the page already", b.ID)
	}
	d.Blocks = slices.Insert(slices.Clone(d.Blocks), gap, b)
	return d, nil
}

// Remove takes a block off the page. What stood in a band goes on in the one
// before it.
func (d Doc) Remove(id string) (Doc, error) {
	i := d.index(id)
	if i < 0 {
		return d, fmt.Errorf("the page has no block %s", id)
	}
	d.Blocks = slices.Delete(slices.Clone(d.Blocks), i, i+1)
	return d, nil
}

// Replace puts a block in the place of the one with the same ID.
func (d Doc) Replace(b Block) (Doc, error) {
	i := d.index(b.ID)
	if i < 0 {
		return d, fmt.Errorf("the page has no block %s", b.ID)
	}
	d.Blocks = slices.Clone(d.Blocks)
	d.Blocks[i] = b
	return d, nil
}

// Block returns the block with an ID.
func (d Doc) Block(id string) (Block, bool) {
	if i := d.index(id); i >= 0 {
		return d.Blocks[i], true
	}
	return Block{}, false
}

// Placements returns every placement on the page, in reading order; also those
// that wait for a picture.
func (d Doc) Placements() []Placement {
	var all []Placement
	for _, b := range d.Blocks {
		all = append(all, b.Holds()...)
	}
	return all
}

// Pictures returns the numbers of the pictures on the page, in reading order, each once;
// at last its cover, where it has one of its own, and those behind its bands.
func (d Doc) Pictures() []uint {
	var all []uint
	for _, at := range d.Placements() {
		if !at.Waits() && !slices.Contains(all, at.Picture) {
			all = append(all, at.Picture)
		}
	}
	for _, c := range append(d.StandFor(), d.behind()...) {
		if !slices.Contains(all, c.Picture) {
			all = append(all, c.Picture)
		}
	}
	return all
}

// behind are the pictures behind bands, in reading order.
func (d Doc) behind() []Cover {
	var all []Cover
	for _, b := range d.Blocks {
		if b.Band != nil && b.Band.Background != nil {
			all = append(all, b.Band.Background.Cover)
		}
	}
	return all
}

// Without returns the page with the places of a picture empty: they wait for another.
func (d Doc) Without(picture uint) Doc {
	d = d.Uncovered(picture)
	d.Blocks = slices.Clone(d.Blocks)
	for i, b := range d.Blocks {
		b = b.plain(picture)
		for n, p := range b.Holds() {
			if p.Picture == picture {
				p.Picture, p.Alt, p.Decorative = 0, "", false
				b, _ = b.WithPlacement(n, p) // there is one at n
			}
		}
		d.Blocks[i] = b
	}
	return d
}

// Forgetting returns the page with the places of a picture empty, and nothing left of
// what was said of it there.
func (d Doc) Forgetting(picture uint) Doc {
	d = d.Uncovered(picture)
	d.Blocks = slices.Clone(d.Blocks)
	for i, b := range d.Blocks {
		b = b.plain(picture)
		for n, p := range b.Holds() {
			if p.Picture == picture {
				b, _ = b.WithPlacement(n, Placement{Slot: p.Slot, Side: p.Side, Rule: p.Rule}) // there is one at n
			}
		}
		d.Blocks[i] = b
	}
	return d
}

// StandFor returns what was chosen to stand for the page: its cover, its link picture, and
// the picture of its title card.
func (d Doc) StandFor() []Cover {
	var all []Cover
	chosen := []*Cover{d.Cover, d.Shared}
	if d.Card != nil {
		chosen = append(chosen, d.Card.Behind)
	}
	for _, c := range chosen {
		if c != nil {
			all = append(all, *c)
		}
	}
	return all
}

// Uncovered is the page without its own cover and link picture, where that is a picture.
func (d Doc) Uncovered(picture uint) Doc {
	if d.Cover != nil && d.Cover.Picture == picture {
		d.Cover = nil
	}
	if d.Shared != nil && d.Shared.Picture == picture {
		d.Shared = nil
	}
	if d.Card != nil && d.Card.Behind != nil && d.Card.Behind.Picture == picture {
		d.Card = &TitleCard{Ground: Deep}
	}
	return d
}

func (d Doc) index(id string) int {
	return slices.IndexFunc(d.Blocks, func(b Block) bool { return b.ID == id })
}

// Parse reads the JSON form and refuses what it does not know.
func Parse(data []byte) (Doc, error) {
	var d Doc
	if err := json.Unmarshal(data, &d); err != nil {
		return d, err
	}
	if d.Version < 1 || d.Version > Version {
		return d, fmt.Errorf("page version %d is not known: versions 1 to %d are", d.Version, Version)
	}
	d.Version = Version
	return d, d.Check()
}

// Check refuses a page whose parts do not go together.
func (d Doc) Check() error {
	if err := d.Details.Check(); err != nil {
		return fmt.Errorf("the details of the page: %w", err)
	}
	for _, c := range d.StandFor() {
		if err := c.check(); err != nil {
			return err
		}
	}
	if d.Card != nil {
		if err := d.Card.check(); err != nil {
			return err
		}
	}
	seen := map[string]bool{}
	for i, b := range d.Blocks {
		if b.ID == "" || seen[b.ID] {
			return fmt.Errorf("block %d has no ID of its own", i+1)
		}
		seen[b.ID] = true
		if err := b.check(); err != nil {
			return fmt.Errorf("block %d: %w", i+1, err)
		}
	}
	return nil
}

func hasOrLacks(has bool) string {
	if has {
		return "has"
	}
	return "lacks"
}

// check refuses a block whose parts do not go with its kind.
func (b Block) check() error {
	single, several := b.Kind == Picture || b.Kind == Beside, b.Kind == Pair || b.Kind == Strip
	switch {
	case !slices.Contains(Kinds, b.Kind):
		return fmt.Errorf("kind %q is not known: it is one of %v", b.Kind, Kinds)
	case single != (b.Placement != nil):
		return fmt.Errorf("a %s %s a placement: pictures and pictures beside words have one, other blocks none", b.Kind, hasOrLacks(b.Placement != nil))
	case (b.Kind == Album) != (b.Album != nil):
		return fmt.Errorf("a %s %s what it shows of an album: only albums say that", b.Kind, hasOrLacks(b.Album != nil))
	case b.Kind != Album && several != (len(b.Pictures) > 0), b.Kind == Pair && len(b.Pictures) != 2:
		return fmt.Errorf("a %s has %d pictures in a row: a pair has two, a strip one or more, other blocks none", b.Kind, len(b.Pictures))
	case (b.Kind == Band) != (b.Band != nil):
		return fmt.Errorf("a %s %s measures of a band: bands have them, other blocks do not", b.Kind, hasOrLacks(b.Band != nil))
	case (b.Kind == File) != (b.File != nil):
		return fmt.Errorf("a %s %s a file: only blocks of the kind file have one", b.Kind, hasOrLacks(b.File != nil))
	case (b.Kind == List) != (b.List != nil):
		return fmt.Errorf("a %s %s what it lists: only lists say that", b.Kind, hasOrLacks(b.List != nil))
	case b.Column < 0 || b.Level < 0 || b.Level > 4:
		return fmt.Errorf("column %d or level %d is out of range: columns begin at 0, levels are 0 to 4", b.Column, b.Level)
	}
	if b.List != nil {
		if err := b.List.check(); err != nil {
			return err
		}
	}
	if b.Album != nil {
		if err := b.Album.check(); err != nil {
			return err
		}
	}
	if b.Band != nil && b.Band.Background != nil {
		if err := b.Band.Background.check(); err != nil {
			return err
		}
	}
	for _, p := range b.Holds() {
		if !slices.Contains(Sides, p.Side) {
			return fmt.Errorf("side %q is not known: it is one of %v", p.Side, Sides)
		}
	}
	return nil
}
