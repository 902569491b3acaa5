package desk

import (
	"container/list"
	"sync"
)

// recent keeps the values that were used last, a number of them. The ones used
// longest ago make room. It is safe for concurrent use.
type recent[V any] struct {
	mu    sync.Mutex
	most  int
	order *list.List // of *remembered[V], newest first
	byKey map[string]*list.Element
}

type remembered[V any] struct {
	key   string
	value V
}

func newRecent[V any](most int) *recent[V] {
	return &recent[V]{most: most, order: list.New(), byKey: map[string]*list.Element{}}
}

func (r *recent[V]) get(key string) (V, bool) {
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

func (r *recent[V]) put(key string, value V) {
	r.mu.Lock()
	defer r.mu.Unlock()
	if e, ok := r.byKey[key]; ok {
		e.Value.(*remembered[V]).value = value
		r.order.MoveToFront(e)
		return
	}
	r.byKey[key] = r.order.PushFront(&remembered[V]{key, value})
	if r.order.Len() > r.most {
		last := r.order.Remove(r.order.Back()).(*remembered[V])
		delete(r.byKey, last.key)
	}
}

// forget takes a value out.
func (r *recent[V]) forget(key string) {
	r.mu.Lock()
	defer r.mu.Unlock()
	if e, ok := r.byKey[key]; ok {
		r.order.Remove(e)
		delete(r.byKey, key)
	}
}
