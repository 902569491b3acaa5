// Package jobs runs work that goes on beside the screens, with its progress. A job can be
// stopped between two of its tasks.
package jobs

import (
	"mivlet/desk/access"
)

// Desk is where jobs are begun, looked at and stopped.
type Desk struct {
	*access.Seat
	*shared
}

// shared is what the desks of all people share.
type shared struct {
	jobs jobs
}

// New returns the desk of a seat.
func New(s *access.Seat) *Desk {
	return &Desk{s, &shared{}}
}

// At returns the same desk for another seat.
func (d *Desk) At(s *access.Seat) *Desk {
	return &Desk{s, d.shared}
}
