// Package store keeps Mivlet's records in SQLite and its files beside it, named
// by content hash. It knows how things are kept, not what they are for.
package store

import (
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"runtime"

	"gorm.io/gorm"
)

// Store is an open data folder. It is safe for concurrent use: one writes at a
// time, several read beside it.
type Store struct {
	write   *gorm.DB // over one connection: whoever writes waits for the one before
	read    *gorm.DB // over a few connections, each of which sees one moment
	watched *watched
	lock    *folderLock
	inTx    bool
	Blobs   *Blobs
}

// ErrNotFound means that there is no such record.
var ErrNotFound = errors.New("not found")

// DatabaseName is what the records are called in the data folder.
const DatabaseName = "mivlet.db"

// filesName is the folder of the files in the data folder.
const filesName = "files"

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

// Open opens or creates the data folder dir and brings its records to the
// current version. It fails with [ErrInUse] where another program has it open.
func Open(dir string) (*Store, error) {
	if err := os.MkdirAll(dir, 0o700); err != nil {
		return nil, err
	}
	lock, err := lockFolder(dir)
	if err != nil {
		return nil, err
	}
	s, err := open(dir)
	if err != nil {
		return nil, errors.Join(err, lock.release())
	}
	s.lock = lock
	return s, s.Blobs.dropBroken()
}

// OpenBeside opens a data folder that exists while another program may have it
// open, too: for a single act on the machine itself, such as a new password.
func OpenBeside(dir string) (*Store, error) {
	if _, err := os.Stat(filepath.Join(dir, DatabaseName)); err != nil {
		return nil, fmt.Errorf("%s is no data folder of Mivlet: %w", dir, err)
	}
	return open(dir)
}

func open(dir string) (*Store, error) {
	file := filepath.Join(dir, DatabaseName)
	if err := private(file); err != nil {
		return nil, err
	}
	blobs, err := openBlobs(filepath.Join(dir, filesName))
	if err != nil {
		return nil, err
	}
	s := &Store{watched: &watched{}, Blobs: blobs}
	if s.write, err = connect(file+writing, 1, &watch{s.watched, true}); err != nil {
		return nil, fmt.Errorf("the records in %s cannot be opened: %w", dir, err)
	}
	if err := migrate(s.write); err != nil {
		return nil, errors.Join(fmt.Errorf("the records in %s cannot be brought up to date: %w", dir, err), s.Close())
	}
	if s.read, err = connect(file+reading, readers(), &watch{s.watched, false}); err != nil {
		return nil, errors.Join(err, s.Close())
	}
	return s, nil
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
func connect(dsn string, most int, see *watch) (*gorm.DB, error) {
	db, err := gorm.Open(dialectOf(dsn), &gorm.Config{Logger: see, TranslateError: true, SkipDefaultTransaction: true})
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

// Close closes the records and gives the folder free.
func (s *Store) Close() error {
	var err error
	for _, db := range []*gorm.DB{s.read, s.write} {
		if db == nil {
			continue
		}
		pool, bad := db.DB()
		if bad == nil {
			bad = pool.Close()
		}
		err = errors.Join(err, bad)
	}
	if s.lock != nil {
		err = errors.Join(err, s.lock.release())
	}
	return err
}

// Tx runs do in one transaction: all of its changes are kept, or none. Nobody
// else writes meanwhile, so that what do reads stays true until it is kept. do
// must use the store that it is given: another one would wait for it for ever.
func (s *Store) Tx(do func(*Store) error) error {
	return s.write.Transaction(func(tx *gorm.DB) error { return do(s.over(tx)) })
}

// View lets do read the records as they were at one moment.
func (s *Store) View(do func(*Store) error) error {
	return s.read.Transaction(func(tx *gorm.DB) error { return do(s.over(tx)) })
}

// over is the same store inside a transaction.
func (s *Store) over(tx *gorm.DB) *Store {
	return &Store{write: tx, read: tx, watched: s.watched, inTx: true, Blobs: s.Blobs}
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
		if err := s.read.Model(model).Limit(1).Count(&n).Error; err != nil || n > 0 {
			return false, err
		}
	}
	return true, nil
}
