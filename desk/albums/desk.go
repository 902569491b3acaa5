// Package albums is where ordered sets of pictures are made and kept: what they hold, in which
// order, with which captions. Pages refer to them and show what they hold when they go live.
// Taking a picture out of an album never throws it away.
package albums

import (
	"mivlet/desk/access"
	"mivlet/desk/bench"
	"mivlet/desk/cuts"
	"mivlet/desk/pages"
	"mivlet/desk/pictures"
	"mivlet/desk/snapshot"
)

// Desk is where albums are made.
type Desk struct {
	*access.Seat
	cuts     *cuts.Desk
	pictures *pictures.Desk
	bench    *bench.Desk
	snapshot *snapshot.Desk
	pages    *pages.Desk
}

// Rooms are those below that the desk works with.
type Rooms struct {
	Cuts     *cuts.Desk
	Pictures *pictures.Desk
	Bench    *bench.Desk
	Snapshot *snapshot.Desk
	Pages    *pages.Desk
}

// New returns the desk of a seat.
func New(s *access.Seat, r Rooms) *Desk {
	return &Desk{s, r.Cuts, r.Pictures, r.Bench, r.Snapshot, r.Pages}
}

// At returns the same desk for another seat.
func (d *Desk) At(s *access.Seat) *Desk {
	return &Desk{s, d.cuts.At(s), d.pictures.At(s), d.bench.At(s), d.snapshot.At(s), d.pages.At(s)}
}
