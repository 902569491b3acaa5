// Package carryover is the room in which pages of former sites become pages of the house: drafts with their headings,
// words and pictures, as an editor would make them, which go the way of every page from there.
package carryover

import (
	"context"

	"mivlet/desk/access"
	"mivlet/desk/former"
	"mivlet/desk/jobs"
	"mivlet/desk/landing"
	"mivlet/desk/pages"
)

// Rooms are those that carrying over needs.
type Rooms struct {
	Jobs    *jobs.Desk
	Former  *former.Desk
	Pages   *pages.Desk
	Landing *landing.Desk
}

// Desk is where pages are carried over.
type Desk struct {
	*access.Seat
	jobs    *jobs.Desk
	former  *former.Desk
	pages   *pages.Desk
	landing *landing.Desk
	*shared
}

// shared is what the desks of all people share.
type shared struct {
	carrying jobs.Single[toCarry] // about a site
}

// New returns the desk of a seat.
func New(s *access.Seat, r Rooms) *Desk {
	d := &Desk{s, r.Jobs, r.Former, r.Pages, r.Landing, &shared{}}
	d.carrying = jobs.LongSingle(r.Jobs, "carry-over", func(ctx context.Context, j *jobs.Job, s *access.Seat, of toCarry) error {
		return d.At(s).carry(ctx, j, of)
	})
	return d
}

// At returns the same desk for another seat.
func (d *Desk) At(s *access.Seat) *Desk {
	return &Desk{s, d.jobs.At(s), d.former.At(s), d.pages.At(s), d.landing.At(s), d.shared}
}
