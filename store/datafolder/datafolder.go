// Package datafolder opens a house's data folder: records in SQLite, files beside them, and
// a lock that keeps a second server away. A note in the folder may say that records, files or
// both are kept elsewhere, see [Storage]. It also moves, copies, restores and checks a house.
package datafolder

import (
	"context"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"time"

	"mivlet/store"
	"mivlet/store/folder"
	"mivlet/store/postgres"
	"mivlet/store/relational"
	"mivlet/store/sqlite"
)

// Folder is an open data folder. It is safe for concurrent use.
type Folder struct {
	store.Store
	records *relational.Records
	local   *sqlite.DB                  // nil where the records are elsewhere
	ready   func(context.Context) error // whether files can be written
	lock    *folderLock
}

// DatabaseName is what the records are called in the data folder.
const DatabaseName = "mivlet.db"

// filesName is the folder of the files in the data folder.
const filesName = "files"

// scratchName is the folder in the data folder of what is on its way to files that are kept elsewhere.
const scratchName = "scratch"

// opening is how long another machine has to answer when a house is opened.
const opening = time.Minute

// Open opens or creates the data folder dir and brings its records to the
// current version. It fails with [ErrInUse] where another program has it open.
func Open(dir string) (*Folder, error) {
	if err := os.MkdirAll(dir, 0o700); err != nil {
		return nil, err
	}
	lock, err := lockFolder(dir)
	if err != nil {
		return nil, err
	}
	s, files, err := open(dir)
	if err != nil {
		return nil, errors.Join(err, lock.release())
	}
	s.lock = lock
	return s, files.DropBroken()
}

// OpenBeside opens a data folder that exists while another program may have it
// open, too: for a single act on the machine itself, such as a new password.
func OpenBeside(dir string) (*Folder, error) {
	if err := isHouse(dir); err != nil {
		return nil, err
	}
	s, _, err := open(dir)
	return s, err
}

// Ready reports whether records can be read and files can be written.
func (f *Folder) Ready(ctx context.Context) error {
	if _, err := f.Records.CountPeople(); err != nil {
		return err
	}
	return f.ready(ctx)
}

// writable reports whether files can be written into a folder.
func writable(dir string) error {
	trial, err := os.CreateTemp(dir, ".ready-")
	if err != nil {
		return err
	}
	_, err = trial.WriteString("ready")
	return errors.Join(err, trial.Close(), os.Remove(trial.Name()))
}

// droppable are files of which what broke off can be swept.
type droppable interface {
	store.Files
	DropBroken() error
}

func open(dir string) (*Folder, droppable, error) {
	at, err := ReadStorage(dir)
	if err != nil {
		return nil, nil, err
	}
	ctx, stop := context.WithTimeout(context.Background(), opening)
	defer stop()
	s := &Folder{ready: func(context.Context) error { return writable(dir) }}
	files, err := at.openFiles(ctx, dir, s)
	if err != nil {
		return nil, nil, err
	}
	if at.Records.Postgres != "" {
		db, err := postgres.Open(ctx, at.Records.address())
		if err != nil {
			return nil, nil, err
		}
		s.records, s.Fellows = db.Records, db.Fellows()
	} else {
		db, err := sqlite.Open(filepath.Join(dir, DatabaseName))
		if err != nil {
			return nil, nil, err
		}
		s.records, s.local = db.Records, db
	}
	s.Records, s.Files = s.records, files
	return s, files, nil
}

// OpenForReading opens a data folder without changing anything in it; another program
// may have it open, too. Its records must be of the current version.
func OpenForReading(dir string) (*Folder, error) {
	if err := isHouse(dir); err != nil {
		return nil, err
	}
	at, err := ReadStorage(dir)
	if err != nil {
		return nil, err
	}
	ctx, stop := context.WithTimeout(context.Background(), opening)
	defer stop()
	s := &Folder{ready: func(context.Context) error { return nil }}
	var files store.Files = folder.OpenForReading(filepath.Join(dir, filesName))
	if at.Files.S3 != "" {
		if files, err = at.openFiles(ctx, dir, s); err != nil {
			return nil, err
		}
	}
	if at.Records.Postgres != "" {
		db, err := postgres.OpenForReading(ctx, at.Records.address())
		if err != nil {
			return nil, err
		}
		s.records = db.Records
	} else {
		db, err := sqlite.OpenForReading(filepath.Join(dir, DatabaseName))
		if err != nil {
			return nil, err
		}
		s.records, s.local = db.Records, db
	}
	s.Store = store.Store{Records: s.records, Files: files}
	return s, nil
}

func isHouse(dir string) error {
	_, err := os.Stat(filepath.Join(dir, StorageName))
	if err != nil {
		_, err = os.Stat(filepath.Join(dir, DatabaseName))
	}
	if err != nil {
		return fmt.Errorf("%s is no data folder of Mivlet: %w", dir, err)
	}
	return nil
}

// CopyRecords writes the records as they are at one moment into a file that is not there yet, while
// others may write: a database of SQLite, whatever the house has.
func (f *Folder) CopyRecords(to string) error {
	if f.local != nil {
		return f.local.CopyInto(to)
	}
	db, err := sqlite.Open(to)
	if err != nil {
		return err
	}
	return errors.Join(f.records.CopyTo(db.Records, nil), db.Close())
}

// Database is the folder's records as the database keeps them, for measuring.
func (f *Folder) Database() *relational.Records { return f.records }

// Close closes the records and gives the folder free.
func (f *Folder) Close() error {
	err := f.records.Close()
	if f.lock != nil {
		err = errors.Join(err, f.lock.release())
	}
	return err
}
