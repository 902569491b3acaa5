// Package derive makes what is derived from an original to look at and to look into: the
// decoded picture itself, working copies, tiles, frames of an animation, lines of text.
// What is decoded takes its memory from one budget, and what several ask for at once is
// made once.
package derive

import (
	"golang.org/x/sync/singleflight"

	"mivlet/desk/access"
)

// Desk is where originals are decoded and looked at.
type Desk struct {
	*access.Seat
	*shared
}

// shared is what the desks of all people share.
type shared struct {
	sources *sources
	once    singleflight.Group
	budget  *decodingBudget
	reader  Reader                     // nil where nothing reads
	lines   *access.Recent[[]TextLine] // lines of text that were found, by hash of the original
	boxes   *access.Recent[[]byte]     // pictures in boxes, encoded
}

// New returns the desk of a seat.
func New(s *access.Seat, memory int64, reader Reader) *Desk {
	return &Desk{s, &shared{sources: newSources(160 << 20), budget: newDecodingBudget(memory), reader: reader, lines: access.NewRecent[[]TextLine](512), boxes: access.NewRecent[[]byte](96)}}
}

// At returns the same desk for another seat.
func (d *Desk) At(s *access.Seat) *Desk {
	return &Desk{s, d.shared}
}
