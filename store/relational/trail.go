package relational

import (
	"errors"
	"fmt"

	"gorm.io/gorm"

	"mivlet/store"
)

// trailHead is where the chain ends: how many entries it has, and the last link.
type trailHead struct {
	ID    uint
	N     int64
	Chain string
}

// TableName is the table it is kept in.
func (trailHead) TableName() string { return "trail_head" }

func (s *Records) AddTrace(t store.Trace) error {
	if !s.inTx {
		return s.tx(func(s *Records) error { return s.AddTrace(t) })
	}
	var head trailHead
	if err := s.read.First(&head, 1).Error; err != nil && !errors.Is(err, gorm.ErrRecordNotFound) {
		return err
	}
	t.Seal(head.Chain)
	if err := s.write.Create(&t).Error; err != nil {
		return err
	}
	return s.write.Save(&trailHead{1, head.N + 1, t.Chain}).Error
}

func (s *Records) Redact(ids []uint, instead string) error {
	if len(ids) == 0 {
		return nil
	}
	return s.write.Model(&store.Trace{}).Where("id IN ?", ids).UpdateColumns(map[string]any{"what": instead, "salt": "", "erased": true}).Error
}

func (s *Records) CheckTrail() (faults []string, err error) {
	rows, err := s.read.Model(&store.Trace{}).Order("id").Rows()
	if err != nil {
		return nil, err
	}
	defer rows.Close()
	chain, n := "", int64(0)
	for rows.Next() {
		var t store.Trace
		if err := s.read.ScanRows(rows, &t); err != nil {
			return nil, err
		}
		n++
		if !t.Erased && t.Says() != t.Digest {
			faults = append(faults, fmt.Sprintf("trail: entry %d was changed", t.ID))
		}
		if chain = store.Link(chain, t.Digest); chain != t.Chain {
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

func (s *Records) CountTrail() (int64, error) {
	var n int64
	return n, s.read.Model(&store.Trace{}).Count(&n).Error
}

func (s *Records) Trail(f store.TrailFilter) ([]store.Trace, error) {
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
	var all []store.Trace
	return all, q.Find(&all).Error
}

func (s *Records) TracesSaying(picture uint, words []string) ([]store.Trace, error) {
	q := s.read.Where("picture_id = ?", picture)
	for _, w := range words {
		q = q.Or("instr(what, ?) > 0", w)
	}
	var all []store.Trace
	return all, q.Find(&all).Error
}

func (s *Records) LastTrace(picture uint) (store.Trace, error) {
	var t store.Trace
	return t, found(s.read.Order("id DESC").First(&t, "picture_id = ?", picture).Error)
}
