package jobs

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"slices"
	"sync"
	"time"

	"mivlet/desk/access"
	"mivlet/internal/traces"
)

// Job is work that goes on beside the screens, with its progress. It can be
// stopped between two of its tasks.
type Job struct {
	ID    uint
	Title string
	All   int           // steps altogether
	by    access.Person // who began it

	mu      sync.Mutex
	done    int
	within  int // steps of the task that runs which are done
	failed  []string
	stopped bool          // somebody stopped it, or the house closes
	left    bool          // the house closes: one that is kept goes on when it opens again
	halted  chan struct{} // closed when it is stopped
	ended   chan struct{}

	keep func(over int, ended bool) // keeps how many of its tasks are over; nil where nobody does
	come func(steps int)            // keeps how far the task that runs has come; nil where nobody asks
	told time.Time                  // when it was kept last how far a task has come

	// elsewhere tells how far a job has come that another program does; nil where this one does it.
	elsewhere func() Progress
}

// Task is one piece of a job, worth some steps. It gets the job that it is of.
type Task struct {
	Steps int
	Do    func(j *Job) error
}

// jobs are those that run, and those that ended a while ago.
type jobs struct {
	mu   sync.Mutex
	last uint
	all  []*Job
}

// jobsKept is how many ended jobs are remembered.
const jobsKept = 20

// Start runs tasks one after the other, beside the screens.
func (d *Desk) Start(title string, tasks []Task) *Job { return d.jobs.start(title, d.Person, tasks) }

func (js *jobs) start(title string, by access.Person, tasks []Task) *Job {
	j := &Job{Title: title, by: by, halted: make(chan struct{}), ended: make(chan struct{})}
	for _, t := range tasks {
		j.All += t.Steps
	}
	js.mu.Lock()
	js.last++
	j.ID = firstOwn + js.last
	js.mu.Unlock()
	js.begin(j, tasks)
	return j
}

// context is one that ends when the job is stopped.
func (j *Job) context() (context.Context, context.CancelFunc) {
	ctx, stop := context.WithCancel(context.Background())
	go func() {
		select {
		case <-j.halted:
			stop()
		case <-ctx.Done():
		}
	}()
	return ctx, stop
}

// tellEvery is how often it is kept how far a task has come, for other programs.
const tellEvery = 2 * time.Second

// Come tells how many steps of the task that runs are done.
func (j *Job) Come(steps int) {
	j.mu.Lock()
	j.within = steps
	tell := j.come != nil && time.Since(j.told) >= tellEvery
	if tell {
		j.told = time.Now()
	}
	j.mu.Unlock()
	if tell {
		j.come(steps)
	}
}

// firstOwn is where the numbers begin of jobs that nobody keeps: those that are kept have the number that
// they are kept under.
const firstOwn = 1 << 40

// begin runs the tasks of a job.
func (js *jobs) begin(j *Job, tasks []Task) {
	js.mu.Lock()
	js.all = append(js.all, j)
	surplus := len(js.all) - jobsKept
	js.all = slices.DeleteFunc(js.all, func(old *Job) bool { // what still runs is kept
		if surplus <= 0 || !old.over() {
			return false
		}
		surplus--
		return true
	})
	js.mu.Unlock()
	go j.run(tasks)
}

func (j *Job) run(tasks []Task) {
	defer close(j.ended)
	n := 0
	for ; n < len(tasks); n++ {
		t := tasks[n]
		j.mu.Lock()
		stopped := j.stopped
		j.mu.Unlock()
		if stopped {
			break
		}
		err := t.Do(j)
		if errors.Is(err, context.Canceled) && j.Stopping() {
			break // it is not over
		}
		j.mu.Lock()
		j.done += t.Steps
		j.within = 0
		if err != nil {
			j.failed = append(j.failed, err.Error())
			slog.Error("a task failed", "job", j.Title, "error", err)
		}
		j.mu.Unlock()
		if j.keep != nil {
			j.keep(n+1, n+1 == len(tasks))
		}
	}
	if n < len(tasks) && j.keep != nil && !j.leaves() {
		j.keep(n, true)
	}
}

// leaves reports whether a job is left because the house closes, or to another program.
func (j *Job) leaves() bool {
	j.mu.Lock()
	defer j.mu.Unlock()
	return j.left
}

// patiently does a task, and again after a while where it failed for no reason of the house's own: a disk
// was full for a moment, or a server slow.
func (j *Job) patiently(waits []time.Duration, do func() error) error {
	for _, wait := range waits {
		err := traced(do)
		var refused *access.Refusal
		if err == nil || errors.As(err, &refused) {
			return err
		}
		select {
		case <-j.halted:
			return err
		case <-time.After(wait):
		}
	}
	return traced(do)
}

func traced(do func() error) error {
	_, done := traces.Part(context.Background(), "do a task of a job")
	err := do()
	done(err)
	return err
}

func (j *Job) stop() {
	j.mu.Lock()
	defer j.mu.Unlock()
	if !j.stopped {
		j.stopped = true
		close(j.halted)
	}
}

// Stopping reports whether somebody has stopped the job, or the house closes: a long task looks
// now and then.
func (j *Job) Stopping() bool {
	j.mu.Lock()
	defer j.mu.Unlock()
	return j.stopped
}

// Halted is closed when somebody stops the job, or the house closes.
func (j *Job) Halted() <-chan struct{} { return j.halted }

// over tells whether the job has ended.
func (j *Job) over() bool {
	select {
	case <-j.ended:
		return true
	default:
		return false
	}
}

// Wait waits until the job has ended.
func (j *Job) Wait() { <-j.ended }

// Progress is how far a job has come.
type Progress struct {
	ID      uint
	Title   string
	Done    int
	All     int
	Failed  []string
	Ended   bool
	Stopped bool
	Theirs  bool // they may stop it
}

// Text tells it in a few words.
func (p Progress) Text() string {
	switch {
	case p.Stopped && p.Ended:
		return fmt.Sprintf("%s: stopped at %d of %d", p.Title, p.Done, p.All)
	case len(p.Failed) > 0 && p.Ended:
		return fmt.Sprintf("%s: %d of %d, %d failed", p.Title, p.Done, p.All, len(p.Failed))
	case p.Ended:
		return fmt.Sprintf("%s: all %d done", p.Title, p.All)
	}
	return fmt.Sprintf("%s: %d of %d", p.Title, p.Done, p.All)
}

// Progress tells whoever began the job how far it has come.
func (j *Job) Progress() Progress {
	if j.elsewhere != nil {
		return j.elsewhere()
	}
	j.mu.Lock()
	defer j.mu.Unlock()
	return Progress{ID: j.ID, Title: j.Title, Done: j.done + j.within, All: j.All, Failed: slices.Clone(j.failed), Stopped: j.stopped, Ended: j.over(), Theirs: true}
}

// Job returns how far a job has come.
func (d *Desk) Job(id uint) (Progress, error) {
	if err := d.MayLook(); err != nil {
		return Progress{}, err
	}
	if j := d.jobs.find(id); j != nil {
		p := j.Progress()
		p.Theirs = d.mayStop(j.by.ID)
		return p, nil
	}
	if kept, ok := d.elsewhere(id); ok {
		p := progressOf(kept)
		p.Theirs = d.mayStop(kept.PersonID)
		return p, nil
	}
	return Progress{}, access.Refuse(access.Missing, "That job has ended.", "Look at its result.")
}

// mayStop tells whether it is theirs to stop a job: whoever began it may, and a keeper.
func (d *Desk) mayStop(by uint) bool { return d.Person.Keeper || d.Person.ID == by }

// Stop stops a job after the task it is at. What is made stays.
func (d *Desk) Stop(id uint) error {
	if err := d.MayLook(); err != nil {
		return err
	}
	j := d.jobs.find(id)
	if j == nil {
		return d.stopElsewhere(id)
	}
	if !d.mayStop(j.by.ID) {
		return notTheirs(j.by.Name)
	}
	j.stop()
	return nil
}

func notTheirs(by string) error {
	return access.Refuse(access.Forbidden, fmt.Sprintf("%s began this.", by), "Only they or a keeper can stop it.")
}

// End stops every job after the task it is at, and returns when none runs. Those that are kept go on when
// the house opens again.
func (d *Desk) End() {
	d.jobs.mu.Lock()
	all := slices.Clone(d.jobs.all)
	d.jobs.mu.Unlock()
	for _, j := range all {
		j.mu.Lock()
		j.left = true
		j.mu.Unlock()
		j.stop()
	}
	for _, j := range all {
		j.Wait()
	}
}

// Busy reports whether a job runs in this program.
func (d *Desk) Busy() bool {
	d.jobs.mu.Lock()
	defer d.jobs.mu.Unlock()
	return slices.ContainsFunc(d.jobs.all, func(j *Job) bool { return !j.over() })
}

func (js *jobs) find(id uint) *Job {
	js.mu.Lock()
	defer js.mu.Unlock()
	for _, j := range js.all {
		if j.ID == id {
			return j
		}
	}
	return nil
}
