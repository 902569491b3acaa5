package access

import (
	"log/slog"

	"mivlet/core/rules"
	"mivlet/store"
)

// under are records whose house rules hold as they are given for all houses, wherever they are read.
type under struct {
	store.Records
	given rules.Given
}

// Rules implements [store.Records]. A house that has no rules of its own yet begins with what is given.
func (u under) Rules() (rules.Rules, uint, error) {
	r, number, err := u.Records.Rules()
	if err != nil {
		return r, number, err
	}
	if number == 0 {
		r, err = u.given.Begin()
		return r, number, err
	}
	held, err := u.given.Over(r)
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
