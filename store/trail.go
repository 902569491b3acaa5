package store

import "time"

// Trace is one entry of the trail: who did what, when, in which section.
type Trace struct {
	ID       uint
	At       time.Time
	PersonID uint
	Person   string
	Section  string
	What     string
}

// TableName is the table the trail is kept in.
func (Trace) TableName() string { return "trail" }

// AddTrace keeps an entry of the trail.
func (s *Store) AddTrace(t Trace) error { return s.db.Create(&t).Error }

// TrailFilter narrows the trail; empty fields do not.
type TrailFilter struct {
	Person  string
	Section string
	Before  uint // only entries older than this one
	Most    int
}

// Trail returns entries, newest first.
func (s *Store) Trail(f TrailFilter) ([]Trace, error) {
	q := s.db.Order("id DESC")
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
