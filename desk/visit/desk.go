// Package visit looks at what is live as somebody from outside would, and compares it with
// what was signed: that it answers, that nothing but what was signed comes, and that nothing
// hidden comes along.
package visit

import (
	"context"

	"mivlet/desk/access"
	"mivlet/desk/presence"
)

// Visitor fetches what is live as those do who visit the site.
type Visitor interface {
	// Fetch returns what an address answers with, and its media type.
	Fetch(ctx context.Context, address string) (data []byte, mediaType string, err error)
}

// Desk is where live pages are looked at.
type Desk struct {
	*access.Seat
	visitor Visitor
}

// New returns the desk of a seat.
func New(s *access.Seat, v Visitor) *Desk { return &Desk{s, v} }

// At returns the same desk for another seat.
func (d *Desk) At(s *access.Seat) *Desk { return &Desk{s, d.visitor} }

// LookAt checks live pages that have changed with another one.
func (d *Desk) LookAt(ctx context.Context, pages []uint) error {
	for _, id := range pages {
		d.Rooms.Notify(presence.Page(id))
		if _, err := d.Check(ctx, id); err != nil {
			return err
		}
	}
	return nil
}
