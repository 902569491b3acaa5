package backups

import (
	"context"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"os"
	"path/filepath"
	"time"

	"mivlet/store"
	"mivlet/store/datafolder"
)

// Restore fills a folder that is not there yet, or is empty, from a backup. It fails where the backup
// is not whole, and then leaves nothing.
func Restore(ctx context.Context, from Place, b Backup, to string) (datafolder.Copied, error) {
	return datafolder.IntoFresh(to, func(part string) (copied datafolder.Copied, err error) {
		entries, err := b.fetch(ctx, from, part)
		if err != nil {
			return copied, err
		}
		s, err := datafolder.Open(part)
		if err != nil {
			return copied, err
		}
		defer func() { err = errors.Join(err, s.Close()) }()
		for _, e := range entries {
			n, err := restoreFile(ctx, from, s.Files, e)
			if err != nil {
				return copied, err
			}
			copied.Files++
			copied.Bytes += n
		}
		return copied, nil
	})
}

func restoreFile(ctx context.Context, from Place, to store.Files, e entry) (int64, error) {
	in, err := from.Open(ctx, poolPath(e.Hash))
	if err != nil {
		return 0, fmt.Errorf("file %s: %w", e.Hash, err)
	}
	defer in.Close()
	got, err := to.Put(in, e.MediaType)
	if err == nil && got != e.Hash {
		err = fmt.Errorf("file %s is damaged: its content is not what it is named by", e.Hash)
	}
	return e.Bytes, err
}

// fetch brings the records into a folder, and returns the files that go with them: all that the records
// name are among them.
func (b Backup) fetch(ctx context.Context, from Place, dir string) ([]entry, error) {
	var entries []entry
	if err := getJSON(ctx, from, b.of(entriesName), &entries); err != nil {
		return nil, err
	}
	in, err := from.Open(ctx, b.of(recordsName))
	if err != nil {
		return nil, err
	}
	defer in.Close()
	out, err := os.OpenFile(filepath.Join(dir, recordsName), os.O_CREATE|os.O_WRONLY|os.O_TRUNC, 0o600)
	if err != nil {
		return nil, err
	}
	_, err = io.Copy(out, in)
	return entries, errors.Join(err, out.Sync(), out.Close())
}

// Try tries whether a backup could be restored: its records are fetched and opened as a house of this
// version, go through all checks, and every file that they name is read and must have the content that
// it is named by. Nothing but the files themselves is written anew. What was found is kept with the
// backup. Files that are damaged or missing are mended from the house where it has them.
func Try(ctx context.Context, in Place, b Backup, house store.Files, now time.Time) (Trial, error) {
	trial := Trial{At: now.UTC(), Faults: []string{}}
	dir, err := os.MkdirTemp("", "mivlet-trial-")
	if err != nil {
		return trial, err
	}
	defer os.RemoveAll(dir)
	entries, err := b.fetch(ctx, in, dir)
	if err == nil {
		var faults []string
		if faults, err = checkRecords(dir, entries); err == nil {
			trial.Faults = append(trial.Faults, faults...)
		}
	}
	if ctx.Err() != nil {
		return trial, ctx.Err()
	}
	if err != nil {
		trial.Faults = append(trial.Faults, "the records: "+err.Error())
	}
	for _, e := range entries {
		err := readFile(ctx, in, e)
		if ctx.Err() != nil {
			return trial, ctx.Err()
		}
		if trial.Files++; err == nil {
			continue
		}
		text := fmt.Sprintf("file %s: %v", e.Hash, err)
		if mend(ctx, in, e, house) == nil {
			text += "; it was written again"
		}
		trial.Faults = append(trial.Faults, text)
	}
	return trial, putJSON(ctx, in, b.of(triedName), trial)
}

// checkRecords opens records as a house that begins with them, and checks them.
func checkRecords(dir string, entries []entry) (faults []string, err error) {
	s, err := datafolder.Open(dir) // as a restored one is: it may be of an older version
	if err != nil {
		return nil, err
	}
	defer func() { err = errors.Join(err, s.Close()) }()
	if faults, _, err = s.Check(); err != nil {
		return nil, err
	}
	named, err := s.NamedFiles()
	if err != nil {
		return nil, err
	}
	for _, e := range entries {
		delete(named, e.Hash)
	}
	for hash := range named {
		faults = append(faults, "file "+hash+": the records name it, and the backup does not")
	}
	return faults, nil
}

func readFile(ctx context.Context, from Place, e entry) error {
	in, err := from.Open(ctx, poolPath(e.Hash))
	if errors.Is(err, fs.ErrNotExist) {
		return errors.New("it is missing")
	}
	if err != nil {
		return err
	}
	defer in.Close()
	sum := newSum(in)
	if _, err := io.Copy(io.Discard, sum); err != nil {
		return err
	}
	if sum.is() != e.Hash {
		return errors.New("its content is not what it is named by")
	}
	return nil
}

// mend writes a file again that is damaged or missing, where the house has it whole.
func mend(ctx context.Context, to Place, e entry, house store.Files) error {
	_, _, err := putFile(ctx, house, to, e.Hash, map[string]string{})
	return err
}
