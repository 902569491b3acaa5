package backups

import (
	"context"
	"errors"
	"fmt"
	"maps"
	"os"
	"path/filepath"
	"slices"

	"mivlet/store"
	"mivlet/store/datafolder"
)

// Change has something done in every backup of a place, as if it had been done before each was written;
// then it takes away the files that no backup names any more. do gets the records of one, and its files;
// it says whether it changed anything. Change returns how many backups it changed, and goes on to the others
// where one fails. A backup is whole at every moment, and what was broken off can be done again.
func Change(ctx context.Context, in Place, do func(*store.Store) (changed bool, err error)) (int, error) {
	all, err := List(ctx, in)
	if err != nil {
		return 0, err
	}
	n := 0
	var failed []error
	for _, b := range all {
		if ctx.Err() != nil {
			return n, ctx.Err()
		}
		changed, err := b.change(ctx, in, do)
		if err != nil { // one that is damaged keeps nobody from the others
			failed = append(failed, fmt.Errorf("backup %s: %w", b.ID(), err))
		}
		if changed {
			n++
		}
	}
	there, err := in.Stamps(ctx)
	if err != nil {
		return n, errors.Join(append(failed, err)...)
	}
	return n, errors.Join(append(failed, sweep(ctx, in, there, all))...) // also what was left when it was broken off
}

func (b Backup) change(ctx context.Context, in Place, do func(*store.Store) (bool, error)) (changed bool, err error) {
	dir, err := os.MkdirTemp("", "mivlet-backup-")
	if err != nil {
		return false, err
	}
	defer os.RemoveAll(dir)
	entries, err := b.fetch(ctx, in, dir)
	if err != nil {
		return false, err
	}
	s, err := datafolder.Open(dir)
	if err != nil {
		return false, err
	}
	made := s.Files
	before := map[string]entry{}
	for _, e := range entries {
		before[e.Hash] = e
	}
	changed, err = do(&store.Store{Records: s.Records, Files: lent{made, ctx, in, before}})
	if err = errors.Join(err, s.Close()); err != nil {
		return false, err
	}
	named, err := b.inRecords(dir)
	if err != nil {
		return false, err
	}
	now := make([]entry, 0, len(named))
	b.Files, b.Bytes = len(named), 0
	for _, hash := range named {
		e, known := before[hash]
		if !known {
			if e, _, err = putFile(ctx, made, in, hash, map[string]string{}); err != nil {
				return false, err
			}
		}
		delete(before, hash)
		now = append(now, e)
		b.Bytes += e.Bytes
	}
	if !changed && len(before) == 0 {
		return false, nil
	}
	// What else is named is left from when changing was broken off.
	return changed, b.replace(ctx, in, filepath.Join(dir, recordsName), now, slices.Collect(maps.Values(before)))
}

// replace puts other records, which name the files now, in the place of those that named others, too. In
// between the backup has both: whenever this is broken off, all that its records name is among its files.
func (b Backup) replace(ctx context.Context, in Place, records string, now, others []entry) error {
	if err := putJSON(ctx, in, b.of(entriesName), slices.Concat(now, others)); err != nil {
		return err
	}
	f, err := os.Open(records)
	if err != nil {
		return err
	}
	defer f.Close()
	if _, err := in.Put(ctx, b.of(recordsName), f); err != nil {
		return err
	}
	if err := in.Remove(ctx, b.of(triedName)); err != nil { // it was tried as it was before
		return err
	}
	return errors.Join(putJSON(ctx, in, b.of(entriesName), now), putJSON(ctx, in, b.of(wholeName), b))
}
