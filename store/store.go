// Package store keeps Mivlet's records in SQLite and its files beside it, named
// by content hash. It knows how things are kept, not what they are for.
package store

import (
	"errors"
	"fmt"
	"os"
	"path/filepath"

	"github.com/glebarez/sqlite"
	"gorm.io/gorm"
	"gorm.io/gorm/logger"
)

// Store is an open data folder.
type Store struct {
	db    *gorm.DB
	Blobs *Blobs
}

// ErrNotFound means that there is no such record.
var ErrNotFound = errors.New("not found")

// pragmas: a write-ahead log so that readers never wait for a writer, foreign
// keys, and patience with another writer instead of an error.
const pragmas = "?_pragma=journal_mode(WAL)&_pragma=synchronous(NORMAL)&_pragma=foreign_keys(1)&_pragma=busy_timeout(10000)&_txlock=immediate"

// Open opens or creates the data folder dir and brings its records to the
// current version.
func Open(dir string) (*Store, error) {
	if err := os.MkdirAll(dir, 0o750); err != nil {
		return nil, err
	}
	blobs, err := openBlobs(filepath.Join(dir, "files"))
	if err != nil {
		return nil, err
	}
	db, err := gorm.Open(sqlite.Open(filepath.Join(dir, "mivlet.db")+pragmas), &gorm.Config{
		Logger: logger.Discard, TranslateError: true, SkipDefaultTransaction: true,
	})
	if err != nil {
		return nil, fmt.Errorf("the records in %s cannot be opened: %w", dir, err)
	}
	if err := migrate(db); err != nil {
		return nil, fmt.Errorf("the records in %s cannot be brought up to date: %w", dir, err)
	}
	return &Store{db: db, Blobs: blobs}, nil
}

// Close closes the records.
func (s *Store) Close() error {
	db, err := s.db.DB()
	if err != nil {
		return err
	}
	return db.Close()
}

// Tx runs do in one transaction: all of its changes are kept, or none.
func (s *Store) Tx(do func(*Store) error) error {
	return s.db.Transaction(func(tx *gorm.DB) error {
		return do(&Store{db: tx, Blobs: s.Blobs})
	})
}

// found turns the database's word for nothing into ours.
func found(err error) error {
	if errors.Is(err, gorm.ErrRecordNotFound) {
		return ErrNotFound
	}
	return err
}

// Empty reports whether nothing has been kept yet.
func (s *Store) Empty() (bool, error) {
	for _, model := range []any{&Picture{}, &Page{}} {
		var n int64
		if err := s.db.Model(model).Limit(1).Count(&n).Error; err != nil || n > 0 {
			return false, err
		}
	}
	return true, nil
}
