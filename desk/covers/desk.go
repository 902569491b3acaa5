// Package covers is where what stands for pages elsewhere is chosen: the covers of pages and
// groups, each with a frame and a focus of its own, and the front pages of sections and
// categories.
package covers

import (
	"mivlet/desk/access"
	"mivlet/desk/derive"
	"mivlet/desk/pages"
	"mivlet/desk/snapshot"
)

// Desk is where covers are chosen.
type Desk struct {
	*access.Seat
	derive   *derive.Desk
	snapshot *snapshot.Desk
	pages    *pages.Desk
}

// Rooms are those below that the desk works with.
type Rooms struct {
	Derive   *derive.Desk
	Snapshot *snapshot.Desk
	Pages    *pages.Desk
}

// New returns the desk of a seat.
func New(s *access.Seat, r Rooms) *Desk { return &Desk{s, r.Derive, r.Snapshot, r.Pages} }

// At returns the same desk for another seat.
func (d *Desk) At(s *access.Seat) *Desk {
	return &Desk{s, d.derive.At(s), d.snapshot.At(s), d.pages.At(s)}
}
