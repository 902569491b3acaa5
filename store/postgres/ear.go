package postgres

import (
	"context"
	"slices"
)

// An ear is somebody who hears what others tell in a house.
type ear struct {
	house string
	hears bool // the connection listens for the house
	left  []news
	more  chan struct{} // that there are some
	hub   *hub
}

// news is what another program told, or that something may have been missed.
type news struct {
	missed     bool
	from, text string
}

// mostNews is how many wait at most to be heard. Beyond that they are missed.
const mostNews = 10_000

// hearing adds an ear.
func hearing(at Address) *ear {
	e := &ear{house: at.House, more: make(chan struct{}, 1)}
	use(at.URL, func(h *hub) {
		e.hub = h
		h.ears = append(h.ears, e)
	})
	return e
}

// deaf takes an ear away.
func deaf(at Address, e *ear) {
	use(at.URL, func(h *hub) { h.ears = slices.DeleteFunc(h.ears, func(o *ear) bool { return o == e }) })
}

// add adds news, under the hub's lock.
func (e *ear) add(n news) {
	if len(e.left) == mostNews {
		e.left, n = nil, news{missed: true}
	}
	e.left = append(e.left, n)
	select {
	case e.more <- struct{}{}:
	default:
	}
}

// next returns what is new, as soon as something is; nothing after ctx has ended.
func (e *ear) next(ctx context.Context) []news {
	for {
		e.hub.mu.Lock()
		all := e.left
		e.left = nil
		e.hub.mu.Unlock()
		if len(all) > 0 || ctx.Err() != nil {
			return all
		}
		select {
		case <-ctx.Done():
		case <-e.more:
		}
	}
}
