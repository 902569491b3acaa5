// Package running is the room in which keepers see how the program and the machine are doing: room on
// the disk, backups, what is sent elsewhere, what took long. It says what to do first. It changes
// nothing.
package running

import (
	"cmp"
	"context"
	"slices"
	"sync"
	"time"

	"mivlet/desk/access"
	"mivlet/desk/derive"
	"mivlet/desk/destinations"
	"mivlet/desk/jobs"
)

// Machine tells of what the program runs on.
type Machine interface {
	// Disk returns how many bytes are free, and how many there are, where the house's data lie.
	Disk() (free, all int64, err error)
	// Backups returns those that are written by themselves, the newest first; nil where none are.
	Backups(ctx context.Context) (*Backups, error)
	// Program returns which version runs, and since when.
	Program() (version string, since time.Time)
}

// Backups are those of the house.
type Backups struct {
	To     string
	Every  time.Duration
	All    []Backup // the newest first
	Failed string   // why the last one could not be written; empty where it was
}

// Backup is one of them.
type Backup struct {
	ID     string
	At     time.Time
	Files  int
	Bytes  int64
	New    int64 // bytes of files that no backup had before
	Tried  *time.Time
	Faults []string // what trying found
}

// Act is a request that took long.
type Act struct {
	At   time.Time
	What string // its method and the form of its address, without what was asked for
	Took time.Duration
}

// Rooms are what the room uses.
type Rooms struct {
	Derive       *derive.Desk
	Destinations *destinations.Desk
	Jobs         *jobs.Desk
	Machine      Machine // nil where nobody tells
}

// Desk is where keepers see how it runs.
type Desk struct {
	*access.Seat
	*slow
	derive       *derive.Desk
	destinations *destinations.Desk
	jobs         *jobs.Desk
	machine      Machine
}

// slow holds the acts that took longest since the program began.
type slow struct {
	mu  sync.Mutex
	all []Act
}

// New returns the desk of the house itself.
func New(s *access.Seat, r Rooms) *Desk {
	return &Desk{s, &slow{}, r.Derive, r.Destinations, r.Jobs, r.Machine}
}

// At returns the same desk for another seat.
func (d *Desk) At(s *access.Seat) *Desk {
	return &Desk{s, d.slow, d.derive.At(s), d.destinations.At(s), d.jobs.At(s), d.machine}
}

// mostActs is how many acts are remembered.
const mostActs = 10

// Slow is how long an act takes that is remembered.
const Slow = time.Second

// Note remembers an act if it took long.
func (s *slow) Note(a Act) {
	if a.Took < Slow {
		return
	}
	s.mu.Lock()
	defer s.mu.Unlock()
	s.all = append(s.all, a)
	slices.SortStableFunc(s.all, func(a, b Act) int { return cmp.Compare(b.Took, a.Took) })
	s.all = s.all[:min(len(s.all), mostActs)]
}

// Report is how it runs.
type Report struct {
	Now          time.Time
	Version      string
	Since        time.Time
	Free, All    int64 // bytes of the disk; 0 where nobody tells
	Decoding     int64 // bytes that pictures take which are being decoded
	Backups      *Backups
	Destinations []destinations.View
	Jobs         []jobs.Listed // the last one first
	Slow         []Act         // the slowest first
	Advice       []Advice
}

// Report looks at all of it.
func (d *Desk) Report(ctx context.Context) (Report, error) {
	if err := d.MayKeep(); err != nil {
		return Report{}, err
	}
	r := Report{Now: d.Now(), Decoding: d.derive.DecodingNow()}
	d.mu.Lock()
	r.Slow = slices.Clone(d.all)
	d.mu.Unlock()
	var err error
	if r.Destinations, err = d.destinations.All(); err != nil {
		return r, err
	}
	if r.Jobs, err = d.jobs.All(); err != nil {
		return r, err
	}
	if d.machine != nil {
		r.Version, r.Since = d.machine.Program()
		if r.Free, r.All, err = d.machine.Disk(); err != nil {
			r.advise(DiskUnknown, "")
		}
		if r.Backups, err = d.machine.Backups(ctx); err != nil {
			r.advise(BackupsUnread, access.Sentence(err))
		}
	}
	r.judge()
	return r, nil
}
