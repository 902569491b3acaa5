// Package mirror is the room in which the live site becomes files that other servers can serve. It asks
// what answers visitors, inside the program, so that what others serve is what visitors of the
// built-in site get.
package mirror

import (
	"net/http"
	"sync/atomic"

	"mivlet/desk/access"
	"mivlet/desk/banners"
)

// Desk is where the live site is walked through.
type Desk struct {
	*access.Seat
	banners *banners.Desk
	site    *atomic.Pointer[http.Handler]
}

// New returns the desk of the house itself.
func New(s *access.Seat, b *banners.Desk) *Desk { return &Desk{s, b, &atomic.Pointer[http.Handler]{}} }

// At returns the same desk for another seat.
func (d *Desk) At(s *access.Seat) *Desk { return &Desk{s, d.banners.At(s), d.site} }

// UseSite says what answers visitors, without counting them.
func (d *Desk) UseSite(h http.Handler) { d.site.Store(&h) }
