package main

import (
	"context"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"log/slog"
	"maps"
	"net/http"
	"os"
	"path/filepath"
	"regexp"
	"slices"
	"strings"
	"sync"
	"time"

	"mivlet/desk/access"
	"mivlet/desk/district"
	"mivlet/edge/visitor"
	"mivlet/internal/health"
	"mivlet/internal/hosts"
	"mivlet/internal/metrics"
	"mivlet/internal/sealed"
)

// Many houses may share one program: each lies in a folder of its own, which has the name of the host that it is
// asked for by. A house is opened when somebody asks for it, and closed when nobody has for a while, so that hundreds of
// them take no more than those that are in use. Now and then each is opened for a moment, so that what is due there is done.

const (
	// idleAfter is how long nobody asks for a house until it is closed.
	idleAfter = 10 * time.Minute
	// wakeEvery is how often a house is opened that nobody asks for.
	wakeEvery = time.Hour
	// awakeFor is how long it stays open then.
	awakeFor = time.Minute
)

// hostForm is what a host may be called, and so the folder of its house (RFC 1123, 2.1).
var hostForm = regexp.MustCompile(`^[a-z0-9]([a-z0-9-]*[a-z0-9])?(\.[a-z0-9]([a-z0-9-]*[a-z0-9])?)*$`)

// houses are the houses of one program. It is safe for concurrent use.
type houses struct {
	dir    string
	office string // the name of the house whose keepers look after all; empty where there is none
	open   func(host string) (place, error)
	idle   time.Duration
	notes  notes

	mu  sync.Mutex
	all map[string]*resident
}

// resident is one of them, open or not.
type resident struct {
	mu      sync.RWMutex // held for reading by whoever is in the house, for writing to open and to close it
	h       *house
	stop    func() // ends what goes on in it
	last    time.Time
	tidied  time.Time
	visited sync.Mutex // over last
}

func newHouses(dir string, open func(host string) (place, error)) *houses {
	return &houses{dir: dir, open: open, idle: idleAfter, notes: notes{dir: dir}, all: map[string]*resident{}}
}

// errNoHouse means that no house has a name.
var errNoHouse = errors.New("no house has that name")

// names returns the names of all houses.
func (hs *houses) names() ([]string, error) {
	entries, err := os.ReadDir(hs.dir)
	var all []string
	for _, e := range entries {
		if e.IsDir() && hostForm.MatchString(e.Name()) {
			all = append(all, e.Name())
		}
	}
	return all, err
}

// of is the house of a name, whether open or not.
func (hs *houses) of(host string) (*resident, error) {
	if !hostForm.MatchString(host) {
		return nil, errNoHouse
	}
	if info, err := os.Stat(filepath.Join(hs.dir, host)); errors.Is(err, fs.ErrNotExist) || err == nil && !info.IsDir() {
		return nil, errNoHouse
	} else if err != nil {
		return nil, err
	}
	hs.mu.Lock()
	defer hs.mu.Unlock()
	r := hs.all[host]
	if r == nil {
		r = &resident{}
		hs.all[host] = r
	}
	return r, nil
}

// enter opens the house of a name where it is not open, and keeps it open until leave is called.
func (hs *houses) enter(ctx context.Context, host string) (h *house, leave func(), err error) {
	r, err := hs.of(host)
	if err != nil {
		return nil, nil, err
	}
	for {
		r.mu.RLock()
		if r.h != nil {
			return r.h, func() {
				r.visited.Lock()
				r.last = time.Now()
				r.visited.Unlock()
				r.mu.RUnlock()
			}, nil
		}
		r.mu.RUnlock()
		if err := hs.openOne(ctx, host, r); err != nil {
			return nil, nil, err
		}
	}
}

func (hs *houses) openOne(ctx context.Context, host string, r *resident) error {
	r.mu.Lock()
	defer r.mu.Unlock()
	if r.h != nil {
		return nil
	}
	at, err := hs.open(host)
	if err != nil {
		return err
	}
	at.tidied = &r.tidied
	h, err := openHouse(at)
	if err != nil {
		return err
	}
	if err := h.d.Jobs.Resume(); err != nil {
		return errors.Join(err, h.kept.Close())
	}
	if code, err := h.firstCode(); err == nil && code != "" {
		slog.Info("a house waits for its first keeper", "house", host, "address", "/first?code="+code)
	}
	beside, stop := context.WithCancel(context.WithoutCancel(ctx))
	duties := h.begin(beside)
	r.h, r.last = h, time.Now()
	r.stop = func() {
		h.end()
		stop()
		duties.Wait()
		h.d.Jobs.End()
	}
	return nil
}

// close closes a house that is open.
func (r *resident) close() error {
	r.mu.RLock()
	if r.h != nil {
		r.h.end() // whoever only listens goes
	}
	r.mu.RUnlock()
	r.mu.Lock()
	defer r.mu.Unlock()
	if r.h == nil {
		return nil
	}
	return r.shut()
}

// shut ends what goes on in a house that is open, and closes it. It wants the lock.
func (r *resident) shut() error {
	r.stop()
	err := r.h.kept.Close()
	r.h = nil
	return err
}

// closeIdle closes the houses that nobody has asked for lately, and in which nothing goes on.
func (hs *houses) closeIdle(now time.Time) {
	hs.mu.Lock()
	var all []*resident
	for _, r := range hs.all {
		all = append(all, r)
	}
	hs.mu.Unlock()
	for _, r := range all {
		if !r.mu.TryLock() { // somebody is in it
			continue
		}
		r.visited.Lock()
		idle := r.h != nil && now.Sub(r.last) >= hs.idle && !r.h.d.Jobs.Busy()
		r.visited.Unlock()
		if idle {
			if err := r.shut(); err != nil {
				slog.Error("a house could not be closed", "error", err)
			}
		}
		r.mu.Unlock()
	}
}

// closeAll closes all of them, side by side.
func (hs *houses) closeAll() error {
	hs.mu.Lock()
	defer hs.mu.Unlock()
	errs := make([]error, 0, len(hs.all))
	var mu sync.Mutex
	var wait sync.WaitGroup
	for _, r := range hs.all {
		wait.Go(func() {
			err := r.close()
			mu.Lock()
			defer mu.Unlock()
			errs = append(errs, err)
		})
	}
	wait.Wait()
	return errors.Join(errs...)
}

// end has whoever only listens in a house go.
func (hs *houses) end() {
	hs.each(func(_ string, h *house) { h.end() })
}

// openNow is how many are open.
func (hs *houses) openNow() (n int) {
	hs.each(func(string, *house) { n++ })
	return n
}

// each does something in each house that is open, and that nobody closes at this moment.
func (hs *houses) each(do func(host string, h *house)) {
	hs.mu.Lock()
	all := maps.Clone(hs.all)
	hs.mu.Unlock()
	for host, r := range all {
		r.ifOpen(func(h *house) { do(host, h) })
	}
}

// ifOpen does something in a house where it is open and nobody closes it at this moment, and reports whether it did.
func (r *resident) ifOpen(do func(h *house)) bool {
	if !r.mu.TryRLock() {
		return false
	}
	defer r.mu.RUnlock()
	if r.h == nil {
		return false
	}
	do(r.h)
	return true
}

// tend closes houses that are idle, and has each opened now and then, until ctx ends.
func (hs *houses) tend(ctx context.Context) {
	tick := time.NewTicker(time.Minute)
	defer tick.Stop()
	woken := map[string]time.Time{}
	for {
		select {
		case <-ctx.Done():
			return
		case now := <-tick.C:
			hs.closeIdle(now)
			hs.renew()
			names, err := hs.names()
			if err != nil {
				slog.Error("the houses cannot be listed", "error", err)
				continue
			}
			// A part of them each minute, so that they do not all wake at once.
			due := slices.DeleteFunc(names, func(name string) bool { return now.Sub(woken[name]) < wakeEvery })
			for _, name := range due[:min(len(due), 1+len(names)/int(wakeEvery/time.Minute))] {
				woken[name] = now
				go hs.wake(ctx, name)
			}
		}
	}
}

// wake opens a house for a while.
func (hs *houses) wake(ctx context.Context, name string) {
	_, leave, err := hs.enter(ctx, name)
	if err != nil {
		slog.Error("a house cannot be opened", "house", name, "error", err)
		return
	}
	defer leave()
	select {
	case <-ctx.Done():
	case <-time.After(awakeFor):
	}
}

// lead leads each request to the house that it asks for.
func (hs *houses) lead(to func(h *house) http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		h, leave, err := hs.enter(r.Context(), hosts.Plain(r.Host))
		switch {
		case errors.Is(err, errNoHouse):
			http.Error(w, "There is no house of this name.", http.StatusMisdirectedRequest) // RFC 9110, 15.5.20
			return
		case err != nil:
			slog.Error("a house cannot be opened", "house", hosts.Plain(r.Host), "error", err)
			w.Header().Set("Retry-After", "5")
			http.Error(w, "This house cannot be opened at the moment. Wait a little and try again.", http.StatusServiceUnavailable)
			return
		}
		defer leave()
		to(h).ServeHTTP(w, r)
	})
}

// runMany serves many houses until ctx ends.
func (o *serving) runMany(ctx context.Context, out io.Writer) (err error) {
	if err := errors.Join(checkHouses(o.houses, o.office), o.backing.check(o.houses)); err != nil {
		return usage{err}
	}
	s, err := o.settle(ctx)
	if err != nil {
		return err
	}
	defer s.end()
	sites := s.public.Addr().String()
	port := sites[strings.LastIndex(sites, ":"):]
	look := visitor.NewThrough(sites)
	var hs *houses
	var looked *office
	hs = newHouses(o.houses, func(host string) (place, error) {
		data := filepath.Join(o.houses, host)
		allotted, err := hs.notes.allotment(host)
		if err != nil {
			return place{}, err
		}
		var own district.Houses
		if host == hs.office {
			own = looked
		}
		backs := &backing{to: o.backing.to, region: o.backing.region, login: o.backing.login, secretFile: o.backing.secretFile, every: o.backing.every}
		if backs.to != "" {
			backs.to = strings.TrimSuffix(backs.to, "/") + "/" + host
		}
		key := filepath.Join(data, keyName)
		if o.keyFile != "" {
			key = o.keyFile
		}
		return place{data: data, name: host, leaveJobs: o.leaveJobs, siteURL: "http://" + host + port, base: s.base, overTLS: s.overTLS, visitor: look, allotted: allotted, given: hs.givenTo(host), houses: own, decoding: s.decoding, backing: backs,
			sealer: sync.OnceValues(func() (access.Sealer, error) { return sealed.Load(key) }), answered: s.count}, nil
	})
	hs.office = o.office
	looked = newOffice(hs)
	names, err := hs.names()
	if err != nil {
		return usage{fmt.Errorf("invalid houses %q: %w", o.houses, err)}
	}
	ending := make(chan struct{})
	s.counted.Watch(metrics.Gauge{Name: "mivlet_houses_open", Help: "Houses that are open.", Now: func() float64 { return float64(hs.openNow()) }})
	err = o.answer(ctx, out, s, front{app: hs.lead(func(h *house) http.Handler { return h.screens }), site: hs.lead(func(h *house) http.Handler { return h.visitors }),
		ready:  health.Check{Name: "houses", Do: func(context.Context) error { _, err := hs.names(); return err }},
		ending: ending, end: sync.OnceFunc(func() { close(ending); hs.end() }),
		begin: func(ctx context.Context) func() {
			var tending sync.WaitGroup
			tending.Go(func() { hs.tend(ctx) })
			return tending.Wait
		},
		tell: func(out io.Writer, reached, public string) {
			fmt.Fprintf(out, "Mivlet         %s, %d houses by their names\nPractice sites %s\nKept in        %s\n", reached, len(names), public, o.houses)
		}})
	return errors.Join(err, hs.closeAll())
}
