// Package passkeys lets people in by what a device of theirs has signed. A passkey is a pair of keys that
// a device keeps for one site. It signs what the house asks, after the device has made sure who holds it:
// so it stands for the password and the second step together (Web Authentication Level 3). What is signed
// names the site, and so another site gains nothing by asking.
package passkeys

import (
	"mivlet/desk/access"
	"mivlet/desk/people"
)

// Desk is where passkeys are kept and asked for.
type Desk struct {
	*access.Seat
	people *people.Desk
	sealer access.Keys
}

// answers are the challenges that were answered rightly: each is good once.
const answers access.Passing = "answered with a passkey"

// New returns the desk of a seat. sealer gives the key of the house, which all of its programs have.
func New(s *access.Seat, p *people.Desk, sealer access.Keys) *Desk {
	return &Desk{s, p, sealer}
}

// At returns the same desk for another seat.
func (d *Desk) At(s *access.Seat) *Desk { return &Desk{s, d.people.At(s), d.sealer} }
