// Package lighter makes the files that pages offer beside their JPEG files, in formats that take long
// to write. Nobody waits for them: a page goes live with its JPEG files, the others are made beside the
// screens, one at a time and at half of one core, and when all of a page are there, the page names
// them. Nothing else of it changes: where its pictures, its words or the rules are others by now, it
// stays as it is until somebody publishes it.
package lighter

import (
	"sync"
	"time"

	"mivlet/desk/access"
	"mivlet/desk/cuts"
	"mivlet/desk/lists"
	"mivlet/desk/publish"
	"mivlet/desk/snapshot"
	"mivlet/desk/visit"
)

// Desk is where lighter files are made.
type Desk struct {
	*access.Seat
	cuts     *cuts.Desk
	snapshot *snapshot.Desk
	publish  *publish.Desk
	lists    *lists.Desk
	visit    *visit.Desk
	*shared
}

// Rooms are those below that the desk works with.
type Rooms struct {
	Cuts     *cuts.Desk
	Snapshot *snapshot.Desk
	Publish  *publish.Desk
	Lists    *lists.Desk
	Visit    *visit.Desk
}

// shared is what the desks of all people share.
type shared struct {
	one sync.Mutex // one page at a time

	mu     sync.Mutex
	at     Progress
	failed map[uint]time.Time // pages for which they could not be made, as they went live then
}

// New returns the desk of a seat.
func New(s *access.Seat, r Rooms) *Desk {
	return &Desk{s, r.Cuts, r.Snapshot, r.Publish, r.Lists, r.Visit, &shared{failed: map[uint]time.Time{}}}
}

// At returns the same desk for another seat.
func (d *Desk) At(s *access.Seat) *Desk {
	return &Desk{s, d.cuts.At(s), d.snapshot.At(s), d.publish.At(s), d.lists.At(s), d.visit.At(s), d.shared}
}
