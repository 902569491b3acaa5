package desk

import (
	"context"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Whoever closes the store must be able to rely on nobody writing into it.
func TestEndingTheJobsWaitsForTheTaskThatRuns(t *testing.T) {
	d := Desk{house: &house{}}
	begun, release := make(chan struct{}), make(chan struct{})
	second, finished := false, false
	j := d.startJob("A long one", []task{
		{1, func() error { close(begun); <-release; finished = true; return nil }},
		{1, func() error { second = true; return nil }},
	})
	<-begun
	ended := make(chan struct{})
	go func() { d.EndJobs(); close(ended) }()
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
	first := js.start("First", Person{}, []task{{1, func() error { <-release; return nil }}})
	for range 2 * jobsKept {
		js.start("Quick", Person{}, nil).Wait()
	}
	assert.Same(t, first, js.find(first.ID))
	assert.Len(t, js.all, jobsKept)
	close(release)
}

// A job is theirs who began it.
func TestAJobIsStoppedByWhoBeganItOrAKeeper(t *testing.T) {
	h := &house{}
	as := func(p Person) *Desk { p.known = true; return &Desk{house: h, who: p, ctx: context.Background()} }
	odo, pell, ines := as(Person{ID: 2, Name: "Odo"}), as(Person{ID: 4, Name: "Pell"}), as(Person{ID: 1, Name: "Ines", Keeper: true})
	release := make(chan struct{})
	for _, who := range []*Desk{odo, ines} {
		j := odo.startJob("Cuts", []task{{1, func() error { <-release; return nil }}})
		var refused *Refusal
		require.ErrorAs(t, pell.StopJob(j.ID), &refused)
		assert.Equal(t, Forbidden, refused.Kind)
		assert.Contains(t, refused.What, "Odo")
		seen, err := pell.Job(j.ID)
		require.NoError(t, err)
		assert.False(t, seen.Theirs)
		assert.False(t, j.Progress().Stopped)
		seen, err = who.Job(j.ID)
		require.NoError(t, err)
		assert.True(t, seen.Theirs)
		require.NoError(t, who.StopJob(j.ID))
		assert.True(t, j.Progress().Stopped)
	}
	close(release)
	odo.EndJobs()
}
