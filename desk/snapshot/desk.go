// Package snapshot takes a page as it is at one moment, with all of its pictures and the
// rules of the house: what it comes to for a visitor, what would have to be mended before it
// is published, and what has changed since it was.
package snapshot

import (
	"mivlet/core/audit"
	"mivlet/desk/access"
	"mivlet/desk/cuts"
	"mivlet/desk/derive"
)

// Desk is where pages are looked at as a whole.
type Desk struct {
	*access.Seat
	*shared
	cuts   *cuts.Desk
	derive *derive.Desk
}

// shared is what the desks of all people share.
type shared struct {
	contrasts *access.Recent[[]audit.Contrast] // measured over backgrounds
}

// New returns the desk of a seat.
func New(s *access.Seat, derive *derive.Desk, cuts *cuts.Desk) *Desk {
	return &Desk{s, &shared{access.NewRecent[[]audit.Contrast](512)}, cuts, derive}
}

// At returns the same desk for another seat.
func (d *Desk) At(s *access.Seat) *Desk {
	return &Desk{s, d.shared, d.cuts.At(s), d.derive.At(s)}
}
