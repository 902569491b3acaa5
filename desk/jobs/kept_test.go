package jobs_test

import (
	"context"
	"errors"
	"fmt"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/rules"
	"mivlet/desk/access"
	"mivlet/desk/jobs"
	"mivlet/store"
	"mivlet/store/datafolder"
)

// house is a program that does one kind of jobs, on records that outlive it.
type house struct {
	*jobs.Desk
	seat  *access.Seat
	start jobs.Starter[string]
	did   *[]string
	who   *[]string
}

// opened is the program when it has just been started.
func opened(t *testing.T, s *store.Store, do func(of string) error) house {
	t.Helper()
	around, err := access.NewHouse(s, time.Now, "", rules.Given{})
	require.NoError(t, err)
	h := house{seat: around.Own(), did: &[]string{}, who: &[]string{}}
	h.Desk = jobs.New(h.seat, []time.Duration{time.Millisecond, time.Millisecond})
	var mu sync.Mutex
	h.start = jobs.Kind(h.Desk, "letters", func(s *access.Seat, of string) error {
		mu.Lock()
		*h.did, *h.who = append(*h.did, of), append(*h.who, s.Person.Name)
		mu.Unlock()
		return do(of)
	})
	t.Cleanup(h.End)
	return h
}

func records(t *testing.T) *store.Store {
	t.Helper()
	f, err := datafolder.Open(t.TempDir())
	require.NoError(t, err)
	t.Cleanup(func() { _ = f.Close() })
	return &f.Store
}

func letters(all ...string) (tasks []jobs.Of[string]) {
	for _, l := range all {
		tasks = append(tasks, jobs.Of[string]{Steps: 2, Of: l})
	}
	return tasks
}

// newest is the job that was begun last, as it is kept.
func newest(t *testing.T, s *store.Store) store.Job {
	t.Helper()
	all, err := s.Jobs(1)
	require.NoError(t, err)
	require.Len(t, all, 1)
	return all[0]
}

// A house that closes lets the task end that it is at; when it opens again, the job goes on behind it, as
// whoever began it, and under the same number.
func TestAJobGoesOnWhenTheHouseOpensAgain(t *testing.T) {
	t.Parallel()
	s := records(t)
	require.NoError(t, s.SavePerson(&store.Person{Name: "Runa", Login: "runa", CreatedAt: time.Now()}))
	runa, err := s.PersonByLogin("runa")
	require.NoError(t, err)
	at, goOn := make(chan struct{}), make(chan struct{})
	first := opened(t, s, func(of string) error {
		if of == "b" {
			close(at)
			<-goOn
			return errors.New("too large")
		}
		return nil
	})
	hers := first.seat.As(access.PersonOf(runa))
	j, err := first.start(first.At(hers), "Letters", letters("a", "b", "c", "d"))
	require.NoError(t, err)
	<-at
	go func() { <-j.Halted(); close(goOn) }()
	first.End()
	assert.Equal(t, []string{"a", "b"}, *first.did, "nobody tries again while it closes")
	kept := newest(t, s)
	assert.Equal(t, []any{2, false, true}, []any{kept.Done, kept.Stopped, kept.EndedAt == nil})

	second := opened(t, s, func(string) error { return nil })
	require.NoError(t, second.Resume())
	p, err := second.Job(j.ID)
	require.NoError(t, err)
	assert.Equal(t, []any{"Letters", 8}, []any{p.Title, p.All})
	require.Eventually(t, func() bool { p, err = second.Job(j.ID); return err == nil && p.Ended }, time.Minute, time.Millisecond)
	assert.Equal(t, []string{"c", "d"}, *second.did)
	assert.Equal(t, []string{"Runa", "Runa"}, *second.who)
	assert.Equal(t, []string{"too large"}, p.Failed, "what failed before is told, too")
	assert.NotNil(t, newest(t, s).EndedAt)

	third := opened(t, s, func(string) error { return nil })
	require.NoError(t, third.Resume())
	assert.Empty(t, *third.did, "what has ended does not go on")
}

// A program that is killed at any task has it done once more, and none left out.
func TestAJobOutlivesBeingKilledAtEachTask(t *testing.T) {
	t.Parallel()
	for killed := range 4 {
		t.Run(fmt.Sprint(killed), func(t *testing.T) {
			t.Parallel()
			s := records(t)
			at, never := make(chan struct{}), make(chan struct{})
			var n atomic.Int32
			first := opened(t, s, func(string) error {
				if int(n.Add(1)) == killed+1 {
					close(at)
					<-never // it is killed here: nothing of it happens any more
				}
				return nil
			})
			_, err := first.start(first.Desk, "Letters", letters("a", "b", "c", "d"))
			require.NoError(t, err)
			<-at
			second := opened(t, s, func(string) error { return nil })
			require.NoError(t, second.Resume())
			require.Eventually(t, func() bool { return newest(t, s).EndedAt != nil }, time.Minute, time.Millisecond)
			assert.Equal(t, []string{"a", "b", "c", "d"}[killed:], *second.did)
			close(never)
		})
	}
}

// What somebody stopped stays stopped, and what nobody can do any more is told and ended.
func TestJobsThatDoNotGoOn(t *testing.T) {
	t.Parallel()
	s := records(t)
	at, goOn := make(chan struct{}), make(chan struct{})
	first := opened(t, s, func(of string) error {
		if of == "a" {
			close(at)
			<-goOn
		}
		return nil
	})
	j, err := first.start(first.Desk, "Letters", letters("a", "b"))
	require.NoError(t, err)
	<-at
	require.NoError(t, first.Stop(j.ID))
	close(goOn)
	j.Wait()
	kept := newest(t, s)
	assert.Equal(t, []any{1, true, false}, []any{kept.Done, kept.Stopped, kept.EndedAt == nil})

	away := store.Person{Name: "Odo", Login: "odo", Away: true, CreatedAt: time.Now()}
	require.NoError(t, s.SavePerson(&away))
	begun := time.Now()
	for _, k := range []store.Job{{Kind: "forgotten", Title: "Unknown"}, {Kind: "letters", Title: "His", PersonID: away.ID}, {Kind: "letters", Title: "Nobody's", PersonID: 99}} {
		k.BegunAt, k.Tasks = begun, []store.JobTask{{Steps: 1, Of: []byte(`"z"`)}}
		require.NoError(t, s.AddJob(&k))
	}
	second := opened(t, s, func(string) error { return nil })
	require.NoError(t, second.Resume())
	assert.Empty(t, *second.did)
	all, err := s.Jobs(3)
	require.NoError(t, err)
	for _, k := range all {
		assert.NotNil(t, k.EndedAt, k.Title)
		assert.Len(t, k.Failed, 1, k.Title)
	}
}

// What fails for a moment is tried again; what the house refuses is not.
func TestATaskIsTriedAgain(t *testing.T) {
	t.Parallel()
	s := records(t)
	tries := map[string]int{}
	h := opened(t, s, func(of string) error {
		tries[of]++
		switch {
		case of == "full" && tries[of] < 3:
			return errors.New("the disk is full")
		case of == "broken":
			return errors.New("it is broken")
		case of == "refused":
			return access.Refuse(access.Clash, "No.", "Never.")
		}
		return nil
	})
	j, err := h.start(h.Desk, "Letters", letters("full", "broken", "refused"))
	require.NoError(t, err)
	j.Wait()
	assert.Equal(t, map[string]int{"full": 3, "broken": 3, "refused": 1}, tries)
	assert.Equal(t, []string{"it is broken", "No. Never."}, newest(t, s).Failed)
}

// A long task that the house ends is begun once more when it opens again; one that somebody stops is not.
func TestALongTaskIsBegunOnceMore(t *testing.T) {
	t.Parallel()
	s := records(t)
	long := func(do func(ctx context.Context, j *jobs.Job) error) (house, jobs.Starter[string]) {
		h := opened(t, s, nil)
		return h, jobs.LongKind(h.Desk, "long", func(ctx context.Context, j *jobs.Job, _ *access.Seat, _ string) error { return do(ctx, j) })
	}
	at := make(chan struct{})
	untilEnded := func(ctx context.Context, j *jobs.Job) error {
		j.Come(7)
		at <- struct{}{}
		<-ctx.Done()
		return ctx.Err()
	}
	first, start := long(untilEnded)
	j, err := start(first.Desk, "Fetching", []jobs.Of[string]{{Steps: 10, Of: "site"}})
	require.NoError(t, err)
	<-at
	first.End()
	kept := newest(t, s)
	assert.Equal(t, []any{0, false, true, 0}, []any{kept.Done, kept.Stopped, kept.EndedAt == nil, len(kept.Failed)})

	second, _ := long(untilEnded)
	require.NoError(t, second.Resume())
	<-at
	p, err := second.Job(j.ID)
	require.NoError(t, err)
	assert.Equal(t, []int{7, 10}, []int{p.Done, p.All})
	require.NoError(t, second.Stop(j.ID))
	require.Eventually(t, func() bool { p, err = second.Job(j.ID); return err == nil && p.Ended }, time.Minute, time.Millisecond)
	assert.Equal(t, "Fetching: stopped at 7 of 10", p.Text())
	kept = newest(t, s)
	assert.Equal(t, []any{0, true, false, 0}, []any{kept.Done, kept.Stopped, kept.EndedAt == nil, len(kept.Failed)})

	third, _ := long(untilEnded)
	require.NoError(t, third.Resume())
	p, err = third.Job(j.ID)
	require.NoError(t, err)
	assert.True(t, p.Ended && p.Stopped)
	assert.False(t, third.Busy(), "nothing goes on")
}
