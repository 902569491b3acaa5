// Package passkeys lets people in by what a device of theirs has signed. A passkey is a pair of keys that
// a device keeps for one site. It signs what the house asks, after the device has made sure who holds it:
// so it stands for the password and the second step together (Web Authentication Level 3). What is signed
// names the site, and so another site gains nothing by asking.
package passkeys

import (
	"crypto/rand"

	"mivlet/desk/access"
	"mivlet/desk/people"
)

// Desk is where passkeys are kept and asked for.
type Desk struct {
	*access.Seat
	*shared
	people *people.Desk
}

// shared is what the desks of all people share.
type shared struct {
	signing []byte               // what is asked is signed with it
	used    *access.Recent[bool] // challenges that were answered
}

// mostUsed bounds what is remembered of answers, each of which is good for some minutes.
const mostUsed = 4096

// New returns the desk of a seat.
func New(s *access.Seat, p *people.Desk) *Desk {
	signing := make([]byte, 32)
	_, _ = rand.Read(signing) // it never fails (crypto/rand)
	return &Desk{s, &shared{signing, access.NewRecent[bool](mostUsed)}, p}
}

// At returns the same desk for another seat.
func (d *Desk) At(s *access.Seat) *Desk { return &Desk{s, d.shared, d.people.At(s)} }
