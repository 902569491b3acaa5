package store

import (
	"crypto/rand"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"time"

	"gorm.io/gorm"
)

// Trace is one entry of the trail: who did what, when, in which section. Entries are
// chained: each carries a digest of what it says and one of the chain until there, so
// that one that was changed or taken out is noticed. The digest is salted and the salt
// goes when words are erased, so that they cannot be guessed from it.
type Trace struct {
	ID        uint
	At        time.Time
	PersonID  uint
	Person    string
	Section   string
	PictureID uint // what it is about; 0 where it is about no picture
	What      string
	Salt      string
	Digest    string
	Chain     string
	Erased    bool // its words were erased; the digest stays
}

// TableName is the table the trail is kept in.
func (Trace) TableName() string { return "trail" }

// digest stands for what an entry says.
func (t Trace) digest() string {
	said, err := json.Marshal([]any{t.At.UnixNano(), t.PersonID, t.Person, t.Section, t.PictureID, t.What})
	if err != nil {
		panic(err) // numbers and words always have a JSON form
	}
	sum := sha256.Sum256(append([]byte(t.Salt), said...))
	return hex.EncodeToString(sum[:])
}

// follow is the chain after an entry with a digest.
func follow(chain, digest string) string {
	sum := sha256.Sum256([]byte(chain + digest))
	return hex.EncodeToString(sum[:])
}

// trailHead is where the chain ends: how many entries it has, and the last link.
type trailHead struct {
	ID    uint
	N     int64
	Chain string
}

// TableName is the table it is kept in.
func (trailHead) TableName() string { return "trail_head" }

// AddTrace keeps an entry of the trail.
func (s *Store) AddTrace(t Trace) error {
	if !s.inTx {
		return s.Tx(func(s *Store) error { return s.AddTrace(t) })
	}
	var head trailHead
	if err := s.read.First(&head, 1).Error; err != nil && !errors.Is(err, gorm.ErrRecordNotFound) {
		return err
	}
	t.Salt = rand.Text()
	t.At = t.At.UTC()
	t.Digest = t.digest()
	t.Chain = follow(head.Chain, t.Digest)
	if err := s.write.Create(&t).Error; err != nil {
		return err
	}
	return s.write.Save(&trailHead{1, head.N + 1, t.Chain}).Error
}

// Redact takes the words out of some entries of the trail and puts others in their
// place. The chain stays whole.
func (s *Store) Redact(ids []uint, instead string) error {
	if len(ids) == 0 {
		return nil
	}
	return s.write.Model(&Trace{}).Where("id IN ?", ids).UpdateColumns(map[string]any{"what": instead, "salt": "", "erased": true}).Error
}

// CheckTrail follows the chain of the trail and returns what is wrong with it.
func (s *Store) CheckTrail() (faults []string, err error) {
	rows, err := s.read.Model(&Trace{}).Order("id").Rows()
	if err != nil {
		return nil, err
	}
	defer rows.Close()
	chain, n := "", int64(0)
	for rows.Next() {
		var t Trace
		if err := s.read.ScanRows(rows, &t); err != nil {
			return nil, err
		}
		n++
		t.At = t.At.UTC()
		if !t.Erased && t.digest() != t.Digest {
			faults = append(faults, fmt.Sprintf("trail: entry %d was changed", t.ID))
		}
		if chain = follow(chain, t.Digest); chain != t.Chain {
			faults = append(faults, fmt.Sprintf("trail: an entry before number %d is missing or was changed", t.ID))
			chain = t.Chain // told once
		}
	}
	if err := rows.Err(); err != nil {
		return nil, err
	}
	var head trailHead
	if err := s.read.First(&head, 1).Error; err != nil && !errors.Is(err, gorm.ErrRecordNotFound) {
		return nil, err
	}
	if head.N != n || head.Chain != chain {
		faults = append(faults, fmt.Sprintf("trail: it has %d entries and should have %d", n, head.N))
	}
	return faults, nil
}

// TrailFilter narrows the trail; empty fields do not.
type TrailFilter struct {
	Person  string
	Section string
	Before  uint // only entries older than this one
	Most    int
}

// Trail returns entries, newest first.
func (s *Store) Trail(f TrailFilter) ([]Trace, error) {
	q := s.read.Order("id DESC")
	if f.Person != "" {
		q = q.Where("person = ?", f.Person)
	}
	if f.Section != "" {
		q = q.Where("section = ?", f.Section)
	}
	if f.Before > 0 {
		q = q.Where("id < ?", f.Before)
	}
	if f.Most > 0 {
		q = q.Limit(f.Most)
	}
	var all []Trace
	return all, q.Find(&all).Error
}

// TracesSaying returns the entries about a picture, and all in which one of some words
// stands.
func (s *Store) TracesSaying(picture uint, words []string) ([]Trace, error) {
	q := s.read.Where("picture_id = ?", picture)
	for _, w := range words {
		q = q.Or("instr(what, ?) > 0", w)
	}
	var all []Trace
	return all, q.Find(&all).Error
}

// LastTrace returns what was done last with a picture.
func (s *Store) LastTrace(picture uint) (Trace, error) {
	var t Trace
	return t, found(s.read.Order("id DESC").First(&t, "picture_id = ?", picture).Error)
}
