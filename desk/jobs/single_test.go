package jobs_test

import (
	"context"
	"errors"
	"path/filepath"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/desk/access"
	"mivlet/desk/desktest"
	"mivlet/desk/jobs"
	"mivlet/store"
	"mivlet/store/sqlite"
)

// Of a kind of which one goes on at a time about each thing, no two programs begin one at the same moment, both know
// which one goes on, and one that failed is told of until the next, also by a program that was started later.
func TestOneAtATimeAboutEachThing(t *testing.T) {
	t.Parallel()
	records, err := sqlite.Open(filepath.Join(t.TempDir(), "mivlet.db"))
	require.NoError(t, err)
	t.Cleanup(func() { assert.NoError(t, records.Close()) })
	goOn := make(chan error)
	l := &desktest.Line{}
	type house struct {
		*jobs.Desk
		jobs.Single[string]
	}
	begun := func(name string) (h house) {
		h.Desk, _ = program(t, records, l.Join(name), nil, func(d *jobs.Desk) {
			h.Single = jobs.LongSingle(d, "mend", func(context.Context, *jobs.Job, *access.Seat, string) error {
				err := <-goOn
				if err != nil {
					return &access.Refusal{Kind: access.Bad, What: err.Error(), Next: "None."}
				}
				return nil
			})
		})
		return h
	}
	programs := []house{begun("a"), begun("b"), begun("c")}
	task := []jobs.Of[string]{{Steps: 1, Of: "site"}}

	for range 5 { // they race
		var all sync.WaitGroup
		began := make([]*jobs.Job, len(programs)*4)
		errs := make([]error, len(began))
		for i := range began {
			p := programs[i%len(programs)]
			all.Go(func() { began[i], errs[i] = p.Begin(p.Desk, 7, "Mending", task) })
		}
		all.Wait()
		var job *jobs.Job
		for i, err := range errs {
			if err == nil {
				require.Nil(t, job, "one of them begins")
				job = began[i]
				continue
			}
			require.ErrorIs(t, err, jobs.ErrGoesOn)
		}
		require.NotNil(t, job)
		for _, p := range programs {
			going, err := p.Going(p.Desk, 7)
			require.NoError(t, err)
			assert.Equal(t, job.ID, going)
			of, err := p.Task(p.Desk, going)
			require.NoError(t, err)
			assert.Equal(t, "site", of)
			going, err = p.Going(p.Desk, 8)
			require.NoError(t, err)
			assert.Zero(t, going)
		}
		goOn <- nil
		job.Wait()
		told, err := programs[0].ToTell(programs[0].Desk, 7)
		require.NoError(t, err)
		assert.Zero(t, told)
	}

	// About another thing, and of another kind, is something else.
	p := programs[0]
	seven, err := p.Begin(p.Desk, 7, "Mending", task)
	require.NoError(t, err)
	eight, err := programs[1].Begin(programs[1].Desk, 8, "Mending", task)
	require.NoError(t, err)
	goOn <- errors.New("It is broken.")
	goOn <- errors.New("It is broken.")
	seven.Wait()
	eight.Wait()
	later := begun("d")
	told, err := later.ToTell(later.Desk, 7)
	require.NoError(t, err)
	assert.Equal(t, seven.ID, told)
	progress, err := later.Job(told)
	require.NoError(t, err)
	assert.Equal(t, []any{true, "It is broken. None."}, []any{progress.Ended, progress.Failed[0]})
}

// unwritable is records that cannot be written for a while.
type unwritable struct {
	store.Records
	mu   sync.Mutex
	away bool
}

func (u *unwritable) Tx(do func(s store.Records) error) error {
	u.mu.Lock()
	defer u.mu.Unlock()
	if u.away {
		return errors.New("the database is away")
	}
	return u.Records.Tx(do)
}

func (u *unwritable) be(away bool) {
	u.mu.Lock()
	defer u.mu.Unlock()
	u.away = away
}

// A job that ends while the database is away has ended when that is back: the next one can begin.
func TestAJobEndsWhileTheDatabaseIsAway(t *testing.T) {
	t.Parallel()
	kept, err := sqlite.Open(filepath.Join(t.TempDir(), "mivlet.db"))
	require.NoError(t, err)
	t.Cleanup(func() { assert.NoError(t, kept.Close()) })
	records := &unwritable{Records: kept}
	reached, goOn := make(chan struct{}), make(chan struct{})
	var kind jobs.Single[string]
	d, _ := program(t, records, (&desktest.Line{}).Join("a"), nil, func(d *jobs.Desk) {
		kind = jobs.LongSingle(d, "mend", func(context.Context, *jobs.Job, *access.Seat, string) error {
			reached <- struct{}{}
			<-goOn
			return nil
		})
	})
	task := []jobs.Of[string]{{Steps: 1, Of: "site"}}
	first, err := kind.Begin(d, 7, "Mending", task)
	require.NoError(t, err)
	<-reached
	records.be(true)
	goOn <- struct{}{}
	require.Eventually(t, func() bool { p, err := d.Job(first.ID); return err == nil && p.Done == 1 }, 10*time.Second, time.Millisecond)
	assert.False(t, first.Progress().Ended, "that it has ended is not kept yet")
	records.be(false)
	first.Wait()
	second, err := kind.Begin(d, 7, "Mending", task)
	require.NoError(t, err)
	<-reached
	goOn <- struct{}{}
	second.Wait()
}
