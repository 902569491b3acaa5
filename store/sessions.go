package store

import (
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"sync"
	"time"

	"gorm.io/gorm"
	"gorm.io/gorm/clause"
)

// Sessions keeps sessions in the records, so that they outlast a restart. It is
// the store that github.com/alexedwards/scs asks for. A token is kept as its
// SHA-256: who reads the records cannot sign in with them.
type Sessions struct {
	store *Store
	mu    sync.Mutex
	seen  map[string]session // as they are kept, by the hash of the token
}

// Sessions returns where sessions are kept.
func (s *Store) Sessions() *Sessions { return &Sessions{store: s, seen: map[string]session{}} }

type session struct {
	Token  string `gorm:"primaryKey"` // hex SHA-256 of it
	Data   []byte
	Expiry float64 // seconds since 1970
}

func seconds(t time.Time) float64 { return float64(t.UnixMicro()) / 1e6 }

func tokenHash(token string) string {
	sum := sha256.Sum256([]byte(token))
	return hex.EncodeToString(sum[:])
}

// Find returns the data of a session that has not ended.
func (s *Sessions) Find(token string) ([]byte, bool, error) {
	var found session
	err := s.store.read.First(&found, "token = ? AND expiry > ?", tokenHash(token), seconds(time.Now())).Error
	if errors.Is(err, gorm.ErrRecordNotFound) {
		return nil, false, nil
	}
	if err == nil {
		s.remember(found)
	}
	return found.Data, err == nil, err
}

// mostSeen bounds what is remembered of sessions.
const mostSeen = 4096

func (s *Sessions) remember(one session) {
	s.mu.Lock()
	defer s.mu.Unlock()
	if len(s.seen) >= mostSeen {
		clear(s.seen)
	}
	s.seen[one.Token] = one
}

// later is how much longer a session must last to be written again, in seconds: every
// request asks for it to last longer, and each write would wait for the disk.
const later = 15 * 60

// Commit keeps a session until expiry.
func (s *Sessions) Commit(token string, data []byte, expiry time.Time) error {
	one := session{tokenHash(token), data, seconds(expiry)}
	s.mu.Lock()
	kept, known := s.seen[one.Token]
	s.mu.Unlock()
	if known && string(kept.Data) == string(data) && one.Expiry-kept.Expiry < later && one.Expiry >= kept.Expiry {
		return nil
	}
	if err := s.store.write.Clauses(clause.OnConflict{UpdateAll: true}).Create(&one).Error; err != nil {
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
	return s.store.write.Where("token = ?", tokenHash(token)).Delete(&session{}).Error
}

// Sweep forgets the sessions that have ended.
func (s *Sessions) Sweep() error {
	return s.store.write.Where("expiry <= ?", seconds(time.Now())).Delete(&session{}).Error
}
