package datafolder

import (
	"errors"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"time"

	"mivlet/store"
	"mivlet/store/folder"
)

// Copied tells what a backup or a restoring has copied.
type Copied struct {
	Files int
	Bytes int64
}

// Backup writes a whole copy of a data folder into a folder that is not there yet or is
// empty, while another program may work on it: first the records, by SQLite's own way,
// as they are at one moment, then the files that those name. Files are read and must
// have the content that they are named by. The copy appears under its name when it is
// whole. person and now stand in the trail of the folder.
func Backup(dir, to, person string, now time.Time) (Copied, error) {
	from, err := OpenBeside(dir)
	if err != nil {
		return Copied{}, err
	}
	defer from.Close()
	copied, err := IntoFresh(to, func(part string) (Copied, error) {
		var copied Copied
		err := AgainWhereErased(func() (err error) {
			copied, err = from.snapshotInto(part)
			return err
		})
		return copied, err
	})
	if err != nil {
		return copied, err
	}
	return copied, from.AddTrace(store.Trace{At: now, Person: person, What: fmt.Sprintf("%s: %d files", store.BackupText, copied.Files)})
}

// AgainWhereErased has records copied, and then the files that they name. Where something was erased
// between the two, both are done again, a few times.
func AgainWhereErased(do func() error) (err error) {
	for range 5 {
		if err = do(); !errors.Is(err, store.ErrNoFile) {
			break
		}
	}
	return err
}

// snapshotInto copies the records as they are now, and the files that they name.
func (s *Folder) snapshotInto(part string) (Copied, error) {
	records := filepath.Join(part, DatabaseName)
	if err := os.Remove(records); err != nil && !errors.Is(err, os.ErrNotExist) {
		return Copied{}, err
	}
	if err := s.CopyRecords(records); err != nil {
		return Copied{}, err
	}
	return copyNamed(s.Files, part)
}

// Restore copies a backup into a folder that is not there yet or is empty. A backup that
// is not whole is refused.
func Restore(from, to string) (Copied, error) {
	report, err := Verify(from, time.Hour)
	if err != nil {
		return Copied{}, err
	}
	if len(report.Faults) > 0 {
		return Copied{}, fmt.Errorf("the backup is not whole: %s (and %d more)", report.Faults[0], len(report.Faults)-1)
	}
	return IntoFresh(to, func(part string) (Copied, error) {
		if err := copyRecords(filepath.Join(from, DatabaseName), filepath.Join(part, DatabaseName)); err != nil {
			return Copied{}, err
		}
		return copyNamed(folder.OpenForReading(filepath.Join(from, filesName)), part)
	})
}

// copyNamed copies the files that the records in a folder name into it.
func copyNamed(from store.Files, to string) (Copied, error) {
	var copied Copied
	s, err := OpenForReading(to)
	if err != nil {
		return copied, err
	}
	named, err := s.NamedFiles()
	if err = errors.Join(err, s.Close()); err != nil {
		return copied, err
	}
	into, err := folder.Open(filepath.Join(to, filesName))
	if err != nil {
		return copied, err
	}
	for hash := range named {
		n, err := copyFile(from, into, hash)
		if err != nil {
			return copied, err
		}
		copied.Files++
		copied.Bytes += n
	}
	return copied, nil
}

func copyFile(from store.Files, into store.Files, hash string) (int64, error) {
	if n := store.SizeOf(into, hash); n > 0 {
		return n, nil // of a try before
	}
	f, err := from.Open(hash)
	if err != nil {
		return 0, err
	}
	defer f.Close()
	got, err := into.Put(f, f.MediaType())
	if err == nil && got != hash {
		err = fmt.Errorf("file %s is damaged: its content is not what it is named by", hash)
	}
	return f.Size(), err
}

// copyRecords copies a database file that nobody has open.
func copyRecords(from, to string) error {
	r, err := os.Open(from)
	if err != nil {
		return err
	}
	defer r.Close()
	w, err := os.OpenFile(to, os.O_CREATE|os.O_WRONLY|os.O_TRUNC, 0o600)
	if err != nil {
		return err
	}
	_, err = io.Copy(w, r)
	return errors.Join(err, w.Sync(), w.Close())
}

// IntoFresh has a folder filled under another name, and gives it its own when all of it
// is there. A folder that holds anything already is refused.
func IntoFresh(to string, fill func(part string) (Copied, error)) (Copied, error) {
	left, err := os.ReadDir(to)
	if err != nil && !errors.Is(err, os.ErrNotExist) {
		return Copied{}, err
	}
	if len(left) > 0 {
		return Copied{}, fmt.Errorf("%s is not empty: choose a folder that is, or one that is not there yet", to)
	}
	to = filepath.Clean(to)
	part := to + ".part"
	if err := os.RemoveAll(part); err != nil {
		return Copied{}, err
	}
	if err := os.MkdirAll(part, 0o700); err != nil {
		return Copied{}, err
	}
	copied, err := fill(part)
	if err != nil {
		return copied, errors.Join(err, os.RemoveAll(part))
	}
	if err := os.Remove(to); err != nil && !errors.Is(err, os.ErrNotExist) {
		return copied, err
	}
	if err := os.Rename(part, to); err != nil {
		return copied, err
	}
	return copied, folder.SyncFolder(filepath.Dir(to))
}
