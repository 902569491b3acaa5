// Package store says how Mivlet's records and files are kept: [Records] and [Files] are what
// any way of keeping them does, store/suite is how each is held to it. It knows how things
// are kept, not what they are for. Mivlet ships with records in SQLite (store/sqlite) and
// files in a local folder (store/folder); store/datafolder opens both together.
package store

import (
	"errors"
	"time"
)

// Store is all that a house keeps. It is safe for concurrent use: one writes at a time,
// several read beside it.
type Store struct {
	Records
	Files   Files
	Fellows Fellows // nil where no other program works on the house
}

var (
	// ErrNotFound means that there is no such record.
	ErrNotFound = errors.New("not found")
	// ErrStale means that a record was changed by somebody else in between.
	ErrStale = errors.New("it was changed in the meantime")
	// ErrAway means that where records or files are kept cannot be reached at the moment. Whether what was
	// being written was kept is not known; what was acknowledged before is.
	ErrAway = errors.New("what keeps the house cannot be reached")
	// ErrTaken means that another record has what only one may have: a name in a section,
	// an address, a login.
	ErrTaken = errors.New("another has it already")
)

// KeepingRecords are asked by those who look after a house as a whole.
type KeepingRecords interface {
	// Empty reports whether no picture and no page has been kept yet.
	Empty() (bool, error)
	// NamedFiles returns the hashes of all files that a record names.
	NamedFiles() (map[string]bool, error)
	// Check looks for records that are broken: documents that cannot be read, histories
	// with a hole, published files that cannot be traced to a picture, entries of the
	// trail that were changed or taken out. It returns what is wrong, and how many files
	// visitors get.
	Check() (faults []string, published int, err error)
}

// Swept tells what a sweep took away.
type Swept struct {
	Files int
	Bytes int64
}

// Sweep takes away every file that no record names and that was last kept before
// a moment: whoever keeps a file names it in a record soon after, and has until
// then. Files are marked first and taken away afterwards; one that is kept again
// in between stays.
func (s *Store) Sweep(before time.Time) (Swept, error) {
	var won Swept
	named, err := s.NamedFiles()
	if err != nil {
		return won, err
	}
	err = s.Files.List(func(f FileInfo) error {
		if named[f.Hash] || !f.KeptAt.Before(before) {
			return nil
		}
		n, err := s.Files.DeleteKeptBefore(f.Hash, before)
		if n > 0 {
			won.Files++
			won.Bytes += n
		}
		return err
	})
	return won, err
}

// RemoveUnnamed takes those of some files away that no record names any more, and
// returns them. Nobody may be keeping them again meanwhile.
func (s *Store) RemoveUnnamed(hashes []string) (gone []string, err error) {
	named, err := s.NamedFiles()
	if err != nil {
		return nil, err
	}
	for _, h := range hashes {
		if h == "" || named[h] || !s.Files.Has(h) {
			continue
		}
		if err := s.Files.Delete(h); err != nil {
			return gone, err
		}
		gone = append(gone, h)
	}
	return gone, nil
}
