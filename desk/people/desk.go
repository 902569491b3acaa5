// Package people lets people in: they sign in with a password, get accounts and roles, and
// are signed out. Tries that fail are slowed down.
package people

import (
	"sync"
	"time"

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

	mu    sync.Mutex
	seen  map[uint]time.Time // sessions that go on, by when they were noted to be used
	ended map[uint]bool      // sessions that were ended while the program runs

	sealer access.Keys
}

// New returns the desk of a seat. sealer gives what keeps the secrets of second steps.
func New(s *access.Seat, demo bool, sealer access.Keys) *Desk {
	d := &Desk{s, &shared{demo: demo, passwords: newPasswords(), sealer: sealer,
		seen: map[uint]time.Time{}, ended: map[uint]bool{}}}
	d.hear()
	d.hearGuesses()
	return d
}

// At returns the same desk for another seat.
func (d *Desk) At(s *access.Seat) *Desk {
	return &Desk{s, d.shared}
}
