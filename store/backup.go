package store

import (
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"time"
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
	copied, err := intoFresh(to, func(part string) (Copied, error) {
		for try := 0; ; try++ {
			copied, err := from.snapshotInto(part)
			if !errors.Is(err, ErrNoBlob) || try == 4 {
				return copied, err
			}
			// Something was erased between the records and the files: the records again.
		}
	})
	if err != nil {
		return copied, err
	}
	return copied, from.AddTrace(Trace{At: now, Person: person, What: fmt.Sprintf("%s: %d files", backupText, copied.Files)})
}

// snapshotInto copies the records as they are now, and the files that they name.
func (s *Store) snapshotInto(part string) (Copied, error) {
	records := filepath.Join(part, DatabaseName)
	if err := os.Remove(records); err != nil && !errors.Is(err, os.ErrNotExist) {
		return Copied{}, err
	}
	if err := s.write.Exec("VACUUM INTO ?", records).Error; err != nil {
		return Copied{}, fmt.Errorf("the records cannot be copied: %w", err)
	}
	if err := os.Chmod(records, 0o600); err != nil {
		return Copied{}, err
	}
	return copyNamed(s.Blobs, part)
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
	return intoFresh(to, func(part string) (Copied, error) {
		records, err := os.Open(filepath.Join(from, DatabaseName))
		if err != nil {
			return Copied{}, err
		}
		defer records.Close()
		if err := writeFile(filepath.Join(part, DatabaseName), records, nil); err != nil {
			return Copied{}, err
		}
		return copyNamed(&Blobs{dir: filepath.Join(from, filesName)}, part)
	})
}

// copyNamed copies the files that the records in a folder name into it.
func copyNamed(from *Blobs, to string) (Copied, error) {
	var copied Copied
	s, err := openForReading(to)
	if err != nil {
		return copied, err
	}
	named, err := s.NamedFiles()
	if err = errors.Join(err, s.Close()); err != nil {
		return copied, err
	}
	into := &Blobs{dir: filepath.Join(to, filesName)}
	if err := os.MkdirAll(filepath.Join(into.dir, incoming), 0o700); err != nil {
		return copied, err
	}
	for hash := range named {
		n, err := copyBlob(from, into, hash)
		if err != nil {
			return copied, err
		}
		copied.Files++
		copied.Bytes += n
	}
	return copied, nil
}

func copyBlob(from, to *Blobs, hash string) (int64, error) {
	if n := to.Size(hash); n > 0 {
		return n, nil // of a try before
	}
	f, err := from.Open(hash)
	if err != nil {
		return 0, err
	}
	defer f.Close()
	if err := makeFolder(filepath.Dir(to.path(hash))); err != nil {
		return 0, err
	}
	sum := sha256.New()
	if err := writeFile(to.path(hash), f, sum); err != nil {
		return 0, err
	}
	if got := hex.EncodeToString(sum.Sum(nil)); got != hash {
		return 0, fmt.Errorf("file %s is damaged: its content is not what it is named by", hash)
	}
	return to.Size(hash), nil
}

// writeFile writes a file to the disk, and what it reads to sum, too.
func writeFile(name string, from io.Reader, sum io.Writer) error {
	f, err := os.OpenFile(name, os.O_CREATE|os.O_WRONLY|os.O_TRUNC, 0o600)
	if err != nil {
		return err
	}
	var into io.Writer = f
	if sum != nil {
		into = io.MultiWriter(f, sum)
	}
	_, err = io.Copy(into, from)
	return errors.Join(err, f.Sync(), f.Close())
}

// intoFresh has a folder filled under another name, and gives it its own when all of it
// is there. A folder that holds anything already is refused.
func intoFresh(to string, fill func(part string) (Copied, error)) (Copied, error) {
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
	return copied, syncFolder(filepath.Dir(to))
}
