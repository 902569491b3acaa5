package jobs

import (
	"errors"
	"log/slog"
	"slices"

	"mivlet/desk/access"
	"mivlet/store"
)

// Where several programs work on a house, a job is done by the one that it was begun in. The others tell how
// far it has come by what is kept of it, and have it stopped; when that program ends, one of them goes on
// with it.

// aboutStop is what programs tell each other jobs under that are to be stopped.
const aboutStop = "stop a job"

// aboutBegun is what they tell each other jobs under that somebody is to take.
const aboutBegun = "begin a job"

// nobodys is the program of a job that nobody has taken yet.
const nobodys = ""

// missedLooks is how often in a row a program may not be there, when it is looked every two seconds, until it is taken for
// ended: the database may have been away for a moment.
const missedLooks = 3

// looksForJobs is after how many looks all jobs are looked at.
const looksForJobs = 15

// hear says what is done about jobs that others want stopped.
func (d *Desk) hear() {
	access.Heard(d.House, aboutStop, func(_ string, id uint) {
		if j := d.jobs.find(id); j != nil {
			j.stop()
		}
	})
	access.Heard(d.House, aboutBegun, func(string, uint) {
		if d.leave {
			return
		}
		if err := d.goOnWith(func(program string) bool { return program == nobodys }); err != nil {
			slog.Error("a job cannot be begun that another program has left; it is tried again", "error", err)
		}
	})
}

// left is a job that is left to others: they are told, and it is told how far those have come.
func (d *Desk) left(kept store.Job) *Job {
	d.Tell(aboutBegun, kept.ID)
	return &Job{ID: kept.ID, Title: kept.Title, All: progressOf(kept).All, by: d.Person, elsewhere: func() Progress {
		now, err := d.Store.Job(kept.ID)
		if err != nil { // it was forgotten, or the database is away
			return Progress{ID: kept.ID, Title: kept.Title, Ended: errors.Is(err, store.ErrNotFound)}
		}
		return progressOf(now)
	}}
}

// takeOver goes on with the jobs of other programs, from now on, when those have ended. programs are those that are there.
func (d *Desk) takeOver(programs []string) {
	missed := map[string]int{} // of programs that were there or have jobs, how often in a row they were not there
	for _, program := range programs {
		missed[program] = 0
	}
	looks := 0
	d.Gone(func(programs []string) {
		for _, program := range programs {
			missed[program] = 0
		}
		if looks++; looks%looksForJobs == 0 { // one may have come and gone between two looks
			open, err := d.Store.OpenJobs()
			if err != nil {
				return // it is looked again in a moment
			}
			for _, kept := range open {
				missed[kept.Program] += 0
			}
		}
		due := map[string]bool{}
		for program := range missed {
			if slices.Contains(programs, program) {
				continue
			}
			if missed[program]++; missed[program] >= missedLooks {
				due[program] = true
			}
		}
		if len(due) == 0 {
			return
		}
		if err := d.goOnWith(func(program string) bool { return due[program] }); err != nil {
			slog.Error("the jobs of a program that has ended cannot go on; it is tried again", "error", err)
			return
		}
		for program := range due {
			delete(missed, program)
		}
	})
}

// take takes a job for this program. It reports whether it is its own.
func (d *Desk) take(kept store.Job) (mine bool, err error) {
	err = d.Store.Tx(func(s store.Records) error {
		is, err := s.Job(kept.ID)
		if err != nil {
			return err
		}
		if is.Program == d.Program() {
			mine = is.EndedAt == nil
			return nil
		}
		if kept.Program == d.Program() { // it was taken away
			return nil
		}
		mine, err = s.TakeJob(kept.ID, kept.Program, d.Program())
		return err
	})
	return mine, err
}

// elsewhere is a job that another program does, or that ended before this one was started, as far as that is kept.
func (d *Desk) elsewhere(id uint) (store.Job, bool) {
	if id >= firstOwn {
		return store.Job{}, false
	}
	kept, err := d.Store.Job(id)
	return kept, err == nil
}

// stopElsewhere has a job stopped that another program does.
func (d *Desk) stopElsewhere(id uint) error {
	kept, ok := d.elsewhere(id)
	if !ok || kept.EndedAt != nil {
		return nil // it has ended long ago
	}
	if !d.mayStop(kept.PersonID) {
		by, err := d.seatOf(kept.PersonID)
		if err != nil {
			return err
		}
		if by == nil { // whoever began it may no longer sign in
			by = d.Own()
		}
		return notTheirs(by.Person.Name)
	}
	d.Tell(aboutStop, id)
	return nil
}
