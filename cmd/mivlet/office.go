package main

import (
	"context"
	"errors"
	"io/fs"
	"log/slog"
	"path/filepath"
	"sync"
	"time"

	"mivlet/core/rules"
	"mivlet/desk/access"
	"mivlet/desk/district"
	"mivlet/store"
	"mivlet/store/datafolder"
)

const (
	// freshFor is how long what is known of a house is told without looking again.
	freshFor = time.Minute
	// waitFor is how long a list waits for houses that are not known yet.
	waitFor = 2 * time.Second
)

// office is how the keepers of one house look after all of them. It is safe for concurrent use.
type office struct {
	hs *houses

	mu      sync.Mutex
	known   map[string]district.Told
	looking chan struct{} // closed when all have been looked at; nil while nobody looks
	looked  time.Time     // when that was last
}

func newOffice(hs *houses) *office { return &office{hs: hs, known: map[string]district.Told{}} }

// given is what is given to all houses but the office, as it was read last where it cannot be read.
func (hs *houses) given() rules.Given {
	g, err := hs.notes.all()
	if err != nil {
		slog.Error("the rules of all houses cannot be read, and stay as they were", "error", err)
	}
	return g
}

// givenTo is what is given to a house: the office gives, and is given nothing.
func (hs *houses) givenTo(host string) rules.Given {
	if host == hs.office {
		return rules.Given{}
	}
	return hs.given()
}

// renew has what is noted about houses hold in those that are open: it may have been changed by hand, or by another
// program.
func (hs *houses) renew() {
	g := hs.given()
	digest := g.Digest()
	hs.each(func(host string, h *house) {
		if a, err := hs.notes.allotment(host); err != nil {
			slog.Error("the limits of a house stay as they were", "house", host, "error", err)
		} else if a != h.d.Allotted() {
			h.d.Allot(a)
		}
		if host != hs.office && digest != h.d.Seat.Given().Digest() {
			if err := h.d.Seat.Give(g); err != nil {
				slog.Error("the rules of a house stay as they were", "house", host, "error", err)
			}
		}
	})
}

// All implements [district.Houses].
func (o *office) All(ctx context.Context) ([]district.Told, error) {
	names, err := o.hs.names()
	if err != nil {
		return nil, err
	}
	o.mu.Lock()
	if o.looking == nil && time.Since(o.looked) > freshFor {
		o.looking = make(chan struct{})
		go o.lookAt(context.WithoutCancel(ctx), names)
	}
	looking := o.looking
	o.mu.Unlock()
	if looking != nil {
		select {
		case <-looking:
		case <-time.After(waitFor):
		case <-ctx.Done():
		}
	}
	all := make([]district.Told, len(names))
	for i, name := range names {
		o.mu.Lock()
		all[i] = o.known[name]
		o.mu.Unlock()
		all[i] = o.noted(name, all[i])
	}
	return all, nil
}

// lookAt finds out about all houses.
func (o *office) lookAt(ctx context.Context, names []string) {
	for _, name := range names {
		o.learn(ctx, name)
	}
	o.mu.Lock()
	defer o.mu.Unlock()
	o.looked = time.Now()
	close(o.looking)
	o.looking = nil
}

// learn finds out about one house, as it lies there: it is not opened for that if it need not be.
func (o *office) learn(ctx context.Context, name string) district.Told {
	t := district.Told{At: time.Now()}
	err := o.in(ctx, name, func(kept *store.Store) (err error) {
		if t.Figures, err = figuresOf(kept); err == nil {
			t.Misfit, err = o.misfit(name, kept)
		}
		return err
	})
	switch {
	case errors.Is(err, fs.ErrNotExist):
		t.Unopened = true
	case err != nil:
		slog.ErrorContext(ctx, "a house cannot be looked at", "house", name, "error", err)
		t.Fault = err.Error()
	}
	o.mu.Lock()
	o.known[name] = t
	o.mu.Unlock()
	return t
}

// in does something with what a house keeps: as it is open, or else read from where it lies. One that cannot be read so is
// opened: an earlier version may have left it.
func (o *office) in(ctx context.Context, name string, do func(kept *store.Store) error) error {
	r, err := o.hs.of(name)
	if err != nil {
		return err
	}
	if r.ifOpen(func(h *house) { err = do(&h.kept.Store) }) {
		return err
	}
	kept, err := datafolder.OpenForReading(filepath.Join(o.hs.dir, name))
	if err == nil {
		return errors.Join(do(&kept.Store), kept.Close())
	}
	if errors.Is(err, fs.ErrNotExist) {
		return err
	}
	h, leave, err := o.hs.enter(ctx, name)
	if err != nil {
		return err
	}
	defer leave()
	return do(&h.kept.Store)
}

// misfit says why the rules that are given do not hold in a house.
func (o *office) misfit(name string, kept *store.Store) (string, error) {
	own, number, err := kept.Rules()
	if err != nil || number == 0 {
		return "", err
	}
	if _, err := o.hs.givenTo(name).Over(own); err != nil {
		return err.Error(), nil
	}
	return "", nil
}

// noted adds what is noted about a house.
func (o *office) noted(name string, t district.Told) district.Told {
	var err error
	if t.Allotted, err = o.hs.notes.allotment(name); err != nil && t.Fault == "" {
		t.Fault = err.Error()
	}
	t.Host, t.Own = name, o.hs.notes.own(name)
	return t
}

// One implements [district.Houses]. The house is opened, so that its first keeper can begin.
func (o *office) One(ctx context.Context, host string) (district.Told, error) {
	h, leave, err := o.hs.enter(ctx, host)
	if errors.Is(err, errNoHouse) {
		return district.Told{}, fs.ErrNotExist
	}
	if err != nil {
		return o.noted(host, district.Told{Fault: err.Error()}), nil //nolint:nilerr // it is told
	}
	defer leave()
	t := o.learn(ctx, host)
	if t.First, err = h.firstCode(); err != nil {
		return t, err
	}
	return o.noted(host, t), nil
}

// Add implements [district.Houses].
func (o *office) Add(_ context.Context, host string) error {
	if err := layHouse(o.hs.dir, host); err != nil {
		return err
	}
	o.mu.Lock()
	defer o.mu.Unlock()
	o.known[host] = district.Told{At: time.Now(), Unopened: true}
	return nil
}

// Allot implements [district.Houses].
func (o *office) Allot(_ context.Context, host string, a *access.Allotment) error {
	if _, err := o.hs.of(host); errors.Is(err, errNoHouse) {
		return fs.ErrNotExist
	} else if err != nil {
		return err
	}
	if err := o.hs.notes.allot(host, a); err != nil {
		return err
	}
	o.hs.renew()
	return nil
}

// Given implements [district.Houses].
func (o *office) Given() (rules.Given, error) { return o.hs.notes.all() }

// Give implements [district.Houses].
func (o *office) Give(_ context.Context, g rules.Given) error {
	if err := o.hs.notes.give(g); err != nil {
		return err
	}
	o.hs.renew()
	o.mu.Lock()
	defer o.mu.Unlock()
	o.looked = time.Time{} // where it does not hold is to be seen
	return nil
}
