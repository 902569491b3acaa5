// Package album is an ordered set of pictures with a title, each with a caption of its own in
// it, and how they stand on a page in rows.
package album

import (
	"cmp"
	"encoding/json"
	"fmt"
	"slices"
	"strings"
	"time"
)

// Version is the version of the JSON form that this package writes.
const Version = 1

// Most is the most pictures that an album holds.
const Most = 1000

// Album is an ordered set of pictures. A picture may be in many albums, in each once.
type Album struct {
	Version int     `json:"version"`
	Title   string  `json:"title"`
	Order   Order   `json:"order,omitempty"`
	Lead    uint    `json:"lead,omitempty"` // the picture that stands for it; 0 is its first
	Rule    Rule    `json:"rule,omitzero"`  // what pictures are looked for; the zero value looks for none
	Entries []Entry `json:"entries"`        // as they were put in order by hand
	// Out are pictures that were taken out: a rule does not offer them again.
	Out []uint `json:"out,omitempty"`
}

// Entry is one picture in an album.
type Entry struct {
	Picture uint   `json:"picture"`
	Caption string `json:"caption,omitempty"`
}

// Order is the order of an album.
type Order string

// The orders.
const (
	ByHand   Order = ""
	ByTaken  Order = "taken"   // by the moment they were taken, else brought in
	ByName   Order = "name"    // by their names
	Shuffled Order = "shuffle" // anew for each visit; as by hand where nothing shuffles
)

// Orders lists all orders in the order they are offered.
var Orders = []Order{ByHand, ByTaken, ByName, Shuffled}

// Rule says which pictures belong into an album: those with a tag, of a year.
type Rule struct {
	Tag  string `json:"tag,omitempty"`
	Year int    `json:"year,omitempty"` // in which they were taken; 0 is any
}

// Parse reads the JSON form and refuses what it does not know.
func Parse(data []byte) (Album, error) {
	var a Album
	if err := json.Unmarshal(data, &a); err != nil {
		return a, err
	}
	if a.Version != Version {
		return a, fmt.Errorf("album version %d is not known: version %d is", a.Version, Version)
	}
	return a, a.Check()
}

// Check refuses an album whose parts do not go together.
func (a Album) Check() error {
	switch {
	case strings.TrimSpace(a.Title) == "":
		return fmt.Errorf("an album has a title")
	case !slices.Contains(Orders, a.Order):
		return fmt.Errorf("the order of an album is one of %q, not %q", Orders, a.Order)
	case len(a.Entries) > Most:
		return fmt.Errorf("an album holds up to %d pictures, not %d", Most, len(a.Entries))
	case a.Lead != 0 && !a.Has(a.Lead):
		return fmt.Errorf("picture %d stands for the album and is not in it", a.Lead)
	case a.Rule.Year != 0 && (a.Rule.Year < 1900 || a.Rule.Year > 2200):
		return fmt.Errorf("the year %d is out of range: 1900 to 2200", a.Rule.Year)
	}
	seen := map[uint]bool{}
	for _, e := range a.Entries {
		if e.Picture == 0 || seen[e.Picture] {
			return fmt.Errorf("picture %d is in the album twice, or is none", e.Picture)
		}
		seen[e.Picture] = true
	}
	return nil
}

// Has reports whether a picture is in the album.
func (a Album) Has(picture uint) bool { return a.index(picture) >= 0 }

func (a Album) index(picture uint) int {
	return slices.IndexFunc(a.Entries, func(e Entry) bool { return e.Picture == picture })
}

// Pictures returns the numbers of its pictures, as they were put in order by hand.
func (a Album) Pictures() []uint {
	all := make([]uint, len(a.Entries))
	for i, e := range a.Entries {
		all[i] = e.Picture
	}
	return all
}

// Add puts pictures at the end that are not in the album yet.
func (a Album) Add(pictures ...uint) Album {
	a.Entries = slices.Clone(a.Entries)
	for _, p := range pictures {
		if p != 0 && !a.Has(p) {
			a.Entries = append(a.Entries, Entry{Picture: p})
		}
	}
	a.Out = slices.DeleteFunc(slices.Clone(a.Out), a.Has)
	return a
}

// TakeOut takes pictures out of the album; they stay in the house.
func (a Album) TakeOut(pictures ...uint) Album {
	out := slices.Clone(a.Out)
	for _, p := range pictures {
		if a.Has(p) && !slices.Contains(out, p) {
			out = append(out, p)
		}
	}
	a = a.Without(pictures...)
	a.Out = out
	return a
}

// Without is the album without pictures, and without the memory of them.
func (a Album) Without(pictures ...uint) Album {
	gone := func(p uint) bool { return slices.Contains(pictures, p) }
	a.Entries = slices.DeleteFunc(slices.Clone(a.Entries), func(e Entry) bool { return gone(e.Picture) })
	a.Out = slices.DeleteFunc(slices.Clone(a.Out), gone)
	if gone(a.Lead) {
		a.Lead = 0
	}
	return a
}

// MoveTo puts pictures, in their order, before another one; before 0 at the end. Where they
// stand in another order than by hand, this order is kept by hand first.
func (a Album) MoveTo(pictures []uint, before uint) Album {
	moves := func(p uint) bool { return slices.Contains(pictures, p) }
	if moves(before) {
		return a
	}
	var moved, rest []Entry
	for _, e := range a.Entries {
		if moves(e.Picture) {
			moved = append(moved, e)
		} else {
			rest = append(rest, e)
		}
	}
	at := slices.IndexFunc(rest, func(e Entry) bool { return e.Picture == before })
	if at < 0 {
		at = len(rest)
	}
	a.Entries = slices.Insert(rest, at, moved...)
	return a
}

// Move moves a picture by a number of places, as far as the album goes.
func (a Album) Move(picture uint, by int) Album {
	i := a.index(picture)
	if i < 0 {
		return a
	}
	to := min(max(i+by, 0), len(a.Entries)-1)
	e := a.Entries[i]
	a.Entries = slices.Insert(slices.Delete(slices.Clone(a.Entries), i, i+1), to, e)
	return a
}

// Captioned gives a picture another caption in the album.
func (a Album) Captioned(picture uint, caption string) Album {
	if i := a.index(picture); i >= 0 {
		a.Entries = slices.Clone(a.Entries)
		a.Entries[i].Caption = caption
	}
	return a
}

// Known is what the order of an album goes by.
type Known struct {
	Name  string
	Taken time.Time // or brought in, where nobody knows when it was taken
}

// Sorted is the album with its entries in the order that it is shown in.
func (a Album) Sorted(known func(picture uint) Known) Album {
	by := map[Order]func(x, y Known) int{
		ByTaken: func(x, y Known) int { return cmp.Or(x.Taken.Compare(y.Taken), strings.Compare(x.Name, y.Name)) },
		ByName:  func(x, y Known) int { return strings.Compare(strings.ToLower(x.Name), strings.ToLower(y.Name)) },
	}[a.Order]
	if by == nil {
		return a
	}
	a.Entries = slices.Clone(a.Entries)
	slices.SortStableFunc(a.Entries, func(x, y Entry) int { return by(known(x.Picture), known(y.Picture)) })
	return a
}

// LeadPicture is the picture that stands for the album; 0 for an empty one.
func (a Album) LeadPicture() uint {
	if a.Lead != 0 || len(a.Entries) == 0 {
		return a.Lead
	}
	return a.Entries[0].Picture
}

// Offers returns the pictures among those that fit the rule which are neither in the album
// nor were taken out of it.
func (a Album) Offers(fitting []uint) []uint {
	return slices.DeleteFunc(slices.Clone(fitting), func(p uint) bool { return a.Has(p) || slices.Contains(a.Out, p) })
}
