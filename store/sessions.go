package store

import (
	"errors"
	"time"

	"gorm.io/gorm"
	"gorm.io/gorm/clause"
)

// Sessions keeps sessions in the records, so that they outlast a restart. It is
// the store that github.com/alexedwards/scs asks for.
type Sessions struct{ db *gorm.DB }

// Sessions returns where sessions are kept.
func (s *Store) Sessions() *Sessions { return &Sessions{s.db} }

type session struct {
	Token  string `gorm:"primaryKey"`
	Data   []byte
	Expiry float64 // seconds since 1970
}

func seconds(t time.Time) float64 { return float64(t.UnixMicro()) / 1e6 }

// Find returns the data of a session that has not ended.
func (s *Sessions) Find(token string) ([]byte, bool, error) {
	var found session
	err := s.db.First(&found, "token = ? AND expiry > ?", token, seconds(time.Now())).Error
	if errors.Is(err, gorm.ErrRecordNotFound) {
		return nil, false, nil
	}
	return found.Data, err == nil, err
}

// Commit keeps a session until expiry.
func (s *Sessions) Commit(token string, data []byte, expiry time.Time) error {
	return s.db.Clauses(clause.OnConflict{UpdateAll: true}).Create(&session{token, data, seconds(expiry)}).Error
}

// Delete ends a session.
func (s *Sessions) Delete(token string) error {
	return s.db.Where("token = ?", token).Delete(&session{}).Error
}

// Sweep forgets the sessions that have ended.
func (s *Sessions) Sweep() error {
	return s.db.Where("expiry <= ?", seconds(time.Now())).Delete(&session{}).Error
}
