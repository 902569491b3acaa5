package access

import (
	"encoding/json"
	"errors"
	"time"

	"mivlet/store"
)

// Passing is a kind of thing that is kept for minutes, such as that somebody has given their password and not yet a code. It
// is kept where sessions are: whichever program of the house somebody is led to next finds it there, and it goes by itself
// when it ends.
type Passing string

// token is what a thing is kept under. No session is: theirs have no line break.
func (p Passing) token(key string) string { return store.HashOf([]byte(string(p) + "\n" + key)) }

// Keep keeps something under a key until it ends.
func (p Passing) Keep(s store.Records, key string, what any, ends time.Time) error {
	data, err := json.Marshal(what)
	if err != nil {
		return err
	}
	return s.SaveSession(store.Session{Token: p.token(key), Data: data, Ends: ends})
}

// Kept reads what is kept under a key, and reports whether there is something still.
func (p Passing) Kept(s store.Records, key string, now time.Time, into any) (bool, error) {
	one, err := s.Session(p.token(key), now)
	if errors.Is(err, store.ErrNotFound) {
		return false, nil
	}
	if err != nil {
		return false, err
	}
	return true, json.Unmarshal(one.Data, into)
}

// Drop forgets what is kept under a key.
func (p Passing) Drop(s store.Records, key string) error { return s.DropSession(p.token(key)) }
