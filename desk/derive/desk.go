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
	budget  share
	reader  Reader                     // nil where nothing reads
	lines   *access.Recent[[]TextLine] // lines of text that were found, by hash of the original
	boxes   *access.Recent[[]byte]     // pictures in boxes, encoded
}

const (
	// rememberedPixels is how many bytes of decoded pictures are remembered.
	rememberedPixels = 160 << 20
	// rememberedOfMany is how many it is where many houses share the memory.
	rememberedOfMany = 16 << 20
)

// New returns the desk of a seat. house is what the house is called among those that share the budget; it is empty where
// it has the budget alone.
func New(s *access.Seat, budget *Budget, house string, reader Reader) *Desk {
	remembered := int64(rememberedPixels)
	if house != "" {
		remembered = rememberedOfMany
	}
	return &Desk{s, &shared{sources: newSources(remembered), budget: share{budget, house}, reader: reader, lines: access.NewRecent[[]TextLine](512), boxes: access.NewRecent[[]byte](96)}}
}

// At returns the same desk for another seat.
func (d *Desk) At(s *access.Seat) *Desk {
	return &Desk{s, d.shared}
}
