package jobs_test

import (
	"context"
	"errors"
	"fmt"
	"path/filepath"
	"slices"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/rules"
	"mivlet/desk/access"
	"mivlet/desk/desktest"
	"mivlet/desk/jobs"
	"mivlet/store"
	"mivlet/store/sqlite"
)

// program is a desk of jobs in a program on a house.
func program(t *testing.T, records store.Records, f *desktest.Fellow, do func(of string) error, set ...func(*jobs.Desk)) (*jobs.Desk, jobs.Starter[string]) {
	t.Helper()
	house, err := access.NewHouse(&store.Store{Records: records, Fellows: f}, time.Now, "", rules.Given{})
	require.NoError(t, err)
	d := jobs.New(house.Own(), nil)
	for _, set := range set {
		set(d)
	}
	starter := jobs.Kind(d, "count", func(_ *access.Seat, of string) error { return do(of) })
	require.NoError(t, d.Resume())
	ctx, end := context.WithCancel(t.Context())
	ended := make(chan struct{})
	go func() { defer close(ended); house.Listen(ctx) }()
	t.Cleanup(func() { end(); <-ended; d.End() })
	return d, starter
}

// A job of one program is told of and stopped by another, and goes on there when the first one ends, from the task
// that was not over. The first one, should it only have been away, does not go on with it.
func TestAJobOfAnotherProgram(t *testing.T) {
	t.Parallel()
	records, err := sqlite.Open(filepath.Join(t.TempDir(), "mivlet.db"))
	require.NoError(t, err)
	t.Cleanup(func() { assert.NoError(t, records.Close()) })
	var mu sync.Mutex
	var done []string
	hold := make(chan struct{})
	release := sync.OnceFunc(func() { close(hold) })
	doing := func(name string) func(of string) error {
		return func(of string) error {
			if of == "second" && name == "a" {
				<-hold
			}
			mu.Lock()
			defer mu.Unlock()
			done = append(done, name+" "+of)
			return nil
		}
	}
	seen := func() []string { mu.Lock(); defer mu.Unlock(); return slices.Clone(done) }
	l := &desktest.Line{}
	first := l.Join("a")
	a, start := program(t, records, first, doing("a"))
	b, _ := program(t, records, l.Join("b"), doing("b"))
	const soon, often = 30 * time.Second, 5 * time.Millisecond

	t.Cleanup(release)
	j, err := start(a, "Three tasks", []jobs.Of[string]{{Steps: 1, Of: "first"}, {Steps: 2, Of: "second"}, {Steps: 3, Of: "third"}})
	require.NoError(t, err)
	require.Eventually(t, func() bool { p, err := b.Job(j.ID); return err == nil && p.Done == 1 && p.All == 6 && !p.Ended }, soon, often)

	first.Leave() // it is cut off, and works on
	require.Eventually(t, func() bool { p, err := b.Job(j.ID); return err == nil && p.Ended }, soon, often)
	assert.Equal(t, []string{"a first", "b second", "b third"}, seen(), "what was over is not done again")
	release()
	j.Wait()
	assert.Equal(t, []string{"a first", "b second", "b third", "a second"}, seen(), "the task it was at is done twice, and no other")
	kept, err := records.Job(j.ID)
	require.NoError(t, err)
	assert.Equal(t, "b", kept.Program)
	assert.Equal(t, 3, kept.Done)
	assert.Empty(t, kept.Failed)
}

// Whoever may stop a job stops it in whichever program it runs.
func TestAJobIsStoppedInAnotherProgram(t *testing.T) {
	t.Parallel()
	records, err := sqlite.Open(filepath.Join(t.TempDir(), "mivlet.db"))
	require.NoError(t, err)
	t.Cleanup(func() { assert.NoError(t, records.Close()) })
	reached, turn := make(chan struct{}, 2), make(chan struct{})
	l := &desktest.Line{}
	a, start := program(t, records, l.Join("a"), func(string) error { reached <- struct{}{}; <-turn; return nil })
	b, _ := program(t, records, l.Join("b"), func(string) error { return nil })
	j, err := start(a, "Two tasks", []jobs.Of[string]{{Steps: 1, Of: "first"}, {Steps: 1, Of: "second"}})
	require.NoError(t, err)
	<-reached
	helper := access.PersonOf(store.Person{ID: 7, Name: "Odo", Roles: []store.Role{{Section: "juniors", Role: string(access.Contributor)}}})
	assert.ErrorContains(t, b.At(b.As(helper)).Stop(j.ID), "Only they or a keeper can stop it.")
	require.NoError(t, b.Stop(j.ID))
	require.Eventually(t, j.Stopping, 30*time.Second, time.Millisecond)
	close(turn)
	j.Wait()
	p, err := b.Job(j.ID)
	require.NoError(t, err)
	assert.True(t, p.Stopped)
	assert.Equal(t, 1, p.Done)
	require.NoError(t, b.Stop(j.ID), "it has ended")
}

// A house that is closed and opened again by the same program goes on with the jobs that it left.
func TestAJobGoesOnInTheSameProgram(t *testing.T) {
	t.Parallel()
	records, err := sqlite.Open(filepath.Join(t.TempDir(), "mivlet.db"))
	require.NoError(t, err)
	t.Cleanup(func() { assert.NoError(t, records.Close()) })
	f := (&desktest.Line{}).Join("a")
	reached, turn := make(chan struct{}), make(chan struct{})
	d, start := program(t, records, f, func(of string) error {
		if of == "first" {
			close(reached)
			<-turn
		}
		return nil
	})
	j, err := start(d, "Two tasks", []jobs.Of[string]{{Steps: 1, Of: "first"}, {Steps: 1, Of: "second"}})
	require.NoError(t, err)
	<-reached
	ended := make(chan struct{})
	go func() { defer close(ended); d.End() }()
	require.Eventually(t, j.Stopping, 30*time.Second, time.Millisecond)
	close(turn)
	<-ended
	var did []string
	again, _ := program(t, records, f, func(of string) error { did = append(did, of); return nil })
	require.Eventually(t, func() bool { p, err := again.Job(j.ID); return err == nil && p.Ended }, 30*time.Second, time.Millisecond)
	assert.Equal(t, []string{"second"}, did)
}

// A program that leaves jobs to others does none, and tells how far they have come, also within a task; whoever is there
// takes each once, and who comes later takes what waits.
func TestJobsAreLeftToOthers(t *testing.T) {
	t.Parallel()
	records, err := sqlite.Open(filepath.Join(t.TempDir(), "mivlet.db"))
	require.NoError(t, err)
	t.Cleanup(func() { assert.NoError(t, records.Close()) })
	var mu sync.Mutex
	var done []string
	doing := func(name string) func(of string) error {
		return func(of string) error {
			mu.Lock()
			defer mu.Unlock()
			done = append(done, of)
			if name == "screens" {
				return errors.New("this program does no jobs")
			}
			return nil
		}
	}
	seen := func() []string { mu.Lock(); defer mu.Unlock(); return slices.Sorted(slices.Values(done)) }
	l := &desktest.Line{}
	screens, start := program(t, records, l.Join("screens"), doing("screens"), (*jobs.Desk).LeaveToOthers)
	const soon, often = 30 * time.Second, 5 * time.Millisecond

	j, err := start(screens, "Waits", []jobs.Of[string]{{Steps: 3, Of: "waits"}})
	require.NoError(t, err)
	assert.False(t, j.Progress().Ended)
	assert.False(t, screens.Busy(), "nothing keeps this program from ending")
	assert.Empty(t, seen(), "nobody is there who takes it")
	program(t, records, l.Join("a"), doing("a"))
	require.Eventually(t, func() bool { return j.Progress().Ended }, soon, often)
	program(t, records, l.Join("b"), doing("b"))
	want := []string{"waits"}
	for i := range 20 {
		of := fmt.Sprint("one of many ", i)
		want = append(want, of)
		_, err := start(screens, of, []jobs.Of[string]{{Steps: 1, Of: of}})
		require.NoError(t, err)
	}
	require.Eventually(t, func() bool { return len(seen()) >= len(want) }, soon, often)
	require.Eventually(t, func() bool { open, err := records.OpenJobs(); return err == nil && len(open) == 0 }, soon, often)
	slices.Sort(want)
	assert.Equal(t, want, seen(), "each once")
	p, err := screens.Job(j.ID)
	require.NoError(t, err)
	assert.Equal(t, []any{3, true}, []any{p.Done, p.Ended})
}
