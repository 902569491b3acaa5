// Package rounds is the room that keeps what is live as it should be. It goes its rounds by itself: day by day
// through the house's own site, week by week through what lies at its destinations, as far as visitors
// can see it. It tells what is wrong and what is new of that, and how the site has fared over time. Whoever
// publishes decides about each finding: it is mended, or it stays.
package rounds

import (
	"context"

	"mivlet/desk/access"
	"mivlet/desk/bringin"
	"mivlet/desk/jobs"
	"mivlet/desk/mirror"
)

// Rooms are those that rounds need.
type Rooms struct {
	Jobs   *jobs.Desk
	Mirror *mirror.Desk
	Fetch  bringin.Fetch // of what lies elsewhere; nil where nothing can be fetched
}

// Desk is where rounds begin and what they found is decided about.
type Desk struct {
	*access.Seat
	jobs   *jobs.Desk
	mirror *mirror.Desk
	*shared
}

// shared is what the desks of all people share.
type shared struct {
	fetch bringin.Fetch
	going jobs.Single[toGo] // about a place, as aboutPlace has it
}

// New returns the desk of a seat.
func New(s *access.Seat, r Rooms) *Desk {
	d := &Desk{s, r.Jobs, r.Mirror, &shared{fetch: r.Fetch}}
	d.going = jobs.LongSingle(r.Jobs, "round", func(ctx context.Context, j *jobs.Job, s *access.Seat, of toGo) error {
		return d.At(s).goNow(ctx, j, of)
	})
	return d
}

// At returns the same desk for another seat.
func (d *Desk) At(s *access.Seat) *Desk { return &Desk{s, d.jobs.At(s), d.mirror.At(s), d.shared} }

// publishesSomewhere reports whether whoever is at the desk publishes for any section.
func (d *Desk) publishesSomewhere() bool {
	if d.Person.Keeper {
		return true
	}
	for _, role := range d.Person.Roles {
		if role == access.Publisher {
			return true
		}
	}
	return false
}

// mayGo lets those begin a round who publish.
func (d *Desk) mayGo() error {
	if err := d.MayLook(); err != nil {
		return err
	}
	if d.publishesSomewhere() {
		return nil
	}
	return access.Refuse(access.Forbidden, "Only publishers can do this.", "Ask one of them, or wait: it is done every day.")
}
