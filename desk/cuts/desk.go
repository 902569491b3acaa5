// Package cuts makes the files that a picture is shown with: cut for a slot, at each
// density, as small as its budget asks for. It also tells what they will weigh before they
// are made, and lays a cut beside the picture it was made from.
package cuts

import (
	"mivlet/core/raster"
	"mivlet/desk/access"
	"mivlet/desk/derive"
	"mivlet/desk/jobs"
)

// Desk is where cuts are made.
type Desk struct {
	*access.Seat
	jobs   *jobs.Desk
	derive *derive.Desk
	*shared
}

// Memo remembers what was encoded, by all that it was made from. It lets several houses on one
// machine share the work on the same pictures; the tests do.
type Memo interface {
	Get(key string) ([]raster.Encoded, bool)
	Put(key string, all []raster.Encoded)
}

// shared is what the desks of all people share.
type shared struct {
	later   jobs.Starter[ToCut]
	quality *access.Recent[int] // JPEG quality last found, by hash of the original
	plain   plainCut            // the pixels of the cut that was compared last
	memo    Memo                // nil where nothing is remembered
}

// New returns the desk of a seat.
func New(s *access.Seat, j *jobs.Desk, derive *derive.Desk, memo Memo) *Desk {
	d := &Desk{s, j, derive, &shared{quality: access.NewRecent[int](4096), memo: memo}}
	d.later = jobs.Kind(j, "cuts", func(s *access.Seat, of ToCut) error { return d.At(s).cut(of) })
	return d
}

// At returns the same desk for another seat.
func (d *Desk) At(s *access.Seat) *Desk {
	return &Desk{s, d.jobs.At(s), d.derive.At(s), d.shared}
}
