// Package intake brings several pictures in at a time, beside the screens: those of a camera card, and
// the other pages of a file of which the first one arrived.
package intake

import (
	"io/fs"

	"mivlet/desk/access"
	"mivlet/desk/derive"
	"mivlet/desk/jobs"
	"mivlet/desk/pictures"
)

// Desk is where one person brings pictures in.
type Desk struct {
	*access.Seat
	jobs     *jobs.Desk
	derive   *derive.Desk
	pictures *pictures.Desk
	card     *card

	takeLater  jobs.Starter[toTake]
	bringLater jobs.Starter[otherPage]
}

// New returns the desk of the house itself. camera is what lies on the camera card; nil where there is
// none.
func New(s *access.Seat, j *jobs.Desk, dr *derive.Desk, p *pictures.Desk, camera fs.FS) *Desk {
	d := &Desk{Seat: s, jobs: j, derive: dr, pictures: p, card: &card{files: camera}}
	d.takeLater = jobs.Kind(j, "card", func(s *access.Seat, of toTake) error { return d.At(s).takeOne(of) })
	d.bringLater = jobs.Kind(j, "pages-of-a-file", func(s *access.Seat, of otherPage) error { return d.At(s).bringOne(of) })
	return d
}

// At returns the same desk for another seat.
func (d *Desk) At(s *access.Seat) *Desk {
	return &Desk{s, d.jobs.At(s), d.derive.At(s), d.pictures.At(s), d.card, d.takeLater, d.bringLater}
}
