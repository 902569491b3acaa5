// Package withdraw takes a picture out of sight: off every live page at once, and, where it
// has to be, out of everything that was ever kept of it.
package withdraw

import (
	"mivlet/desk/access"
	"mivlet/desk/cuts"
	"mivlet/desk/derive"
	"mivlet/desk/lists"
	"mivlet/desk/measure"
	"mivlet/desk/pictures"
	"mivlet/desk/publish"
	"mivlet/desk/visit"
)

// Desk is where pictures are withdrawn and erased.
type Desk struct {
	*access.Seat
	derive   *derive.Desk
	cuts     *cuts.Desk
	pictures *pictures.Desk
	publish  *publish.Desk
	measure  *measure.Desk
	lists    *lists.Desk
	visit    *visit.Desk
	// backupsTo is where backups go by themselves; empty where none do.
	backupsTo string
}

// Rooms are those below that the desk works with.
type Rooms struct {
	Derive   *derive.Desk
	Cuts     *cuts.Desk
	Pictures *pictures.Desk
	Publish  *publish.Desk
	Measure  *measure.Desk
	Lists    *lists.Desk
	Visit    *visit.Desk
	// BackupsTo is where backups go by themselves, to which what is erased is carried on; empty where
	// none do.
	BackupsTo string
}

// New returns the desk of a seat.
func New(s *access.Seat, r Rooms) *Desk {
	return &Desk{s, r.Derive, r.Cuts, r.Pictures, r.Publish, r.Measure, r.Lists, r.Visit, r.BackupsTo}
}

// At returns the same desk for another seat.
func (d *Desk) At(s *access.Seat) *Desk {
	return &Desk{s, d.derive.At(s), d.cuts.At(s), d.pictures.At(s), d.publish.At(s), d.measure.At(s), d.lists.At(s), d.visit.At(s), d.backupsTo}
}
