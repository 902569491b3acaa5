package access

import (
	"log/slog"
	"sync/atomic"

	"mivlet/core/rules"
	"mivlet/store"
)

// under are records whose house rules hold as they are given for all houses, wherever they are read.
type under struct {
	store.Records
	given *atomic.Pointer[rules.Given]
}

// Given are the rules that are the same in all houses.
func (h *House) Given() rules.Given { return *h.given.Load() }

// Give has other rules be the same in all houses, from now on. Whoever is at work is shown what follows.
func (h *House) Give(g rules.Given) error {
	h.given.Store(&g)
	r, number, err := h.Store.Rules()
	if err != nil {
		return err
	}
	h.rules.Store(h.Version(r, number))
	h.Rooms.NotifyAll()
	return nil
}

// Rules implements [store.Records]. A house that has no rules of its own yet begins with what is given.
func (u under) Rules() (rules.Rules, uint, error) {
	r, number, err := u.Records.Rules()
	if err != nil {
		return r, number, err
	}
	if number == 0 {
		r, err = u.given.Load().Begin()
		return r, number, err
	}
	held, err := u.given.Load().Over(r)
	if err != nil { // better the rules of the house than none
		slog.Error("the rules of a house hold as they are", "house", r.House, "error", err)
	}
	return held, number, nil
}

// Tx implements [store.Records].
func (u under) Tx(do func(store.Records) error) error {
	return u.Records.Tx(func(s store.Records) error { return do(under{s, u.given}) })
}

// View implements [store.Records].
func (u under) View(do func(store.Records) error) error {
	return u.Records.View(func(s store.Records) error { return do(under{s, u.given}) })
}
