// Package pictures keeps the pictures of the house: how they arrive, what they are called,
// the words that go with them, who is seen on them, and every step that is taken with one.
package pictures

import (
	"sync"

	"golang.org/x/sync/semaphore"

	"mivlet/desk/access"
	"mivlet/desk/derive"
)

// Desk is where pictures arrive and are named and described.
type Desk struct {
	*access.Seat
	derive *derive.Desk
	*shared
}

// shared is what the desks of all people share.
type shared struct {
	naming   sync.Mutex          // a name is checked and taken in one go
	arriving *semaphore.Weighted // a place for each file that is decoded as it arrives
}

// New returns the desk of a seat.
func New(s *access.Seat, derive *derive.Desk) *Desk {
	return &Desk{s, derive, &shared{arriving: semaphore.NewWeighted(2)}}
}

// At returns the same desk for another seat.
func (d *Desk) At(s *access.Seat) *Desk {
	return &Desk{s, d.derive.At(s), d.shared}
}
