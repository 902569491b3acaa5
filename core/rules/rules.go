// Package rules holds what a house has agreed on: the places for pictures, the
// frame of its pages, which files it takes, how it names them and which
// sections share the work. One document that everything else obeys.
package rules

import (
	"mivlet/core/fit"
	"mivlet/core/layout"
)

// Rules is the house's document.
type Rules struct {
	Version  int         `json:"version"`
	House    string      `json:"house"`
	Page     layout.Page `json:"page"`
	Slots    []Slot      `json:"slots"`
	Limits   Limits      `json:"limits"`
	Sections []Section   `json:"sections"`
}

// Slot is a place for a picture.
type Slot struct {
	ID        string    `json:"id"`
	Title     string    `json:"title"`
	Purpose   string    `json:"purpose"`
	Width     int       `json:"width,omitempty"`  // CSS px; 0 follows the height
	Height    int       `json:"height,omitempty"` // CSS px; 0 follows the width
	Inside    bool      `json:"inside,omitempty"`
	Buffer    int       `json:"buffer,omitempty"` // CSS px
	Densities []float64 `json:"densities"`
	Budget    int64     `json:"budget"` // bytes of the largest cut
}

// Want returns the space of the slot as the fitting sees it.
func (s Slot) Want() fit.Want {
	return fit.Want{Width: s.Width, Height: s.Height, Inside: s.Inside, Buffer: s.Buffer}
}

// Sharpest returns the highest density the slot asks for.
func (s Slot) Sharpest() float64 {
	top := 1.0
	for _, d := range s.Densities {
		top = max(top, d)
	}
	return top
}

// Limits says what is taken in at all.
type Limits struct {
	Bytes  int64 `json:"bytes"`  // largest file
	Side   int   `json:"side"`   // longest side in pixels
	Pixels int64 `json:"pixels"` // most pixels altogether
}

// Section is a department, team or year group.
type Section struct {
	Code  string `json:"code"` // first part of its names, and its folder
	Title string `json:"title"`
}

// Slot returns the slot with an ID.
func (r Rules) Slot(id string) (Slot, bool) {
	for _, s := range r.Slots {
		if s.ID == id {
			return s, true
		}
	}
	return Slot{}, false
}

// Section returns the section with a code.
func (r Rules) Section(code string) (Section, bool) {
	for _, s := range r.Sections {
		if s.Code == code {
			return s, true
		}
	}
	return Section{}, false
}

// Default returns the rules a new house starts from. The widths are rules of
// thumb of the trade (common practice): a text column of 640, a picture beside
// text of 300, a wide picture of 960, each at double density for sharp screens.
func Default() Rules {
	twice := []float64{1, 2}
	return Rules{
		Version: 1,
		House:   "Our house",
		Page:    layout.Page{Column: 640, Wide: 960, Padding: 15, PhoneBelow: 600},
		Slots: []Slot{
			{ID: "column", Title: "Full column", Purpose: "as wide as the text", Width: 640, Densities: twice, Budget: 300_000},
			{ID: "side", Title: "Side picture", Purpose: "text flows beside it", Width: 300, Densities: twice, Budget: 120_000},
			{ID: "wide", Title: "Wide", Purpose: "reaches past the text on both sides", Width: 960, Densities: twice, Budget: 500_000},
		},
		Limits:   Limits{Bytes: 60_000_000, Side: 30_000, Pixels: 120_000_000},
		Sections: []Section{{Code: "house", Title: "The house"}},
	}
}
