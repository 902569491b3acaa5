// Package sqlite keeps records in SQLite, through GORM and a driver in pure Go.
package sqlite

import (
	"errors"
	"fmt"
	"os"
	"runtime"

	"github.com/go-gormigrate/gormigrate/v2"
	"gorm.io/gorm"

	"mivlet/store"
	"mivlet/store/relational"
)

// DB is an open database. It implements [store.Records].
type DB struct {
	*relational.Records
	write *gorm.DB // over one connection: whoever writes waits for the one before; nil where nothing is written
}

var _ store.Records = (*DB)(nil)

// What every connection is told: a write-ahead log, so that readers never wait
// for a writer; every transaction that was acknowledged is on the disk
// (synchronous=FULL); foreign keys; what is deleted is overwritten
// (secure_delete); and patience with another program instead of an error.
const (
	pragmas  = "?_pragma=busy_timeout(10000)&_pragma=journal_mode(WAL)&_pragma=synchronous(FULL)&_pragma=foreign_keys(1)&_pragma=secure_delete(1)"
	writing  = pragmas + "&_txlock=immediate"
	reading  = pragmas + "&_pragma=query_only(1)"
	readOnly = "?_pragma=busy_timeout(10000)&_pragma=query_only(1)"
)

// readers is how many connections read at once.
func readers() int { return max(4, runtime.GOMAXPROCS(0)) }

// Open opens or creates a database file, readable by its owner only, and brings its
// records to the current version.
func Open(file string) (*DB, error) {
	if err := private(file); err != nil {
		return nil, err
	}
	write, err := connect(file+writing, 1)
	if err != nil {
		return nil, fmt.Errorf("the records in %s cannot be opened: %w", file, err)
	}
	open := relational.New(write, nil, engine{})
	if err := migrate(write); errors.Is(err, gormigrate.ErrUnknownPastMigration) {
		return nil, errors.Join(fmt.Errorf("the records in %s were written by a newer Mivlet: use that one", file), open.Close())
	} else if err != nil {
		return nil, errors.Join(fmt.Errorf("the records in %s cannot be brought up to date: %w", file, err), open.Close())
	}
	read, err := connect(file+reading, readers())
	if err != nil {
		return nil, errors.Join(err, open.Close())
	}
	return &DB{relational.New(write, read, engine{}), write}, nil
}

// OpenForReading opens a database file without changing anything in it; another program
// may have it open, too. Its records must be of the current version.
func OpenForReading(file string) (*DB, error) {
	read, err := connect(file+readOnly, 1)
	if err != nil {
		return nil, fmt.Errorf("the records in %s cannot be opened: %w", file, err)
	}
	db := &DB{relational.New(nil, read, engine{}), nil}
	newest := migrations[len(migrations)-1].ID
	var n int64
	if err := read.Raw("SELECT COUNT(*) FROM migrations WHERE id = ?", newest).Scan(&n).Error; err != nil || n == 0 {
		_ = db.Close()
		return nil, fmt.Errorf("the records in %s are of another version of Mivlet: start this version on them once", file)
	}
	return db, nil
}

// private makes the records readable by their owner only. SQLite gives its log
// and its index the rights that the records have.
func private(file string) error {
	f, err := os.OpenFile(file, os.O_RDWR|os.O_CREATE, 0o600)
	if err != nil {
		return err
	}
	if err := f.Close(); err != nil {
		return err
	}
	for _, name := range []string{file, file + "-wal", file + "-shm"} {
		if err := os.Chmod(name, 0o600); err != nil && !errors.Is(err, os.ErrNotExist) {
			return err
		}
	}
	return nil
}

// connect opens a pool of at most so many connections, which stay open.
func connect(dsn string, most int) (*gorm.DB, error) {
	db, err := gorm.Open(dialectOf(dsn), &gorm.Config{TranslateError: true, SkipDefaultTransaction: true})
	if err != nil {
		return nil, err
	}
	pool, err := db.DB()
	if err != nil {
		return nil, err
	}
	pool.SetMaxOpenConns(most)
	pool.SetMaxIdleConns(most)
	return db, nil
}

// CopyInto writes the records as they are at this moment into a database file that is not
// there yet, by SQLite's own way (SQLite, "VACUUM", 3: VACUUM INTO).
func (db *DB) CopyInto(file string) error {
	if err := db.write.Exec("VACUUM INTO ?", file).Error; err != nil {
		return fmt.Errorf("the records cannot be copied: %w", err)
	}
	return os.Chmod(file, 0o600)
}
