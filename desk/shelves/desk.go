// Package shelves keeps the pictures that are done: in folders, with tags, to be found again,
// exchanged for a better file, doubled, or thrown into the bin and brought back.
package shelves

import (
	"mivlet/desk/access"
	"mivlet/desk/cuts"
	"mivlet/desk/derive"
	"mivlet/desk/pictures"
)

// Desk is where shelved pictures are found and kept.
type Desk struct {
	*access.Seat
	derive   *derive.Desk
	cuts     *cuts.Desk
	pictures *pictures.Desk
}

// New returns the desk of a seat.
func New(s *access.Seat, derive *derive.Desk, cuts *cuts.Desk, pictures *pictures.Desk) *Desk {
	return &Desk{s, derive, cuts, pictures}
}

// At returns the same desk for another seat.
func (d *Desk) At(s *access.Seat) *Desk {
	return &Desk{s, d.derive.At(s), d.cuts.At(s), d.pictures.At(s)}
}
