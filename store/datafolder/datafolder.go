// Package datafolder opens a house's data folder: records in SQLite, files beside them, and
// a lock that keeps a second server away. It also copies, restores and checks one.
package datafolder

import (
	"errors"
	"fmt"
	"os"
	"path/filepath"

	"mivlet/store"
	"mivlet/store/folder"
	"mivlet/store/sqlite"
)

// Folder is an open data folder. It is safe for concurrent use.
type Folder struct {
	store.Store
	db   *sqlite.DB
	lock *folderLock
}

// DatabaseName is what the records are called in the data folder.
const DatabaseName = "mivlet.db"

// filesName is the folder of the files in the data folder.
const filesName = "files"

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
func (f *Folder) Ready(dir string) error {
	if _, err := f.Records.CountPeople(); err != nil {
		return err
	}
	trial, err := os.CreateTemp(dir, ".ready-")
	if err != nil {
		return err
	}
	_, err = trial.WriteString("ready")
	return errors.Join(err, trial.Close(), os.Remove(trial.Name()))
}

func open(dir string) (*Folder, *folder.Files, error) {
	files, err := folder.Open(filepath.Join(dir, filesName))
	if err != nil {
		return nil, nil, err
	}
	db, err := sqlite.Open(filepath.Join(dir, DatabaseName))
	if err != nil {
		return nil, nil, err
	}
	return &Folder{Store: store.Store{Records: db, Files: files}, db: db}, files, nil
}

// OpenForReading opens a data folder without changing anything in it; another program
// may have it open, too. Its records must be of the current version.
func OpenForReading(dir string) (*Folder, error) {
	if err := isHouse(dir); err != nil {
		return nil, err
	}
	db, err := sqlite.OpenForReading(filepath.Join(dir, DatabaseName))
	if err != nil {
		return nil, err
	}
	return &Folder{Store: store.Store{Records: db, Files: folder.OpenForReading(filepath.Join(dir, filesName))}, db: db}, nil
}

func isHouse(dir string) error {
	if _, err := os.Stat(filepath.Join(dir, DatabaseName)); err != nil {
		return fmt.Errorf("%s is no data folder of Mivlet: %w", dir, err)
	}
	return nil
}

// CopyRecords writes the records as they are at one moment into a file that is not there yet, while
// others may write.
func (f *Folder) CopyRecords(to string) error { return f.db.CopyInto(to) }

// Database is the folder's records as SQLite keeps them, for measuring.
func (f *Folder) Database() *sqlite.DB { return f.db }

// Close closes the records and gives the folder free.
func (f *Folder) Close() error {
	err := f.db.Close()
	if f.lock != nil {
		err = errors.Join(err, f.lock.release())
	}
	return err
}
