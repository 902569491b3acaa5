package derive

import (
	"context"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// queuedIn waits until so many wait.
func queuedIn(t *testing.T, b *Budget, n int) {
	t.Helper()
	require.Eventually(t, func() bool { b.mu.Lock(); defer b.mu.Unlock(); return len(b.queued) == n }, 10*time.Second, time.Millisecond)
}

// The batch of a thousand of one house does not delay the single picture of another: what has begun ends, then it
// is the other's turn.
func TestAnotherHouseComesNext(t *testing.T) {
	t.Parallel()
	const batch = 1000
	b := NewBudget(2) // two at a time
	var mu sync.Mutex
	var order []string
	turn := make(chan struct{})
	var all sync.WaitGroup
	work := func(house string) {
		all.Go(func() {
			done, err := share{b, house}.take(t.Context(), 1)
			if !assert.NoError(t, err) {
				return
			}
			mu.Lock()
			order = append(order, house)
			mu.Unlock()
			<-turn
			done()
		})
	}
	for range batch {
		work("north")
	}
	queuedIn(t, b, batch-2)
	for range 300 { // it has done much already
		turn <- struct{}{}
	}
	queuedIn(t, b, batch-302)
	work("south")
	queuedIn(t, b, batch-301)
	close(turn)
	all.Wait()
	at := -1
	for i, house := range order {
		if house == "south" {
			at = i
		}
	}
	assert.LessOrEqual(t, at, 303, "two were at work, and one may have been let in at that moment")
	assert.Zero(t, b.Used())
}

// Two houses that both have much to do get the same, whatever the size of their pictures; within a house what came first
// goes first.
func TestHousesGetTheSame(t *testing.T) {
	t.Parallel()
	b := NewBudget(100)
	hold, err := share{b, "first"}.take(t.Context(), 100)
	require.NoError(t, err)
	var mu sync.Mutex
	bytes := map[string]int64{}
	var order []int64
	var all sync.WaitGroup
	n := 0
	work := func(house string, cost int64, i int64) {
		all.Go(func() {
			done, err := share{b, house}.take(t.Context(), cost)
			if !assert.NoError(t, err) {
				return
			}
			mu.Lock()
			if len(order) < 60 {
				bytes[house] += cost
			}
			if order = append(order, i); house == "large" {
				order[len(order)-1] = -i
			}
			mu.Unlock()
			done()
		})
		n++
		queuedIn(t, b, n)
	}
	for i := range int64(20) {
		work("large", 90, i+1)
	}
	for i := range int64(180) {
		work("small", 10, i+1)
	}
	hold()
	all.Wait()
	assert.InDelta(t, bytes["large"], bytes["small"], 180, "after some time both have had as much")
	last := map[bool]int64{}
	for _, i := range order {
		large := i < 0
		now := max(i, -i)
		if large { // only one at a time fits
			assert.Greater(t, now, last[large], "in their order")
		}
		last[large] = now
	}
}

// Who goes away while waiting leaves nothing behind, also in the moment in which it is let in.
func TestWhoGoesAwayBesideOthers(t *testing.T) {
	t.Parallel()
	b := NewBudget(1)
	for range 200 {
		hold, err := share{b, "a"}.take(t.Context(), 1)
		require.NoError(t, err)
		ctx, leave := context.WithCancel(t.Context())
		left := make(chan error)
		go func() {
			done, err := share{b, "b"}.take(ctx, 1)
			if err == nil {
				done()
			}
			left <- err
		}()
		queuedIn(t, b, 1)
		go leave()
		hold()
		<-left
	}
	b.mu.Lock()
	defer b.mu.Unlock()
	assert.EqualValues(t, 1, b.free)
	assert.Empty(t, b.queued)
	assert.Empty(t, b.begun, "and nobody is remembered")
}
