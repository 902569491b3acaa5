// Package house keeps the rules of the house: drafts of them, what a change would touch, and
// what has to be made anew when it holds.
package house

import (
	"mivlet/desk/access"
	"mivlet/desk/cuts"
	"mivlet/desk/lists"
	"mivlet/desk/pages"
	"mivlet/desk/pictures"
	"mivlet/desk/publish"
	"mivlet/desk/snapshot"
	"mivlet/desk/visit"
)

// Desk is where the house rules are kept.
type Desk struct {
	*access.Seat
	cuts     *cuts.Desk
	pictures *pictures.Desk
	snapshot *snapshot.Desk
	pages    *pages.Desk
	publish  *publish.Desk
	lists    *lists.Desk
	visit    *visit.Desk
}

// Rooms are those below that the desk works with.
type Rooms struct {
	Cuts     *cuts.Desk
	Pictures *pictures.Desk
	Snapshot *snapshot.Desk
	Pages    *pages.Desk
	Publish  *publish.Desk
	Lists    *lists.Desk
	Visit    *visit.Desk
}

// New returns the desk of a seat.
func New(s *access.Seat, r Rooms) *Desk {
	return &Desk{s, r.Cuts, r.Pictures, r.Snapshot, r.Pages, r.Publish, r.Lists, r.Visit}
}

// At returns the same desk for another seat.
func (d *Desk) At(s *access.Seat) *Desk {
	return &Desk{s, d.cuts.At(s), d.pictures.At(s), d.snapshot.At(s), d.pages.At(s), d.publish.At(s), d.lists.At(s), d.visit.At(s)}
}
