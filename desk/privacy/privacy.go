// Package privacy tells keepers what the house keeps of people: of all of them, as a record of what is
// done with their data (GDPR, Regulation (EU) 2016/679, article 30), and of one who asks (article 15). It
// changes nothing but the trail.
package privacy

import (
	"cmp"
	"context"
	"slices"
	"time"

	"mivlet/core/rules"
	"mivlet/desk/access"
	"mivlet/desk/running"
	"mivlet/store"
)

// Desk is where it is told what is kept.
type Desk struct {
	*access.Seat
	machine running.Machine
}

// New returns the desk of a seat. machine tells of backups; nil where nobody does.
func New(s *access.Seat, machine running.Machine) *Desk { return &Desk{s, machine} }

// At returns the same desk for another seat.
func (d *Desk) At(s *access.Seat) *Desk { return &Desk{s, d.machine} }

// Kept is all that the house keeps of people, in numbers.
type Kept struct {
	People, Away int // accounts; those that may no longer sign in
	SecondSteps  int // of them with a second step
	Passkeys     int
	Provider     string // whose accounts people sign in with; "" for nobody's
	store.Census
	BinDays        int
	Unused         []rules.Section // that throw away what nothing uses
	LivePages      int
	FormerSites    int // that were made elsewhere and brought in
	Destinations   []store.Destination
	Trail          int
	SessionDays    int
	BackupTo       string // "" where none are written by themselves
	Backups        int
	OldestBackup   time.Time // zero where there is none
	BackupsUnknown bool      // their place cannot be read now
}

// batch is how many pictures are looked at in one go.
const batch = 200

// each looks at every picture of the house.
func each(s store.Records, do func(store.Picture) error) error {
	for after := uint(0); ; {
		some, err := s.PicturesAfter(after, batch)
		if err != nil || len(some) == 0 {
			return err
		}
		for _, p := range some {
			if err := do(p); err != nil {
				return err
			}
		}
		after = some[len(some)-1].ID
	}
}

// Kept returns what the house keeps of people, for those who keep the house.
func (d *Desk) Kept(ctx context.Context, sessionDays int) (k Kept, err error) {
	if err := d.MayKeep(); err != nil {
		return k, err
	}
	k.SessionDays, k.BinDays = sessionDays, d.Rules().Limits.BinDays
	for _, s := range d.Rules().Sections {
		if s.UnusedDays > 0 {
			k.Unused = append(k.Unused, s)
		}
	}
	err = d.Store.View(func(s store.Records) error {
		people, err := s.People()
		if err != nil {
			return err
		}
		k.People = len(people)
		for _, p := range people {
			if p.Away {
				k.Away++
			}
			if p.Second != "" {
				k.SecondSteps++
			}
		}
		keys, err := s.CountPasskeys()
		if err != nil {
			return err
		}
		k.Passkeys = int(keys)
		if by, err := s.Provider(); err == nil {
			k.Provider = by.Title
		}
		if k.Census, err = s.Census(); err != nil {
			return err
		}
		if k.Destinations, err = s.Destinations(); err != nil {
			return err
		}
		former, err := s.FormerSites()
		if err != nil {
			return err
		}
		k.FormerSites = len(former)
		live, err := s.LiveTitles()
		if err != nil {
			return err
		}
		k.LivePages = len(live)
		trail, err := s.CountTrail()
		k.Trail = int(trail)
		return err
	})
	if err != nil || d.machine == nil {
		return k, err
	}
	backups, err := d.machine.Backups(ctx)
	if err != nil {
		k.BackupsUnknown = true
		return k, nil
	}
	if backups != nil {
		k.BackupTo, k.Backups = backups.To, len(backups.All)
		if len(backups.All) > 0 {
			k.OldestBackup = slices.MinFunc(backups.All, func(a, b running.Backup) int { return cmp.Compare(a.At.Unix(), b.At.Unix()) }).At
		}
	}
	return k, nil
}
