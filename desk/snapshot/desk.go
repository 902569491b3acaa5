// Package snapshot takes a page as it is at one moment, with all of its pictures and the
// rules of the house: what it comes to for a visitor, what would have to be mended before it
// is published, and what has changed since it was.
package snapshot

import (
	"mivlet/desk/access"
	"mivlet/desk/cuts"
)

// Desk is where pages are looked at as a whole.
type Desk struct {
	*access.Seat
	cuts *cuts.Desk
}

// New returns the desk of a seat.
func New(s *access.Seat, cuts *cuts.Desk) *Desk {
	return &Desk{s, cuts}
}

// At returns the same desk for another seat.
func (d *Desk) At(s *access.Seat) *Desk {
	return &Desk{s, d.cuts.At(s)}
}
