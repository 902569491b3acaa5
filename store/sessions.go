package store

import (
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"sync"
	"time"
)

// Session is a session as it is kept.
type Session struct {
	Token string // hex SHA-256 of it
	Data  []byte
	Ends  time.Time
}

// SessionRecords keep who is signed in.
type SessionRecords interface {
	// Session returns a session that has not ended at a moment.
	Session(token string, at time.Time) (Session, error)
	// SaveSession keeps a session, in the place of one with the same token.
	SaveSession(s Session) error
	// DropSession forgets a session. One that is not there is no error.
	DropSession(token string) error
	// DropSessionsEndedBy forgets the sessions that have ended at a moment.
	DropSessionsEndedBy(at time.Time) error
}

// Sessions keeps sessions in the records, so that they outlast a restart. It is
// the store that github.com/alexedwards/scs asks for. A token is kept as its
// SHA-256: who reads the records cannot sign in with them.
type Sessions struct {
	records SessionRecords
	mu      sync.Mutex
	seen    map[string]Session // as they are kept, by the hash of the token
}

// Sessions returns where sessions are kept.
func (s *Store) Sessions() *Sessions {
	return &Sessions{records: s.Records, seen: map[string]Session{}}
}

func tokenHash(token string) string {
	sum := sha256.Sum256([]byte(token))
	return hex.EncodeToString(sum[:])
}

// Find returns the data of a session that has not ended.
func (s *Sessions) Find(token string) ([]byte, bool, error) {
	found, err := s.records.Session(tokenHash(token), time.Now())
	if errors.Is(err, ErrNotFound) {
		return nil, false, nil
	}
	if err == nil {
		s.remember(found)
	}
	return found.Data, err == nil, err
}

// mostSeen bounds what is remembered of sessions.
const mostSeen = 4096

func (s *Sessions) remember(one Session) {
	s.mu.Lock()
	defer s.mu.Unlock()
	if len(s.seen) >= mostSeen {
		clear(s.seen)
	}
	s.seen[one.Token] = one
}

// later is how much longer a session must last to be written again: every request asks
// for it to last longer, and each write would wait for the disk.
const later = 15 * time.Minute

// Commit keeps a session until expiry.
func (s *Sessions) Commit(token string, data []byte, expiry time.Time) error {
	one := Session{tokenHash(token), data, expiry}
	s.mu.Lock()
	kept, known := s.seen[one.Token]
	s.mu.Unlock()
	if known && string(kept.Data) == string(data) && one.Ends.Sub(kept.Ends) < later && !one.Ends.Before(kept.Ends) {
		return nil
	}
	if err := s.records.SaveSession(one); err != nil {
		return err
	}
	s.remember(one)
	return nil
}

// Delete ends a session.
func (s *Sessions) Delete(token string) error {
	s.mu.Lock()
	delete(s.seen, tokenHash(token))
	s.mu.Unlock()
	return s.records.DropSession(tokenHash(token))
}

// Sweep forgets the sessions that have ended.
func (s *Sessions) Sweep() error { return s.records.DropSessionsEndedBy(time.Now()) }
