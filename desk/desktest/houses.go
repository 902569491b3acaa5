package desktest

import (
	"context"
	"io/fs"
	"maps"
	"slices"
	"sync"

	"mivlet/core/rules"
	"mivlet/desk/access"
	"mivlet/desk/district"
)

// Houses are houses of a district that lie nowhere.
type Houses struct {
	mu     sync.Mutex
	Known  map[string]district.Told
	Shared rules.Given
	Usual  access.Allotment // what those get that have nothing of their own
}

// All implements [district.Houses].
func (h *Houses) All(context.Context) ([]district.Told, error) {
	h.mu.Lock()
	defer h.mu.Unlock()
	var all []district.Told
	for _, host := range slices.Sorted(maps.Keys(h.Known)) {
		all = append(all, h.told(host))
	}
	return all, nil
}

func (h *Houses) told(host string) district.Told {
	t := h.Known[host]
	t.Host = host
	if !t.Own {
		t.Allotted = h.Usual
	}
	return t
}

// One implements [district.Houses].
func (h *Houses) One(_ context.Context, host string) (district.Told, error) {
	h.mu.Lock()
	defer h.mu.Unlock()
	if _, ok := h.Known[host]; !ok {
		return district.Told{}, fs.ErrNotExist
	}
	return h.told(host), nil
}

// Add implements [district.Houses].
func (h *Houses) Add(_ context.Context, host string) error {
	h.mu.Lock()
	defer h.mu.Unlock()
	if _, ok := h.Known[host]; ok {
		return fs.ErrExist
	}
	if host == "" {
		return district.ErrName
	}
	h.Known[host] = district.Told{Unopened: true}
	return nil
}

// Allot implements [district.Houses].
func (h *Houses) Allot(_ context.Context, host string, a *access.Allotment) error {
	h.mu.Lock()
	defer h.mu.Unlock()
	t, ok := h.Known[host]
	if !ok {
		return fs.ErrNotExist
	}
	if t.Own = a != nil; t.Own {
		t.Allotted = *a
	}
	h.Known[host] = t
	return nil
}

// Given implements [district.Houses].
func (h *Houses) Given() (rules.Given, error) {
	h.mu.Lock()
	defer h.mu.Unlock()
	return h.Shared, nil
}

// Give implements [district.Houses].
func (h *Houses) Give(_ context.Context, g rules.Given) error {
	h.mu.Lock()
	defer h.mu.Unlock()
	h.Shared = g
	return nil
}
