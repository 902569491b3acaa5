package publish

import (
	"sync"
)

// keyed is a lock for each of many things, by their numbers. The zero value works.
type keyed struct {
	mu   sync.Mutex
	held map[uint]*holder
}

type holder struct {
	sync.Mutex
	waiting int
}

// lock waits until nobody else holds the thing; what it returns gives it free.
func (k *keyed) lock(id uint) (unlock func()) {
	k.mu.Lock()
	if k.held == nil {
		k.held = map[uint]*holder{}
	}
	h := k.held[id]
	if h == nil {
		h = &holder{}
		k.held[id] = h
	}
	h.waiting++
	k.mu.Unlock()
	h.Lock()
	return func() {
		h.Unlock()
		k.mu.Lock()
		defer k.mu.Unlock()
		if h.waiting--; h.waiting == 0 {
			delete(k.held, id)
		}
	}
}
