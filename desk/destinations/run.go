package destinations

import (
	"cmp"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"log/slog"
	"strings"
	"time"

	"mivlet/core/site"
	"mivlet/desk/access"
	"mivlet/desk/jobs"
	"mivlet/desk/mirror"
	"mivlet/internal/traces"
	"mivlet/store"
)

// Seen is what a visitor saw of a destination after it was sent to.
type Seen struct {
	At     time.Time `json:"at"`
	Looked int       `json:"looked"` // files that were fetched
	Wrong  []string  `json:"wrong"`  // what was not as it was sent
	Left   int       `json:"left"`   // files that were sent and not fetched, as they are many
}

// lookedAt is how many files a visitor fetches at most after each sending.
const lookedAt = 300

// How long to wait until a destination that failed is tried again: longer each time.
const (
	firstWait = 30 * time.Second
	mostWait  = 30 * time.Minute
)

// state is that of what is sent: of the live site on a day, as banners begin and end with days, or of a former site as
// it was mended.
func (d *Desk) state(s store.Records, to store.Destination) (string, error) {
	if to.FormerSite != 0 {
		f, err := s.FormerSite(to.FormerSite)
		return f.MendedHash, err
	}
	state, err := s.SiteState()
	return state + " " + d.Today(), err
}

// Send sends what has changed to a destination, and takes away what must not stay. Each file that
// was sent is looked at first: what is missing is sent again.
func (d *Desk) Send(ctx context.Context, id uint) (Work, error) {
	if err := d.MayKeep(); err != nil {
		return Work{}, err
	}
	return d.sendTo(ctx, id, true)
}

// Begin does what [Desk.Send] does, beside the screens.
func (d *Desk) Begin(id uint) error {
	if err := d.MayKeep(); err != nil {
		return err
	}
	to, err := d.Store.Destination(id)
	if err != nil {
		return access.NotFound(err, "The destination")
	}
	d.lane(id).progress(&Progress{})
	later := d.At(d.Beside())
	ctx, stop := context.WithCancel(later.Context)
	job := d.jobs.Start("Sending to "+to.Title, []jobs.Task{{Steps: 1, Do: func(*jobs.Job) error {
		defer stop()
		_, err := later.sendTo(ctx, id, true)
		return err
	}}})
	go func() {
		select {
		case <-job.Halted():
			stop()
		case <-ctx.Done():
		}
	}()
	return nil
}

func (d *Desk) sendTo(ctx context.Context, id uint, look bool) (Work, error) {
	l := d.lane(id)
	l.Lock()
	defer l.Unlock()
	to, err := d.Store.Destination(id)
	if err != nil {
		return Work{}, access.NotFound(err, "The destination")
	}
	state, err := d.state(d.Store, to)
	if err != nil {
		return Work{}, err
	}
	l.progress(&Progress{})
	defer l.progress(nil)
	r, err := d.goThrough(ctx, to, l, look)
	var work Work
	seen := ""
	if err == nil {
		work = r.work
		if len(work.Send) > 0 && d.visitor != nil {
			seen, err = d.visit(ctx, r)
		}
	}
	kept := d.Store.Tx(func(s store.Records) error {
		to, bad := s.Destination(id) // it may have been paused meanwhile
		if bad != nil {
			return bad
		}
		to.Failed, to.Seen = "", cmp.Or(seen, to.Seen)
		if err != nil {
			to.Failed = refused(to, err).Error()
		} else {
			now := d.Now()
			to.State, to.SentAt = state, &now
			if look {
				to.LookedAt = &now
			}
		}
		if err == nil && !work.Idle() {
			bad = d.Trace(s, "", "Sent %s to %s, and removed %s", access.Count(len(work.Send), "file"), to.Title, access.Count(len(work.Remove), "file"))
		}
		return errors.Join(bad, s.SaveDestination(to))
	})
	return work, errors.Join(refused(to, err), kept)
}

// atOnce is how often sending begins again where somebody publishes meanwhile.
const atOnce = 4

// goThrough brings a destination up to what is live.
func (d *Desk) goThrough(ctx context.Context, to store.Destination, l *lane, look bool) (*round, error) {
	for n := 1; ; n++ {
		r, err := d.prepare(ctx, to, l, look)
		if err == nil {
			err = errors.Join(r.send(ctx, l), r.close())
		}
		if n == atOnce || !errors.Is(err, mirror.ErrMoving) {
			return r, err
		}
	}
}

// visit fetches what was sent from the public address, and compares it with what was sent.
func (d *Desk) visit(ctx context.Context, r *round) (string, error) {
	seen := Seen{At: d.Now(), Wrong: []string{}}
	for _, f := range r.work.Send {
		if f.Kind == site.Server || f.Path == site.NothingHere {
			continue
		}
		if seen.Looked == lookedAt {
			seen.Left++
			continue
		}
		seen.Looked++
		at := r.site.Links.Of(f.Path)
		if data, _, err := d.visitor.Fetch(ctx, at); err != nil {
			seen.Wrong = append(seen.Wrong, err.Error())
		} else if store.HashOf(data) != f.Sum {
			seen.Wrong = append(seen.Wrong, at+" is not what was sent")
		}
		if len(seen.Wrong) == 5 {
			break
		}
	}
	data, err := json.Marshal(seen)
	return string(data), err
}

// refused says at which destination sending ended, and why.
func refused(to store.Destination, err error) error {
	return about(err, "Sending to "+to.Title+" ended", "What was sent is there, and the rest follows as soon as it can.")
}

// unseen says why nothing is known of a destination.
func unseen(to store.Destination, err error) error {
	return about(err, to.Title+" cannot be looked at", "Nothing was changed.")
}

func about(err error, what, next string) error {
	var known *access.Refusal
	if err == nil || errors.As(err, &known) || errors.Is(err, context.Canceled) {
		return err
	}
	return access.Because(access.Bad, fmt.Sprintf("%s: %s.", what, strings.TrimSuffix(err.Error(), ".")), next, err)
}

// Run sends what goes live to all destinations that are not paused, soon after it does, until ctx
// ends. Where that fails, it is tried again after a while.
func (d *Desk) Run(ctx context.Context, every time.Duration) {
	tick := time.NewTicker(every)
	defer tick.Stop()
	for {
		if err := d.sendAll(ctx); err != nil && ctx.Err() == nil {
			slog.Error("what is live could not be sent", "error", err)
		}
		select {
		case <-ctx.Done():
			return
		case <-tick.C:
		}
	}
}

// sendAll sends to all destinations that are due.
func (d *Desk) sendAll(ctx context.Context) error {
	all, err := d.Store.Destinations()
	if err != nil || len(all) == 0 {
		return err
	}
	for _, to := range all {
		state, bad := d.state(d.Store, to)
		if bad != nil {
			return errors.Join(err, bad)
		}
		l, look := d.lane(to.ID), d.overdue(to)
		if to.Paused || to.State == state && !look || d.Now().Before(l.next) {
			continue
		}
		sending, sent := traces.Part(ctx, "send to a destination")
		_, bad = d.sendTo(sending, to.ID, look)
		if sent(bad); bad != nil {
			l.wait = min(max(2*l.wait, firstWait), mostWait)
			l.next = d.Now().Add(l.wait)
			err = errors.Join(err, bad)
			continue
		}
		l.wait = 0
	}
	return err
}

// overdue reports whether each file of a destination is to be looked at though nothing changed: once a
// day, and every time of grace where that is shorter but no more than once an hour, so that what stayed for a while goes, and what was sent is still there.
func (d *Desk) overdue(to store.Destination) bool {
	return to.LookedAt == nil || d.Now().Sub(*to.LookedAt) >= min(24*time.Hour, max(time.Hour, time.Duration(to.GraceHours)*time.Hour))
}
