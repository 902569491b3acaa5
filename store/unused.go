package store

import (
	"errors"
	"io/fs"
	"os"
	"path/filepath"
	"time"
)

// Walk calls do with every file that is kept, in no order.
func (b *Blobs) Walk(do func(hash string, info fs.FileInfo) error) error {
	return filepath.WalkDir(b.dir, func(_ string, e fs.DirEntry, err error) error {
		if err != nil {
			return err
		}
		if e.IsDir() {
			if e.Name() == incoming {
				return fs.SkipDir
			}
			return nil
		}
		info, err := e.Info()
		if errors.Is(err, os.ErrNotExist) {
			return nil
		}
		if err != nil {
			return err
		}
		return do(e.Name(), info)
	})
}

// Remove takes a file away for good. One that is not there is no error.
func (b *Blobs) Remove(hash string) error {
	if !hashForm.MatchString(hash) {
		return nil
	}
	err := os.Remove(b.path(hash))
	if errors.Is(err, os.ErrNotExist) {
		return nil
	}
	if err != nil {
		return err
	}
	return syncFolder(filepath.Dir(b.path(hash)))
}

// removeKeptBefore takes a file away that was last kept before a moment. It
// reports the bytes that were won.
func (b *Blobs) removeKeptBefore(hash string, before time.Time) (int64, error) {
	b.mu.Lock()
	defer b.mu.Unlock()
	info, err := os.Stat(b.path(hash))
	if errors.Is(err, os.ErrNotExist) || err == nil && !info.ModTime().Before(before) {
		return 0, nil
	}
	if err != nil {
		return 0, err
	}
	return info.Size(), os.Remove(b.path(hash))
}

// Swept tells what a sweep took away.
type Swept struct {
	Files int
	Bytes int64
}

// Sweep takes away every file that no record names and that was last kept before
// a moment: whoever keeps a file names it in a record soon after, and has until
// then. Files are marked first and taken away afterwards; one that is kept again
// in between stays.
func (s *Store) Sweep(before time.Time) (Swept, error) {
	var won Swept
	named, err := s.NamedFiles()
	if err != nil {
		return won, err
	}
	err = s.Blobs.Walk(func(hash string, info fs.FileInfo) error {
		if named[hash] || !info.ModTime().Before(before) {
			return nil
		}
		n, err := s.Blobs.removeKeptBefore(hash, before)
		if n > 0 {
			won.Files++
			won.Bytes += n
		}
		return err
	})
	return won, err
}

// fileColumns are the columns that name files by their hash.
var fileColumns = []string{
	"SELECT original_hash FROM pictures", "SELECT arrived_hash FROM pictures", "SELECT preview_hash FROM pictures",
	"SELECT thumb_hash FROM pictures", "SELECT look_hash FROM pictures", "SELECT hash FROM cuts", "SELECT hash FROM copies",
	"SELECT hash FROM published", "SELECT hash FROM ruler_sheets",
	"SELECT json_extract(file.value, '$.Hash') FROM live_versions, json_each(live_versions.files) AS file WHERE json_extract(file.value, '$.Hash') IS NOT NULL",
	attachments("pages"), attachments("page_steps"), attachments("live_versions"),
}

// attachments asks for the files that the documents of a table offer.
func attachments(table string) string {
	return "SELECT json_extract(block.value, '$.file.hash') FROM " + table + ", json_each(" + table + ".doc, '$.blocks') AS block WHERE json_extract(block.value, '$.file.hash') IS NOT NULL"
}

// NamedFiles returns the hashes of all files that a record names.
func (s *Store) NamedFiles() (map[string]bool, error) {
	named := map[string]bool{}
	err := s.View(func(s *Store) error {
		for _, ask := range fileColumns {
			var hashes []string
			if err := s.read.Raw(ask).Scan(&hashes).Error; err != nil {
				return err
			}
			for _, h := range hashes {
				named[h] = true
			}
		}
		return nil
	})
	delete(named, "")
	return named, err
}

// RemoveUnnamed takes those of some files away that no record names any more, and
// returns them. Nobody may be keeping them again meanwhile.
func (s *Store) RemoveUnnamed(hashes []string) (gone []string, err error) {
	named, err := s.NamedFiles()
	if err != nil {
		return nil, err
	}
	for _, h := range hashes {
		if h == "" || named[h] || !s.Blobs.Has(h) {
			continue
		}
		if err := s.Blobs.Remove(h); err != nil {
			return gone, err
		}
		gone = append(gone, h)
	}
	return gone, nil
}
