package jobs

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"log/slog"
	"slices"
	"time"

	"mivlet/desk/access"
	"mivlet/store"
)

// Jobs of a kind are kept: when the program ends, they go on from the task that was not over, as soon as it
// runs again. So a task may be done twice, and must not mind.

// keptFor is how long a job is remembered that has ended.
const keptFor = 30 * 24 * time.Hour

// worker does one task of a kind, at the seat of whoever began the job.
type worker func(ctx context.Context, j *Job, s *access.Seat, of json.RawMessage) error

// Of is a task of a kind.
type Of[T any] struct {
	Steps int // what it is worth
	Of    T
}

// Starter begins a job of a kind, at the desk of whoever wants it.
type Starter[T any] func(d *Desk, title string, tasks []Of[T]) (*Job, error)

// Kind says how the tasks of a kind of jobs are done. T is kept as JSON.
func Kind[T any](d *Desk, kind string, do func(s *access.Seat, of T) error) Starter[T] {
	return LongKind(d, kind, func(_ context.Context, _ *Job, s *access.Seat, of T) error { return do(s, of) })
}

// LongKind is a kind whose tasks are long: each tells with [Job.Come] how far it has come, and ends soon after
// its context does. Where it had not done all then, it ends with the error of its context; when the house
// opens again, it is begun once more.
func LongKind[T any](d *Desk, kind string, do func(ctx context.Context, j *Job, s *access.Seat, of T) error) Starter[T] {
	start := longKind(d, kind, do)
	return func(d *Desk, title string, tasks []Of[T]) (*Job, error) { return start(d, 0, title, tasks) }
}

// longKind is a kind whose jobs may be about something.
func longKind[T any](d *Desk, kind string, do func(ctx context.Context, j *Job, s *access.Seat, of T) error) func(d *Desk, about uint, title string, tasks []Of[T]) (*Job, error) {
	d.kinds[kind] = func(ctx context.Context, j *Job, s *access.Seat, text json.RawMessage) error {
		var of T
		if err := json.Unmarshal(text, &of); err != nil {
			return fmt.Errorf("a task of %s: %w", kind, err)
		}
		return do(ctx, j, s, of)
	}
	return func(d *Desk, about uint, title string, tasks []Of[T]) (*Job, error) {
		kept := store.Job{Kind: kind, About: about, Title: title, PersonID: d.Person.ID, BegunAt: d.Now(), Program: d.Program()}
		for _, t := range tasks {
			text, err := json.Marshal(t.Of)
			if err != nil {
				return nil, err
			}
			kept.Tasks = append(kept.Tasks, store.JobTask{Steps: t.Steps, Of: text})
		}
		if d.leave {
			kept.Program = nobodys
		}
		if err := d.Store.Tx(func(s store.Records) error { return s.AddJob(&kept) }); err != nil {
			return nil, err
		}
		if d.leave {
			return d.left(kept), nil
		}
		return d.goOn(kept, d.Seat), nil
	}
}

// Resume goes on with the jobs that had not ended when the program did, as those who began them, and from
// then on with those of other programs that end. It is called once, before anybody can begin one.
func (d *Desk) Resume() error {
	if err := d.MayKeep(); err != nil {
		return err
	}
	if err := d.Store.Tx(func(s store.Records) error { return s.DropJobsEndedBefore(d.Now().Add(-keptFor)) }); err != nil {
		return err
	}
	if d.Alone() {
		return d.goOnWith(func(string) bool { return true })
	}
	if d.leave {
		return nil
	}
	programs, err := d.Store.Fellows.Programs(d.Context)
	if err != nil {
		return err
	}
	d.takeOver(programs)
	// Those of this program are from before as well: the house was closed meanwhile, and the program was not.
	return d.goOnWith(func(program string) bool { return program == d.Program() || !slices.Contains(programs, program) })
}

// goOnWith goes on with the jobs of programs that have ended.
func (d *Desk) goOnWith(ended func(program string) bool) error {
	open, err := d.Store.OpenJobs()
	if err != nil {
		return err
	}
	for _, kept := range open {
		if !ended(kept.Program) {
			continue
		}
		if !d.Alone() {
			mine, err := d.take(kept)
			if err != nil {
				return err
			}
			if !mine {
				continue
			}
			if kept, err = d.Store.Job(kept.ID); err != nil {
				return err
			}
		}
		seat, err := d.seatOf(kept.PersonID)
		if err != nil {
			return err
		}
		switch {
		case d.kinds[kept.Kind] == nil:
			err = d.endWith(kept, "This Mivlet does not know how it is done.")
		case seat == nil:
			err = d.endWith(kept, "Whoever began it may no longer sign in.")
		default:
			d.goOn(kept, seat)
		}
		if err != nil {
			return err
		}
	}
	return nil
}

// seatOf is the seat of whoever began a job; nil where they may no longer sign in.
func (d *Desk) seatOf(person uint) (*access.Seat, error) {
	if person == 0 {
		return d.Own(), nil
	}
	p, err := d.Store.Person(person)
	if errors.Is(err, store.ErrNotFound) || err == nil && p.Away {
		return nil, nil
	}
	return d.As(access.PersonOf(p)), err
}

// endWith ends a job that cannot go on.
func (d *Desk) endWith(kept store.Job, why string) error {
	now := d.Now()
	kept.EndedAt, kept.Failed = &now, append(kept.Failed, why)
	return d.Store.Tx(func(s store.Records) error { return s.SaveJob(kept) })
}

// goOn runs what is left of a job.
func (d *Desk) goOn(kept store.Job, seat *access.Seat) *Job {
	j := &Job{ID: kept.ID, Title: kept.Title, by: seat.Person, failed: kept.Failed, halted: make(chan struct{}), ended: make(chan struct{})}
	do, later := d.kinds[kept.Kind], seat.Beside()
	var left []Task
	for i, t := range kept.Tasks {
		j.All += t.Steps
		if i < kept.Done {
			j.done += t.Steps
			continue
		}
		left = append(left, Task{Steps: t.Steps, Do: func(j *Job) error {
			ctx, stop := j.context()
			defer stop()
			return j.patiently(d.waits, func() error { return do(ctx, j, later, t.Of) })
		}})
	}
	before := kept.Done
	j.keep = func(over int, ended bool) {
		if !d.Alone() {
			if mine, err := d.take(kept); err == nil && !mine { // it was taken for ended, and another program goes on with it
				j.mu.Lock()
				j.left = true
				j.mu.Unlock()
				j.stop()
				return
			}
		}
		kept.Done, kept.Within = before+over, 0
		j.mu.Lock()
		kept.Failed, kept.Stopped = slices.Clone(j.failed), ended && j.stopped && over < len(left)
		j.mu.Unlock()
		if ended {
			now := d.Now()
			kept.EndedAt = &now
		}
		save := func() error { return d.Store.Tx(func(s store.Records) error { return s.SaveJob(kept) }) }
		err := save()
		if err != nil {
			slog.Error("it was not kept how far a job has come", "job", kept.Title, "error", err)
		}
		for err != nil && ended && !j.leaves() { // or it would be taken for one that goes on, and keep others from beginning
			time.Sleep(saveAgain)
			err = save()
		}
	}
	if !d.Alone() {
		j.come = func(steps int) {
			if err := d.Store.Tx(func(s store.Records) error { return s.NoteJob(kept.ID, d.Program(), steps) }); err != nil {
				slog.Warn("it was not kept how far a task has come", "job", kept.Title, "error", err)
			}
		}
	}
	d.jobs.begin(j, left)
	return j
}

// saveAgain is how long it is waited until it is tried again to keep that a job has ended.
const saveAgain = time.Second

// progressOf is how far a job has come as far as that is kept.
func progressOf(k store.Job) Progress {
	p := Progress{ID: k.ID, Title: k.Title, Failed: k.Failed, Ended: k.EndedAt != nil, Stopped: k.Stopped, Theirs: true}
	for i, t := range k.Tasks {
		p.All += t.Steps
		if i < k.Done {
			p.Done += t.Steps
		}
	}
	p.Done = min(p.Done+k.Within, p.All)
	return p
}

// listed is how many jobs are listed.
const listed = 20

// Listed is a job in the list of those that are kept.
type Listed struct {
	Progress
	By    string // who began it
	Begun time.Time
	Over  time.Time // zero while it goes on
}

// All returns the newest jobs of the house, the last one first, for those who keep it.
func (d *Desk) All() ([]Listed, error) {
	if err := d.MayKeep(); err != nil {
		return nil, err
	}
	kept, err := d.Store.Jobs(listed)
	if err != nil {
		return nil, err
	}
	people, err := d.Store.People()
	if err != nil {
		return nil, err
	}
	names := map[uint]string{0: "Mivlet"}
	for _, p := range people {
		names[p.ID] = p.Name
	}
	var all []Listed
	for _, k := range kept {
		l := Listed{Progress: progressOf(k), By: names[k.PersonID], Begun: k.BegunAt}
		if k.EndedAt != nil {
			l.Over = *k.EndedAt
		}
		all = append(all, l)
	}
	return all, nil
}
