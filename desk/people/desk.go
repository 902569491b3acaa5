// Package people lets people in: they sign in with a password, get accounts and roles, and
// are signed out. Tries that fail are slowed down.
package people

import (
	"crypto/rand"

	"mivlet/desk/access"
)

// Desk is where accounts are kept and people sign in.
type Desk struct {
	*access.Seat
	*shared
}

// shared is what the desks of all people share.
type shared struct {
	demo      bool // people of the demo sign in with one click
	passwords *passwords
	firstCode string
}

// New returns the desk of a seat.
func New(s *access.Seat, demo bool) *Desk {
	return &Desk{s, &shared{demo: demo, passwords: newPasswords(), firstCode: rand.Text()[:8]}}
}

// At returns the same desk for another seat.
func (d *Desk) At(s *access.Seat) *Desk {
	return &Desk{s, d.shared}
}
