package datafolder

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"maps"
	"os"
	"path/filepath"
	"slices"
	"time"

	"mivlet/store"
	"mivlet/store/folder"
	"mivlet/store/postgres"
	"mivlet/store/relational"
	"mivlet/store/sqlite"
)

// Moved tells what was carried to where a house is kept now.
type Moved struct {
	Rows  int64 // of all records
	Files int
	Bytes int64    // of the files
	Left  []string // what lies where it was before, and is no longer used
}

// Move carries a house to where it is to be kept from now on, and notes that in its data folder: files first, each read
// back in full by its hash, then all records in one piece. Until the note is written the house is where it was; what
// comes along of files is not sent again by the next try. No program may have the house open meanwhile: the folder is
// locked, and a database tells who else is there. What lies where the house was stays there under another name. told,
// which may be nil, hears how far it has come.
func Move(ctx context.Context, dir string, to Storage, now time.Time, told func(step string, n int64)) (Moved, error) {
	var m Moved
	if told == nil {
		told = func(string, int64) {}
	}
	if err := to.Check(); err != nil {
		return m, err
	}
	if err := isHouse(dir); err != nil {
		return m, err
	}
	was, err := ReadStorage(dir)
	if err != nil {
		return m, err
	}
	if was == to {
		return m, errors.New("the house is kept there already")
	}
	from, err := Open(dir)
	if err != nil {
		return m, err
	}
	defer func() {
		if from != nil {
			_ = from.Close()
		}
	}()
	if was.Records.Postgres != "" {
		others, err := postgres.Others(ctx, was.Records.address())
		if err != nil {
			return m, err
		}
		if others > 0 {
			return m, fmt.Errorf("%w: %d connections of other programs to the house are open; end them first", ErrInUse, others)
		}
	}
	if was.Files != to.Files {
		if err := m.moveFiles(ctx, from, dir, to, told); err != nil {
			return m, err
		}
	}
	if was.Records != to.Records {
		if err := m.moveRecords(ctx, from, dir, to, told); err != nil {
			return m, err
		}
	}
	lock := from.lock
	from.lock = nil
	err = from.Close()
	from = nil
	if err == nil {
		err = to.Write(dir)
	}
	if err == nil {
		m.Left, err = setAside(ctx, dir, was, to, now)
	}
	return m, errors.Join(err, lock.release())
}

// moveFiles copies every file that a record names, and reads it back.
func (m *Moved) moveFiles(ctx context.Context, from *Folder, dir string, to Storage, told func(string, int64)) error {
	into, err := to.openFiles(ctx, dir, &Folder{ready: func(context.Context) error { return nil }})
	if err != nil {
		return err
	}
	named, err := from.NamedFiles()
	if err != nil {
		return err
	}
	all := slices.Sorted(maps.Keys(named))
	for _, hash := range all {
		if err := ctx.Err(); err != nil {
			return err
		}
		n, err := copyFile(from.Files, into, hash)
		if err == nil {
			err = readBack(into, hash)
		}
		if err != nil {
			return err
		}
		m.Files++
		m.Bytes += n
		told("files", int64(m.Files))
	}
	return nil
}

// readBack reads all of a file, and fails where its content is not what it is named by.
func readBack(from store.Files, hash string) error {
	f, err := from.Open(hash)
	if err != nil {
		return err
	}
	defer f.Close()
	sum := sha256.New()
	if _, err := io.Copy(sum, f); err != nil {
		return err
	}
	if got := hex.EncodeToString(sum.Sum(nil)); got != hash {
		return fmt.Errorf("file %s did not come along whole", hash)
	}
	return nil
}

// moveRecords copies all records, and counts them on both sides.
func (m *Moved) moveRecords(ctx context.Context, from *Folder, dir string, to Storage, told func(string, int64)) error {
	var into *relational.Records
	if to.Records.Postgres != "" {
		db, err := postgres.Open(ctx, to.Records.address())
		if err != nil {
			return err
		}
		into = db.Records
	} else {
		db, err := sqlite.Open(filepath.Join(dir, DatabaseName))
		if err != nil {
			return err
		}
		into = db.Records
	}
	err := from.records.CopyTo(into, func(rows int64) { m.Rows = rows; told("records", rows) })
	if errors.Is(err, relational.ErrNotEmpty) {
		err = fmt.Errorf("there is a house where the records are to go: choose another name, or delete it: %w", err)
	}
	if err == nil {
		err = sameRecords(from.records, into)
	}
	return errors.Join(err, into.Close())
}

// sameRecords fails where two databases differ in how many rows they have, or where what came is not whole.
func sameRecords(a, b *relational.Records) error {
	before, err := a.Numbers()
	if err != nil {
		return err
	}
	after, err := b.Numbers()
	if err != nil {
		return err
	}
	if !maps.Equal(before, after) {
		return errors.New("not all records came along")
	}
	faults, _, err := b.Check()
	if err == nil && len(faults) > 0 {
		was, _, bad := a.Check()
		if err = bad; err == nil && len(was) < len(faults) {
			err = fmt.Errorf("the records did not come along whole: %s", faults[0])
		}
	}
	return err
}

// setAside renames what lies where the house was, so that nothing takes it for the house.
func setAside(ctx context.Context, dir string, was, is Storage, now time.Time) (left []string, err error) {
	aside := now.UTC().Format("20060102t150405")
	if was.Records != is.Records {
		if was.Records.Postgres != "" {
			name, err := postgres.SetAside(ctx, was.Records.address(), aside)
			if err != nil {
				return left, err
			}
			left = append(left, "schema "+name+" of the database")
		} else {
			for _, end := range []string{"", "-wal", "-shm"} {
				err := os.Rename(filepath.Join(dir, DatabaseName+end), filepath.Join(dir, DatabaseName+".moved-"+aside+end))
				if err != nil && !errors.Is(err, fs.ErrNotExist) {
					return left, err
				}
			}
			left = append(left, filepath.Join(dir, DatabaseName+".moved-"+aside))
		}
	}
	if was.Files != is.Files {
		if was.Files.S3 != "" {
			left = append(left, "files below "+was.Files.S3)
		} else {
			to := filepath.Join(dir, filesName+".moved-"+aside)
			if err := os.Rename(filepath.Join(dir, filesName), to); err != nil {
				return left, err
			}
			left = append(left, to)
		}
	}
	return left, folder.SyncFolder(dir)
}
