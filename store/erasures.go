package store

import "time"

// Erasure is a picture that was erased in the house and has not been in its backups yet. It says of the
// picture only what finds it there.
type Erasure struct {
	ID       uint
	Picture  uint      // its number
	CameAt   time.Time // when it was brought in: another picture with its number is another picture
	Variants bool      // the variants of its original go, too
	Names    bool      // its names go from the trail, too
	Why      string
	ErasedAt time.Time
}

// TableName is the table they are kept in.
func (Erasure) TableName() string { return "erasures" }
