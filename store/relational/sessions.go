package relational

import (
	"time"

	"gorm.io/gorm/clause"

	"mivlet/store"
)

// session is how a session is kept.
type session struct {
	Token  string `gorm:"primaryKey"`
	Data   []byte
	Expiry float64 // seconds since 1970
}

func seconds(t time.Time) float64 { return float64(t.UnixMicro()) / 1e6 }

func (s *Records) Session(token string, at time.Time) (store.Session, error) {
	var one session
	err := found(s.read.First(&one, "token = ? AND expiry > ?", token, seconds(at)).Error)
	return store.Session{Token: one.Token, Data: one.Data, Ends: time.UnixMicro(int64(one.Expiry * 1e6))}, err
}

func (s *Records) SaveSession(one store.Session) error {
	return s.write.Clauses(clause.OnConflict{UpdateAll: true}).Create(&session{one.Token, one.Data, seconds(one.Ends)}).Error
}

func (s *Records) DropSession(token string) error {
	return s.write.Where("token = ?", token).Delete(&session{}).Error
}

func (s *Records) DropSessionsEndedBy(at time.Time) error {
	return s.write.Where("expiry <= ?", seconds(at)).Delete(&session{}).Error
}
