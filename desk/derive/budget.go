package derive

import (
	"context"
	"slices"
	"sync"
	"sync/atomic"
)

// Budget bounds the memory of everything that is decoded at once, whoever wants it: arrivals, cuts, tiles and
// stages take their share before a pixel is allocated, and give it back when they have done with the pixels.
// Who finds no room waits, as long as somebody waits for the answer. Several houses may share one: then the house
// that has had least comes first, so that the batch of one does not delay the picture of another. (“Start-time
// Fair Queuing”, SIGCOMM 1996. Each request is stamped with the work that its house
// has begun until then; who comes after a pause begins where the others are.)
type Budget struct {
	most int64 // bytes
	used atomic.Int64

	mu     sync.Mutex
	free   int64
	now    int64            // the stamp of what was let in last
	begun  map[string]int64 // the stamp that the next request of a house gets at least
	queued []*waiting       // by their stamps, then in the order in which they came
}

// waiting is who waits for room.
type waiting struct {
	stamp, cost int64
	in          chan struct{} // closed when it is let in
}

// usualDecoding is the budget where nothing else is said, in bytes.
const usualDecoding = 1 << 30

// NewBudget is a budget of so many bytes; the usual one where that is not positive.
func NewBudget(most int64) *Budget {
	if most <= 0 {
		most = usualDecoding
	}
	return &Budget{most: most, free: most, begun: map[string]int64{}}
}

// Used is how many bytes are taken at this moment.
func (b *Budget) Used() int64 { return b.used.Load() }

// acquire waits until there is room for a house, in turn.
func (b *Budget) acquire(ctx context.Context, house string, cost int64) error {
	b.mu.Lock()
	w := &waiting{stamp: max(b.now, b.begun[house]), cost: cost, in: make(chan struct{})}
	b.begun[house] = w.stamp + cost
	at, _ := slices.BinarySearchFunc(b.queued, w.stamp+1, func(o *waiting, stamp int64) int { return int(min(max(o.stamp-stamp, -1), 1)) })
	b.queued = slices.Insert(b.queued, at, w)
	b.letIn()
	b.mu.Unlock()
	select {
	case <-w.in:
		return nil
	case <-ctx.Done():
	}
	b.mu.Lock()
	defer b.mu.Unlock()
	if i := slices.Index(b.queued, w); i >= 0 {
		b.queued = slices.Delete(b.queued, i, i+1)
	} else { // it was let in at this moment
		b.free += cost
	}
	b.letIn()
	return ctx.Err()
}

// release gives room back.
func (b *Budget) release(cost int64) {
	b.mu.Lock()
	defer b.mu.Unlock()
	b.free += cost
	b.letIn()
}

// letIn lets those in who are next, as long as there is room for them. Who comes first and needs more is not passed.
func (b *Budget) letIn() {
	for len(b.queued) > 0 && b.queued[0].cost <= b.free {
		first := b.queued[0]
		b.queued = slices.Delete(b.queued, 0, 1)
		b.free -= first.cost
		b.now = max(b.now, first.stamp)
		close(first.in)
	}
	if len(b.queued) == 0 && b.free == b.most { // nobody is owed anything
		clear(b.begun)
		b.now = 0
	}
}
