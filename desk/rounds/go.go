package rounds

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"log/slog"
	"net/url"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"time"

	"mivlet/core/survey"
	"mivlet/desk/access"
	"mivlet/desk/bringin"
	"mivlet/desk/jobs"
	"mivlet/desk/mirror"
	"mivlet/store"
)

// How long it is from one round to the next.
const (
	ownEvery       = 24 * time.Hour
	elsewhereEvery = 7 * 24 * time.Hour
	failedAgain    = 6 * time.Hour
)

// own is the house's own site among the places. The others are destinations, by their numbers.
const own uint = 0

// Run goes the rounds that are due, now and then, until ctx ends.
func (d *Desk) Run(ctx context.Context, every time.Duration) {
	for {
		if err := d.goDue(ctx); err != nil && ctx.Err() == nil {
			slog.Error("a round could not be gone", "error", err)
		}
		select {
		case <-ctx.Done():
			return
		case <-time.After(every):
		}
	}
}

// goDue goes the rounds that are due.
func (d *Desk) goDue(ctx context.Context) error {
	due, err := d.due()
	for _, place := range due {
		if ctx.Err() != nil {
			return ctx.Err()
		}
		if job, broken := d.going.Going(d.jobs, aboutPlace(place)); job != 0 || broken != nil { // somebody goes it now
			err = errors.Join(err, broken)
			continue
		}
		err = errors.Join(err, d.At(d.Seat.In(ctx)).round(ctx, place, func(int, int) {}))
	}
	return err
}

// due are the places whose round is due: those that visitors see something at.
func (d *Desk) due() (all []uint, err error) {
	last, err := d.Store.LastRounds()
	if err != nil {
		return nil, err
	}
	by := map[uint]store.Round{}
	for _, r := range last {
		by[r.Place] = r
	}
	is := func(place uint, every time.Duration) bool {
		r, was := by[place]
		if was && r.Fault != "" {
			every = failedAgain
		}
		return !was || d.Now().Sub(r.At) >= every
	}
	counts, err := d.Store.Counts(nil)
	if err != nil {
		return nil, err
	}
	if counts.Live > 0 && is(own, ownEvery) {
		all = append(all, own)
	}
	elsewhere, err := d.elsewhere()
	for _, e := range elsewhere {
		if !e.Paused && is(e.ID, elsewhereEvery) {
			all = append(all, e.ID)
		}
	}
	return all, err
}

// elsewhere are the destinations that something was sent to.
func (d *Desk) elsewhere() (all []store.Destination, err error) {
	if d.fetch == nil {
		return nil, nil
	}
	every, err := d.Store.Destinations()
	for _, one := range every {
		if one.SentAt != nil {
			all = append(all, one)
		}
	}
	return all, err
}

// Go begins a round at a place beside the screens: 0 for the house's own site, else a destination.
func (d *Desk) Go(place uint) (*jobs.Job, error) {
	if err := d.mayGo(); err != nil {
		return nil, err
	}
	title, err := d.title(place)
	if err != nil {
		return nil, err
	}
	job, err := d.going.Begin(d.jobs, aboutPlace(place), "Looking through "+title, []jobs.Of[toGo]{{Steps: goSteps, Of: toGo{place}}})
	if errors.Is(err, jobs.ErrGoesOn) {
		return nil, access.Refuse(access.Clash, "This site is being looked through already.", "Wait until that is done, or stop it.")
	}
	return job, err
}

// toGo is a round that is to be gone.
type toGo struct {
	Place uint `json:"place"`
}

// goSteps are what a round is worth.
const goSteps = 100

// aboutPlace is what the job of a round is about: never 0, which the house's own site is among the places.
func aboutPlace(place uint) uint { return place + 1 }

// goNow goes a round as a job. Where it is stopped, what was known stays.
func (d *Desk) goNow(ctx context.Context, j *jobs.Job, of toGo) error {
	if err := d.mayGo(); err != nil { // they may publish no longer
		return err
	}
	return d.round(ctx, of.Place, func(done, all int) { j.Come(goSteps * done / max(all, 1)) })
}

// title is what a place is called.
func (d *Desk) title(place uint) (string, error) {
	if place == own {
		return "the site", nil
	}
	to, err := d.Store.Destination(place)
	return to.Title, access.NotFound(err, "That destination")
}

// round looks through a place, and keeps what was found. What cannot be looked through is kept as that.
func (d *Desk) round(ctx context.Context, place uint, progress func(done, all int)) error {
	r := store.Round{Place: place}
	report, err := d.look(ctx, place, progress)
	if ctx.Err() != nil {
		return ctx.Err()
	}
	r.At = d.Now()
	if err != nil {
		r.Fault = err.Error()
		return d.Store.Tx(func(s store.Records) error { return s.AddRound(&r, nil) })
	}
	r.Sum = report.Sum
	sections := d.Rules().Sections
	var found []store.Found
	for _, f := range report.Findings {
		one := store.Found{Mark: mark(f), Finding: f, Since: r.At}
		for _, s := range sections {
			if under(f.Page, s.Code) || f.Page == "" && under(f.Picture, s.Code) {
				one.Section = s.Code
			}
		}
		found = append(found, one)
	}
	return d.Store.Tx(func(s store.Records) error { return s.AddRound(&r, found) })
}

func under(file, section string) bool { return strings.HasPrefix(file, section+"/") }

// look looks through a place.
func (d *Desk) look(ctx context.Context, place uint, progress func(done, all int)) (survey.Report, error) {
	if place == own {
		site, err := d.mirror.Walk(mirror.Target{Base: d.Site}, new(mirror.Memory))
		if err != nil {
			return survey.Report{}, err
		}
		var hosts []string
		if at, err := url.Parse(d.Site); err == nil {
			hosts = append(hosts, at.Host)
		}
		found, err := survey.Read(ctx, treeOf(site), survey.Options{Hosts: hosts, Progress: progress})
		if err != nil {
			return survey.Report{}, err
		}
		return d.asWritten(without(found.Report(), ofItsOwn)), nil
	}
	to, err := d.Store.Destination(place)
	if err != nil {
		return survey.Report{}, err
	}
	if d.fetch == nil {
		return survey.Report{}, errors.New("nothing can be fetched from elsewhere")
	}
	start, err := url.Parse(strings.TrimSuffix(to.Base, "/") + "/")
	if err != nil {
		return survey.Report{}, err
	}
	dir, err := os.MkdirTemp("", "mivlet-round-")
	if err != nil {
		return survey.Report{}, err
	}
	defer os.RemoveAll(dir)
	root, err := os.OpenRoot(dir) // whatever the paths are, nothing is written elsewhere
	if err != nil {
		return survey.Report{}, err
	}
	defer root.Close()
	keep := func(at string, data []byte) error {
		if err := root.MkdirAll(filepath.Dir(filepath.FromSlash(at)), 0o700); err != nil {
			return nil //nolint:nilerr // a file lies where a folder would: it is left out
		}
		if err := root.WriteFile(filepath.FromSlash(at), data, 0o600); err != nil && !errors.Is(err, os.ErrExist) {
			return err
		}
		return nil
	}
	_, err = d.fetch(ctx, start, bringin.Into{Keep: keep, Progress: func(done, left int) { progress(done, 2*(done+left)) }})
	if err != nil {
		return survey.Report{}, err
	}
	found, err := survey.Read(ctx, root.FS(), survey.Options{Hosts: []string{start.Host}, Progress: func(read, all int) { progress(all+read, 2*all) }})
	if err != nil {
		return survey.Report{}, err
	}
	return without(found.Report(), unused), nil
}

// unused are files that no page leads to: they lie there for pages that visitors still have open, until their time is
// over.
func unused(f survey.Finding) bool { return f.Code == survey.Unused }

// ofItsOwn is what nobody can mend on the house's own site: one picture may have several files there, and how wide
// pictures are shown is known when they are cut, while here it is an estimate.
func ofItsOwn(f survey.Finding) bool {
	return unused(f) || f.Code == survey.SameContent || f.Estimated && (f.Code == survey.Enlarged || f.Code == survey.FarTooLarge)
}

// without leaves findings out.
func without(r survey.Report, out func(survey.Finding) bool) survey.Report {
	r.Findings = slices.DeleteFunc(r.Findings, out)
	return r
}

// asWritten gives addresses within the house's own site as its editors write them: from its root on.
func (d *Desk) asWritten(r survey.Report) survey.Report {
	within := func(address string) string {
		if at, own := strings.CutPrefix(address, d.Site); own && strings.HasPrefix(at, "/") {
			return at
		}
		return address
	}
	for i := range r.Findings {
		f := &r.Findings[i]
		f.Address = within(f.Address)
		for k, v := range f.Values {
			if text, is := v.(string); is {
				f.Values[k] = within(text)
			}
		}
	}
	return r
}

// mark tells a finding from all others at its place, from one round to the next. What it costs may change.
func mark(f survey.Finding) string {
	data, err := json.Marshal([]any{f.Code, f.Page, f.Picture, f.Address})
	if err != nil {
		panic(fmt.Sprintf("a finding cannot be named: %v", err)) // texts alone
	}
	sum := sha256.Sum256(data)
	return hex.EncodeToString(sum[:12])
}
