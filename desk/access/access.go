// Package access says who is at work and what they may do. Everything that is done in
// the house is done from a [Seat]: that of a person with their roles, or the house's own.
// A seat also carries what every room needs: the store, the clock and the house rules
// that hold. What is refused is a [Refusal], which says why and what would help.
package access

import (
	"context"
	"sync/atomic"
	"time"

	"mivlet/core/rules"
	"mivlet/desk/presence"
	"mivlet/store"
)

// House is what all seats share. It is safe for concurrent use.
type House struct {
	Store *store.Store
	Now   func() time.Time
	Site  string // address of the practice site, such as http://127.0.0.1:8081
	Rooms presence.Rooms
	rules atomic.Pointer[Version]

	allotted atomic.Pointer[Allotment]
	decoded  atomic.Int64                 // nanoseconds since that was noted last
	given    *atomic.Pointer[rules.Given] // for all houses

	fellows fellows
	moments moments
}

// NewHouse returns a house on a store, with the house rules that hold under what is given for all houses.
func NewHouse(s *store.Store, now func() time.Time, site string, given rules.Given) (*House, error) {
	held := &atomic.Pointer[rules.Given]{}
	held.Store(&given)
	h := &House{Store: &store.Store{Records: under{s.Records, held}, Files: s.Files, Fellows: s.Fellows}, Now: now, Site: site, given: held}
	h.allotted.Store(&Allotment{})
	s = h.Store
	r, number, err := s.Rules()
	if err != nil {
		return nil, err
	}
	h.rules.Store(h.Version(r, number))
	h.hearOwn()
	return h, nil
}

// Seat is where one person works.
type Seat struct {
	*House
	Person  Person
	Context context.Context // of whoever waits for the work; see In
	settled *bool           // what is kept of every page was worked out in this request; nil where there is none
}

// Own is the house's own seat, which may do everything.
func (h *House) Own() *Seat { return &Seat{h, theHouse, context.Background(), nil} }

// As returns the seat of another person.
func (d *Seat) As(p Person) *Seat { return &Seat{d.House, p, d.Context, nil} }

// In returns the same seat for work that somebody waits for as long as ctx lasts, such as
// one request.
func (d *Seat) In(ctx context.Context) *Seat { return &Seat{d.House, d.Person, ctx, new(bool)} }

// Beside returns the same seat for work that goes on when its request has ended.
func (d *Seat) Beside() *Seat {
	return &Seat{d.House, d.Person, context.WithoutCancel(d.Context), nil}
}

// Version is a version of the house rules.
type Version struct {
	rules.Rules
	Number uint
	given  uint32 // under what was given for all houses; 0 for nothing
}

// mostStamped is the largest number that a form carries.
const mostStamped = 1<<31 - 1

// Stamp is a number that changes whenever the rules that hold may have: with their own version, and with what is given for
// all houses.
func (v Version) Stamp() uint { return (v.Number + uint(v.given)) & mostStamped }

// Version are rules of the house of a number, as they hold now.
func (h *House) Version(r rules.Rules, number uint) *Version {
	return &Version{r, number, h.given.Load().Digest()}
}

// Hold has a version of the rules, which was kept, hold from now on, and tells the other programs.
func (h *House) Hold(r rules.Rules, number uint) {
	h.rules.Store(h.Version(r, number))
	h.Tell(aboutRules, number)
}

// Who returns whose desk it is.
func (d *Seat) Who() Person { return d.Person }

// Rules returns the house rules that hold.
func (d *Seat) Rules() rules.Rules { return d.rules.Load().Rules }

// Held is the version of the rules that holds.
func (d *Seat) Held() Version { return *d.rules.Load() }

// SiteURL returns the address of the practice site.
func (d *Seat) SiteURL() string { return d.Site }

// Today is the day, as 2006-01-02.
func (d *Seat) Today() string { return d.Rules().Day(d.Now()) }
