// Package publish makes pages live: it writes their files, keeps every version that was live,
// and puts an earlier one back
package publish

import (
	"sync/atomic"

	"mivlet/desk/access"
	"mivlet/desk/jobs"
	"mivlet/desk/lists"
	"mivlet/desk/pages"
	"mivlet/desk/pictures"
	"mivlet/desk/shelves"
	"mivlet/desk/snapshot"
	"mivlet/desk/visit"
)

// Desk is where pages go live.
type Desk struct {
	*access.Seat
	jobs     *jobs.Desk
	pictures *pictures.Desk
	shelves  *shelves.Desk
	snapshot *snapshot.Desk
	pages    *pages.Desk
	lists    *lists.Desk
	visit    *visit.Desk
	*shared
}

// shared is what the desks of all people share.
type shared struct {
	again    jobs.Starter[toPublish]
	layout   atomic.Pointer[Layout] // that the site was published with last
	releases keyed                  // one at a time publishes a page
	ahead    ahead
}

// Rooms are those below that the desk works with.
type Rooms struct {
	Jobs     *jobs.Desk
	Pictures *pictures.Desk
	Shelves  *shelves.Desk
	Snapshot *snapshot.Desk
	Pages    *pages.Desk
	Lists    *lists.Desk
	Visit    *visit.Desk
}

// New returns the desk of a seat.
func New(s *access.Seat, r Rooms) *Desk {
	d := &Desk{s, r.Jobs, r.Pictures, r.Shelves, r.Snapshot, r.Pages, r.Lists, r.Visit, &shared{}}
	d.again = jobs.Kind(r.Jobs, "publish-again", func(s *access.Seat, of toPublish) error { return d.At(s).publishAgain(of) })
	return d
}

// At returns the same desk for another seat.
func (d *Desk) At(s *access.Seat) *Desk {
	return &Desk{s, d.jobs.At(s), d.pictures.At(s), d.shelves.At(s), d.snapshot.At(s), d.pages.At(s), d.lists.At(s), d.visit.At(s), d.shared}
}

// beside returns the same desk for work that goes on when its request has ended.
func (d *Desk) beside() *Desk { return d.At(d.Seat.Beside()) }
