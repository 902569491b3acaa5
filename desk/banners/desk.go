// Package banners is where dated notices are made, approved, looked after and counted, and where
// it is decided which of them a visitor gets. Visitors get a banner as a publisher approved it;
// what is changed since waits for another approval.
package banners

import (
	"mivlet/desk/access"
	"mivlet/desk/bench"
	"mivlet/desk/cuts"
	"mivlet/desk/derive"
	"mivlet/desk/pages"
	"mivlet/desk/pictures"
)

// Desk is where banners are made.
type Desk struct {
	*access.Seat
	derive   *derive.Desk
	cuts     *cuts.Desk
	pictures *pictures.Desk
	bench    *bench.Desk
	pages    *pages.Desk
	*shared
}

// Rooms are those below that the desk works with.
type Rooms struct {
	Derive   *derive.Desk
	Cuts     *cuts.Desk
	Pictures *pictures.Desk
	Bench    *bench.Desk
	Pages    *pages.Desk
}

// shared is what the desks of all people share.
type shared struct {
	turns turns
	tally tally
}

// New returns the desk of a seat.
func New(s *access.Seat, r Rooms) *Desk {
	return &Desk{s, r.Derive, r.Cuts, r.Pictures, r.Bench, r.Pages, &shared{}}
}

// At returns the same desk for another seat.
func (d *Desk) At(s *access.Seat) *Desk {
	return &Desk{s, d.derive.At(s), d.cuts.At(s), d.pictures.At(s), d.bench.At(s), d.pages.At(s), d.shared}
}
