// Package district is the room of whoever looks after many houses that one program serves. They sign in to one of them, the
// office: its keepers see how large each house is, what is live there and what is to be looked at; they add houses, say how
// much each may have, and which rules are the same in all of them. What lies in a house stays between its own people.
package district

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"io/fs"
	"slices"
	"strings"
	"time"

	"mivlet/core/rules"
	"mivlet/desk/access"
	"mivlet/store"
)

// Desk is where the houses of a district are looked after.
type Desk struct {
	*access.Seat
	houses Houses
}

// New returns the desk of a seat. houses are nil in a house that is no office.
func New(s *access.Seat, houses Houses) *Desk { return &Desk{s, houses} }

// At returns the same desk for another seat.
func (d *Desk) At(s *access.Seat) *Desk { return &Desk{s, d.houses} }

// Houses are those of the program, as whoever runs them keeps them.
type Houses interface {
	// All returns what is known of each house, by their names. What is not known yet is found out meanwhile.
	All(ctx context.Context) ([]Told, error)
	// One finds out anew about one house. It fails with [fs.ErrNotExist].
	One(ctx context.Context, host string) (Told, error)
	// Add adds a house. It fails with [fs.ErrExist], and with [ErrName] where nothing can be called so.
	Add(ctx context.Context, host string) error
	// Allot says how much a house may have; nil stands for what all others have.
	Allot(ctx context.Context, host string, a *access.Allotment) error
	// Given is what is the same in all houses.
	Given() (rules.Given, error)
	// Give has other rules be the same in all houses, at once.
	Give(ctx context.Context, g rules.Given) error
}

// ErrName means that no house can be called so.
var ErrName = errors.New("a house is called as it is asked for, such as north.district.example")

// Figures are what a house holds.
type Figures struct {
	House     string // what it calls itself
	People    int
	Pictures  int
	Originals int64 // bytes of pictures as they arrived
	Live      int   // pages
	Changed   int   // of these, changed since they went live
	Findings  int   // to look at
}

// Told is what is known of a house.
type Told struct {
	Host string
	Figures
	At       time.Time // when that was so; zero where it is not known yet
	Unopened bool      // nobody has asked for it yet
	First    string    // the code that its first keeper is asked for; empty where there is a keeper, or nobody knows
	Allotted access.Allotment
	Own      bool   // that is its own, and not what all others have
	Fault    string // why it cannot be opened
	Misfit   string // why the rules that are given do not hold there
}

// Full is how much of what it may have a house has taken, of 100; 0 where it has no bounds.
func (t Told) Full() int {
	full := 0
	for _, one := range [][2]int64{{int64(t.Pictures), int64(t.Allotted.Pictures)}, {t.Originals, t.Allotted.Bytes}, {int64(t.People), int64(t.Allotted.People)}} {
		if one[1] > 0 {
			full = max(full, int(100*one[0]/one[1]))
		}
	}
	return full
}

// Bounded reports whether there are limits to what it may have.
func (t Told) Bounded() bool { return t.Allotted != access.Allotment{} }

// nearlyFull is from where on a house has little room left, of 100.
const nearlyFull = 90

// Wants says that somebody should look at a house: it cannot be opened, the rules that are given do not hold there, or it
// has little room left.
func (t Told) Wants() bool { return t.Fault != "" || t.Misfit != "" || t.Full() >= nearlyFull }

// Office reports whether this house is the office of a district.
func (d *Desk) Office() bool { return d.houses != nil }

// may lets only those in who look after houses.
func (d *Desk) may() error {
	if err := d.MayKeep(); err != nil {
		return err
	}
	if d.houses == nil {
		return access.Refuse(access.Missing, "This house looks after no others.", "Whoever runs Mivlet can make it the office, with --office.")
	}
	return nil
}

// View is all houses of a district.
type View struct {
	Houses []Told
	Sum    Figures
}

// Order is by what houses are listed.
type Order string

// The orders.
const (
	ByNeed     Order = "need" // those that somebody should look at, then by name
	ByName     Order = "name"
	BySize     Order = "size" // the largest first
	ByFindings Order = "findings"
)

// All returns the houses whose names or titles hold some text, in an order.
func (d *Desk) All(text string, by Order) (v View, err error) {
	if err := d.may(); err != nil {
		return v, err
	}
	all, err := d.houses.All(d.Context)
	if err != nil {
		return v, err
	}
	text = strings.ToLower(strings.TrimSpace(text))
	for _, t := range all {
		if strings.Contains(strings.ToLower(t.Host+" "+t.House), text) {
			v.Houses = append(v.Houses, t)
			v.Sum = sum(v.Sum, t.Figures)
		}
	}
	slices.SortStableFunc(v.Houses, func(a, b Told) int {
		first := 0
		switch by { // of those that come first there is more
		case BySize:
			first = cmp.Compare(b.Originals, a.Originals)
		case ByFindings:
			first = cmp.Compare(b.Findings, a.Findings)
		case ByName:
		default:
			first = cmp.Compare(weight(b), weight(a))
		}
		if first != 0 {
			return first
		}
		return strings.Compare(a.Host, b.Host)
	})
	return v, nil
}

// weight is how much somebody should look at a house.
func weight(t Told) int64 {
	switch {
	case t.Fault != "":
		return 3
	case t.Misfit != "":
		return 2
	case t.Wants():
		return 1
	}
	return 0
}

func sum(a, b Figures) Figures {
	return Figures{People: a.People + b.People, Pictures: a.Pictures + b.Pictures, Originals: a.Originals + b.Originals, Live: a.Live + b.Live, Changed: a.Changed + b.Changed, Findings: a.Findings + b.Findings}
}

// One returns a house, as it is now.
func (d *Desk) One(host string) (Told, error) {
	if err := d.may(); err != nil {
		return Told{}, err
	}
	t, err := d.houses.One(d.Context, host)
	return t, noHouse(err, host)
}

// noHouse tells in plain words that there is none of a name.
func noHouse(err error, host string) error {
	if errors.Is(err, fs.ErrNotExist) {
		return access.Refuse(access.Missing, fmt.Sprintf("There is no house %q.", host), "Go back to the list.")
	}
	return err
}

// Add adds a house, which is asked for by a name.
func (d *Desk) Add(host string) (string, error) {
	if err := d.may(); err != nil {
		return "", err
	}
	host = strings.ToLower(strings.TrimSpace(host))
	err := d.houses.Add(d.Context, host)
	switch {
	case errors.Is(err, fs.ErrExist):
		return "", access.Refuse(access.Clash, fmt.Sprintf("There is a house %q already.", host), "Choose another name.")
	case errors.Is(err, ErrName):
		return "", access.Refuse(access.Bad, fmt.Sprintf("A house cannot be called %q.", host), "Enter the name that browsers ask for, such as north.district.example.")
	case err != nil:
		return "", err
	}
	return host, d.trace("Added the house %s", host)
}

func (d *Desk) trace(text string, of ...any) error {
	return d.Store.Tx(func(s store.Records) error { return d.Trace(s, "", text, of...) })
}

// Allot says how much a house may have from now on; nil stands for what all others have.
func (d *Desk) Allot(host string, a *access.Allotment) error {
	if err := d.may(); err != nil {
		return err
	}
	if a != nil && (a.Pictures < 0 || a.Bytes < 0 || a.People < 0 || a.Decoding < 0) {
		return access.Refuse(access.Bad, "A house cannot have less than nothing.", "Leave a field empty where there is no limit.")
	}
	if err := d.houses.Allot(d.Context, host, a); err != nil {
		return noHouse(err, host)
	}
	return d.trace("Changed the limits of the house %s", host)
}
