// Package measure reads widths off a screenshot: it finds the columns of a page, and keeps
// what was measured.
package measure

import (
	"sync/atomic"

	"mivlet/desk/access"
	"mivlet/desk/derive"
	"mivlet/desk/pictures"
)

// Desk is where screenshots are measured.
type Desk struct {
	*access.Seat
	derive   *derive.Desk
	pictures *pictures.Desk
	*shared
}

// shared is what the desks of all people share.
type shared struct {
	measured atomic.Pointer[measured]
}

// New returns the desk of a seat.
func New(s *access.Seat, derive *derive.Desk, pictures *pictures.Desk) *Desk {
	return &Desk{s, derive, pictures, &shared{}}
}

// At returns the same desk for another seat.
func (d *Desk) At(s *access.Seat) *Desk {
	return &Desk{s, d.derive.At(s), d.pictures.At(s), d.shared}
}
