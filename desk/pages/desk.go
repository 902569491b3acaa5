// Package pages is where pages are written: their blocks, the pictures placed in them and
// the files that hang on them. Each change is a step that can be undone.
package pages

import (
	"mivlet/desk/access"
	"mivlet/desk/bench"
	"mivlet/desk/lists"
	"mivlet/desk/pictures"
	"mivlet/desk/snapshot"
)

// Desk is where pages are written.
type Desk struct {
	*access.Seat
	pictures *pictures.Desk
	bench    *bench.Desk
	snapshot *snapshot.Desk
	lists    *lists.Desk
}

// Rooms are those below that the desk works with.
type Rooms struct {
	Pictures *pictures.Desk
	Bench    *bench.Desk
	Snapshot *snapshot.Desk
	Lists    *lists.Desk
}

// New returns the desk of a seat.
func New(s *access.Seat, r Rooms) *Desk {
	return &Desk{s, r.Pictures, r.Bench, r.Snapshot, r.Lists}
}

// At returns the same desk for another seat.
func (d *Desk) At(s *access.Seat) *Desk {
	return &Desk{s, d.pictures.At(s), d.bench.At(s), d.snapshot.At(s), d.lists.At(s)}
}
