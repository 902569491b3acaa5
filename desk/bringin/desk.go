// Package bringin is the room in which sites that were made elsewhere come in: as an archive, as a folder, or fetched from
// their address. What they become there is a former site.
package bringin

import (
	"context"

	"mivlet/desk/access"
	"mivlet/desk/former"
	"mivlet/desk/jobs"
)

// Rooms are what the desk works with.
type Rooms struct {
	Jobs   *jobs.Desk
	Former *former.Desk
	Fetch  Fetch // fetches sites from the web; nil where nothing does
}

// Desk is where former sites are brought in.
type Desk struct {
	*access.Seat
	jobs   *jobs.Desk
	former *former.Desk
	*shared
}

// shared is what the desks of all people share.
type shared struct {
	fetch    Fetch                // nil where nothing can be fetched
	fetching jobs.Single[toFetch] // one in the house
}

// New returns the desk of a seat.
func New(s *access.Seat, r Rooms) *Desk {
	d := &Desk{s, r.Jobs, r.Former, &shared{fetch: r.Fetch}}
	d.fetching = jobs.LongSingle(r.Jobs, "fetch", func(ctx context.Context, j *jobs.Job, s *access.Seat, of toFetch) error {
		return d.At(s).fetchIt(ctx, j, of)
	})
	return d
}

// At returns the same desk for another seat.
func (d *Desk) At(s *access.Seat) *Desk { return &Desk{s, d.jobs.At(s), d.former.At(s), d.shared} }
