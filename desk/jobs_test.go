package desk

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
)

// Whoever closes the store must be able to rely on nobody writing into it.
func TestEndingTheJobsWaitsForTheTaskThatRuns(t *testing.T) {
	d := Desk{house: &house{}}
	begun, release := make(chan struct{}), make(chan struct{})
	second, finished := false, false
	j := d.jobs.start("A long one", []task{
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
	first := js.start("First", []task{{1, func() error { <-release; return nil }}})
	for range 2 * jobsKept {
		js.start("Quick", nil).Wait()
	}
	assert.Same(t, first, js.find(first.ID))
	assert.Len(t, js.all, jobsKept)
	close(release)
}
