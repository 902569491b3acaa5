// Package former is the room of former sites: sites that were made elsewhere, before Mivlet was there. They
// are brought in (see package bringin), looked through, described and named by whoever works here, and
// mended; the mended site is taken away as an archive. What was brought in is never changed.
package former

import (
	"context"
	"errors"
	"fmt"
	"io/fs"
	"strings"
	"sync"

	"mivlet/core/survey"
	"mivlet/desk/access"
	"mivlet/desk/bench"
	"mivlet/desk/derive"
	"mivlet/desk/jobs"
	"mivlet/store"
)

// Desk is where former sites are looked through and mended.
type Desk struct {
	*access.Seat
	jobs   *jobs.Desk
	derive *derive.Desk
	bench  *bench.Desk
	*shared
}

// shared is what the desks of all people share.
type shared struct {
	decoding chan struct{} // one place for each picture that is decoded at a time
	mu       sync.Mutex
	read     []known // the one that was asked for last comes last
	measure  Measure // nil where nothing can be measured
	compare  Compare // nil where nothing can be compared

	looking   jobs.Single[toLook]    // about a site
	mending   jobs.Single[toMend]    // about a site
	comparing jobs.Single[toCompare] // about a mended site
}

// known is a site that was read: it takes a while.
type known struct {
	hash  string
	hosts string
	*survey.Survey
	report survey.Report
	looked bool // its pictures were looked into
}

// mostRead is how many sites are kept in memory as they were read. One of 2,000 pictures takes a few MB.
const mostRead = 3

// Measure has a browser measure some pages of a site. It fails where none is there.
type Measure func(ctx context.Context, files fs.FS, pages []string, progress func(done, all int)) ([]survey.Measured, error)

// Rooms are what the desk works with.
type Rooms struct {
	Jobs    *jobs.Desk
	Derive  *derive.Desk
	Bench   *bench.Desk
	Measure Measure // nil where nothing measures
	Compare Compare // nil where nothing compares
}

// New returns the desk of a seat.
func New(s *access.Seat, r Rooms) *Desk {
	j := r.Jobs
	d := &Desk{s, j, r.Derive, r.Bench, &shared{decoding: make(chan struct{}, 2), measure: r.Measure, compare: r.Compare}}
	d.looking = jobs.LongSingle(j, "look-into", func(ctx context.Context, j *jobs.Job, s *access.Seat, of toLook) error {
		return d.At(s).lookInto(ctx, j, of)
	})
	d.mending = jobs.LongSingle(j, "mend", func(ctx context.Context, j *jobs.Job, s *access.Seat, of toMend) error {
		return d.At(s).mend(ctx, j, of)
	})
	d.comparing = jobs.LongSingle(j, "compare-pages", func(ctx context.Context, j *jobs.Job, s *access.Seat, of toCompare) error {
		return d.At(s).compareAll(ctx, j, of)
	})
	return d
}

// At returns the same desk for another seat.
func (d *Desk) At(s *access.Seat) *Desk {
	return &Desk{s, d.jobs.At(s), d.derive.At(s), d.bench.At(s), d.shared}
}

// mayHelp lets everybody look and decide who works on anything.
func (d *Desk) mayHelp() error {
	if err := d.MayLook(); err != nil {
		return err
	}
	if d.Person.WorksSomewhere() {
		return nil
	}
	return access.Refuse(access.Forbidden, "Only people who work for a section can help with former sites.", "Ask a keeper to add you to one.")
}

// survey is a site as it was read; it is read where it is not known.
func (d *Desk) survey(ctx context.Context, f store.FormerSite) (known, error) {
	if k, ok := d.recall(f.Hash, joined(f.Hosts)); ok {
		return k, nil
	}
	a, err := d.Store.OpenFormer(f.Hash)
	if err != nil {
		return known{}, err
	}
	defer a.Close()
	found, err := survey.Read(ctx, a, survey.Options{Hosts: f.Hosts})
	if err != nil {
		return known{}, err
	}
	look, err := d.Store.FormerLook(f.ID)
	if err != nil && !errors.Is(err, store.ErrNotFound) {
		return known{}, err
	}
	looked := err == nil && look.Hash == f.Hash
	if looked {
		found.Recall(look.Seen)
		found.Measured(look.Measured)
	}
	k := known{f.Hash, joined(f.Hosts), found, found.Report(), looked}
	d.remember(k)
	return k, nil
}

func joined(hosts []string) string { return strings.Join(hosts, " ") }

// Remember keeps a site in memory as it was read, so that it need not be read again.
func (d *Desk) Remember(f store.FormerSite, found *survey.Survey, report survey.Report) {
	d.remember(known{f.Hash, joined(f.Hosts), found, report, false})
}

// surveyed is a site, and how it was read.
func (d *Desk) surveyed(id uint) (f store.FormerSite, found known, err error) {
	if f, err = d.site(id); err != nil {
		return f, found, err
	}
	found, err = d.survey(d.Context, f)
	return f, found, err
}

// picture is one of its pictures.
func (k known) picture(at string) (*survey.File, error) {
	f := k.Files[at]
	if f == nil || f.Facts == nil {
		return nil, access.Refuse(access.Missing, fmt.Sprintf("There is no picture %q in that site.", at), "Go back to the report.")
	}
	return f, nil
}

func (s *shared) recall(hash, hosts string) (known, bool) {
	s.mu.Lock()
	defer s.mu.Unlock()
	for i, k := range s.read {
		if k.hash == hash && k.hosts == hosts {
			s.read = append(append(s.read[:i:i], s.read[i+1:]...), k)
			return k, true
		}
	}
	return known{}, false
}

func (s *shared) remember(k known) {
	s.mu.Lock()
	defer s.mu.Unlock()
	if s.read = append(s.read, k); len(s.read) > mostRead {
		s.read = s.read[1:]
	}
}
