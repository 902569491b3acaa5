package jobs

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/desk/access"
	"mivlet/store"
)

// Whoever closes the store must be able to rely on nobody writing into it.
func TestEndingTheJobsWaitsForTheTaskThatRuns(t *testing.T) {
	d := New(new(access.House).Own(), nil)
	begun, release := make(chan struct{}), make(chan struct{})
	second, finished := false, false
	j := d.Start("A long one", []Task{
		{Steps: 1, Do: func(*Job) error { close(begun); <-release; finished = true; return nil }},
		{Steps: 1, Do: func(*Job) error { second = true; return nil }},
	})
	<-begun
	ended := make(chan struct{})
	go func() { d.End(); close(ended) }()
	assert.Eventually(t, func() bool { return j.Progress().Stopped }, time.Minute, time.Millisecond)
	select {
	case <-ended:
		t.Fatal("it did not wait for the task that runs")
	default:
	}
	close(release)
	<-ended
	assert.True(t, finished)
	assert.False(t, second, "a task began after the end")
	assert.Equal(t, "A long one: stopped at 1 of 2", j.Progress().Text())
}

func TestAJobThatRunsIsNotForgotten(t *testing.T) {
	js := &jobs{}
	release := make(chan struct{})
	first := js.start("First", access.Person{}, []Task{{Steps: 1, Do: func(*Job) error { <-release; return nil }}})
	for range 2 * jobsKept {
		js.start("Quick", access.Person{}, nil).Wait()
	}
	assert.Same(t, first, js.find(first.ID))
	assert.Len(t, js.all, jobsKept)
	close(release)
}

// A job is theirs who began it.
func TestAJobIsStoppedByWhoBeganItOrAKeeper(t *testing.T) {
	all := New(new(access.House).Own(), nil)
	as := func(p store.Person) *Desk { return all.At(all.As(access.PersonOf(p))) }
	odo, pell, ines := as(store.Person{ID: 2, Name: "Odo"}), as(store.Person{ID: 4, Name: "Pell"}), as(store.Person{ID: 1, Name: "Ines", Keeper: true})
	release := make(chan struct{})
	for _, who := range []*Desk{odo, ines} {
		j := odo.Start("Cuts", []Task{{Steps: 1, Do: func(*Job) error { <-release; return nil }}})
		var refused *access.Refusal
		require.ErrorAs(t, pell.Stop(j.ID), &refused)
		assert.Equal(t, access.Forbidden, refused.Kind)
		assert.Contains(t, refused.What, "Odo")
		seen, err := pell.Job(j.ID)
		require.NoError(t, err)
		assert.False(t, seen.Theirs)
		assert.False(t, j.Progress().Stopped)
		seen, err = who.Job(j.ID)
		require.NoError(t, err)
		assert.True(t, seen.Theirs)
		require.NoError(t, who.Stop(j.ID))
		assert.True(t, j.Progress().Stopped)
	}
	close(release)
	odo.End()
}
