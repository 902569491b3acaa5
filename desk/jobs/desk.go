// Package jobs runs work that goes on beside the screens, with its progress. A job can be
// stopped between two of its tasks.
package jobs

import (
	"time"

	"mivlet/desk/access"
)

// Desk is where jobs are begun, looked at and stopped.
type Desk struct {
	*access.Seat
	*shared
}

// shared is what the desks of all people share.
type shared struct {
	jobs  jobs
	kinds map[string]worker
	waits []time.Duration // before a task that failed is tried again
	leave bool            // jobs that are kept are left to other programs of the house
}

// Usual is how long it is waited before a task that failed is tried again.
var Usual = []time.Duration{time.Second, 5 * time.Second, 25 * time.Second}

// New returns the desk of a seat. waits is how long it waits before a task that failed is tried again.
func New(s *access.Seat, waits []time.Duration) *Desk {
	d := &Desk{s, &shared{kinds: map[string]worker{}, waits: waits}}
	d.hear()
	return d
}

// LeaveToOthers has this program do no jobs that are kept, where others work on the house, too: those take them. It is called
// before any job is begun.
func (d *Desk) LeaveToOthers() { d.leave = !d.Alone() }

// At returns the same desk for another seat.
func (d *Desk) At(s *access.Seat) *Desk {
	return &Desk{s, d.shared}
}
