// Package bench is where a picture is worked on: turned, framed, hidden in part, with each
// step kept, so that any can be gone back to.
package bench

import (
	"mivlet/desk/access"
	"mivlet/desk/cuts"
	"mivlet/desk/derive"
	"mivlet/desk/pictures"
)

// Desk is where somebody works on a picture.
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
