// Package page is the page document: blocks of headings, text and pictures, as
// versioned JSON inside and clean HTML outside.
package page

import (
	"encoding/json"
	"fmt"
	"slices"
)

// Version is the version of the JSON form that this package writes.
const Version = 1

// Kind names what a block is.
type Kind string

// The kinds of blocks.
const (
	Heading Kind = "heading"
	Text    Kind = "text"
	Picture Kind = "picture"
)

// Doc is a page: its title and its blocks in reading order.
type Doc struct {
	Version int     `json:"version"`
	Title   string  `json:"title"`
	Blocks  []Block `json:"blocks"`
}

// Block is one piece of a page.
type Block struct {
	ID        string     `json:"id"` // stays with the block for life
	Kind      Kind       `json:"kind"`
	Text      string     `json:"text,omitempty"` // plain for a heading, CommonMark for text
	Placement *Placement `json:"placement,omitempty"`
}

// Side is where a picture stands in its column.
type Side string

// The sides. With None the picture stands in the flow as it comes.
const (
	None   Side = "none"
	Left   Side = "left"
	Centre Side = "centre"
	Right  Side = "right"
)

// Sides lists all sides in the order they are offered.
var Sides = []Side{None, Left, Centre, Right}

// Placement is one picture on one page.
type Placement struct {
	Picture uint   `json:"picture"` // the picture's number
	Slot    string `json:"slot"`
	Side    Side   `json:"side"`
	Caption string `json:"caption,omitempty"`
	// Alt is the description where this page needs another than the usual one.
	Alt        string `json:"alt,omitempty"`
	Decorative bool   `json:"decorative,omitempty"` // here it deliberately says nothing
}

// Beside reports whether text is meant to flow beside the picture.
func (p Placement) Beside() bool { return p.Side == Left || p.Side == Right }

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

// Remove takes a block off the page.
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

// Placements returns every placement on the page, in reading order.
func (d Doc) Placements() []Placement {
	var all []Placement
	for _, b := range d.Blocks {
		if b.Placement != nil {
			all = append(all, *b.Placement)
		}
	}
	return all
}

// Pictures returns the numbers of the pictures on the page, in reading order,
// each once.
func (d Doc) Pictures() []uint {
	var all []uint
	for _, b := range d.Blocks {
		if b.Placement != nil && !slices.Contains(all, b.Placement.Picture) {
			all = append(all, b.Placement.Picture)
		}
	}
	return all
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
	if d.Version != Version {
		return d, fmt.Errorf("page version %d is not known", d.Version)
	}
	seen := map[string]bool{}
	for i, b := range d.Blocks {
		switch {
		case b.ID == "" || seen[b.ID]:
			return d, fmt.Errorf("block %d has no ID of its own", i+1)
		case b.Kind != Heading && b.Kind != Text && b.Kind != Picture:
			return d, fmt.Errorf("block %d: kind %q is not known", i+1, b.Kind)
		case (b.Kind == Picture) != (b.Placement != nil):
			return d, fmt.Errorf("block %d: a placement belongs to a picture, and only there", i+1)
		case b.Placement != nil && !slices.Contains(Sides, b.Placement.Side):
			return d, fmt.Errorf("block %d: side %q is not known", i+1, b.Placement.Side)
		}
		seen[b.ID] = true
	}
	return d, nil
}
