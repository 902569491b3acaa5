// Package provider lets people sign in with accounts that somebody else keeps, such as their school
// (OpenID Connect). A house has one provider at most. Keepers sign in with their passwords: whoever
// runs the provider does not thereby keep the house.
package provider

import (
	"context"

	"mivlet/desk/access"
)

// Desk is where people come in from a provider.
type Desk struct {
	*access.Seat
	open   Open
	sealer access.Keys
	*known
}

// Client is what this house is at a provider.
type Client struct {
	Issuer, ID, Secret string
	Back               string // the address that people come back to
	Claim              string // in which the provider tells groups; "" for none
}

// Claims are what a provider says of whoever signed in.
type Claims struct {
	Issuer, Subject string
	Email           string
	Verified        bool // the provider says that the address is theirs
	Name            string
	Groups          []string
}

// Trip is one way to the provider and back. It holds what nobody else may know.
type Trip struct{ State, Nonce, Verifier string }

// Provider is a provider as it answers.
type Provider interface {
	// Address is where somebody signs in.
	Address(t Trip) string
	// Claims are what it says for the code that somebody came back with.
	Claims(ctx context.Context, t Trip, code string) (Claims, error)
}

// Open finds a provider at its address.
type Open func(ctx context.Context, c Client) (Provider, error)

// New returns the desk of a seat. open is nil where there are no providers; sealer gives what keeps
// their secrets.
func New(s *access.Seat, open Open, sealer access.Keys) *Desk {
	return &Desk{s, open, sealer, &known{ended: access.NewRecent[bool](mostEnded)}}
}

// At returns the same desk for another seat.
func (d *Desk) At(s *access.Seat) *Desk { return &Desk{s, d.open, d.sealer, d.known} }
