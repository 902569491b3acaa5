package access

import (
	"container/list"
	"sync"
)

// Recent keeps the values that were used last, a number of them. The ones used
// longest ago make room. It is safe for concurrent use.
type Recent[V any] struct {
	mu    sync.Mutex
	most  int
	order *list.List // of *remembered[V], newest first
	byKey map[string]*list.Element
}

type remembered[V any] struct {
	key   string
	value V
}

// NewRecent remembers at most so many values: those that were asked for last.
func NewRecent[V any](most int) *Recent[V] {
	return &Recent[V]{most: most, order: list.New(), byKey: map[string]*list.Element{}}
}

// Get returns the value of a key, where it is remembered.
func (r *Recent[V]) Get(key string) (V, bool) {
	r.mu.Lock()
	defer r.mu.Unlock()
	e, ok := r.byKey[key]
	if !ok {
		var none V
		return none, false
	}
	r.order.MoveToFront(e)
	return e.Value.(*remembered[V]).value, true
}

// Put remembers a value.
func (r *Recent[V]) Put(key string, value V) {
	r.mu.Lock()
	defer r.mu.Unlock()
	if e, ok := r.byKey[key]; ok {
		e.Value.(*remembered[V]).value = value
		r.order.MoveToFront(e)
		return
	}
	r.add(key, value)
}

// Add remembers a value of a key that has none, and reports whether it had none.
func (r *Recent[V]) Add(key string, value V) bool {
	r.mu.Lock()
	defer r.mu.Unlock()
	if _, ok := r.byKey[key]; ok {
		return false
	}
	r.add(key, value)
	return true
}

func (r *Recent[V]) add(key string, value V) {
	r.byKey[key] = r.order.PushFront(&remembered[V]{key, value})
	if r.order.Len() > r.most {
		last := r.order.Remove(r.order.Back()).(*remembered[V])
		delete(r.byKey, last.key)
	}
}

// Forget takes a value out.
func (r *Recent[V]) Forget(key string) {
	r.mu.Lock()
	defer r.mu.Unlock()
	if e, ok := r.byKey[key]; ok {
		r.order.Remove(e)
		delete(r.byKey, key)
	}
}
