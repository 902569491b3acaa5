package backups

import (
	"context"
	"errors"
	"fmt"
	"io"
	"io/fs"

	"mivlet/store"
)

// lent are the files of a backup for whoever works on its records: what is read is brought from the
// place first, and what is made stays here.
type lent struct {
	store.Files // what is here
	ctx         context.Context
	place       Place
	has         map[string]entry // what the backup has, by hash
}

func (l lent) bring(hash string) error {
	e, has := l.has[hash]
	if !has || l.Files.Has(hash) {
		return nil
	}
	in, err := l.place.Open(l.ctx, poolPath(hash))
	if errors.Is(err, fs.ErrNotExist) {
		return fmt.Errorf("%w: the backup has lost %s", store.ErrNoFile, hash)
	} else if err != nil {
		return err
	}
	defer in.Close()
	got, err := l.Files.Put(in, e.MediaType)
	if err == nil && got != hash {
		err = fmt.Errorf("file %s is damaged: its content is not what it is named by", hash)
	}
	return err
}

// Open opens a file, as [store.Files] says.
func (l lent) Open(hash string) (store.File, error) {
	if err := l.bring(hash); err != nil {
		return nil, err
	}
	return l.Files.Open(hash)
}

// OpenRange opens part of a file, as [store.Files] says.
func (l lent) OpenRange(hash string, offset, length int64) (io.ReadCloser, error) {
	if err := l.bring(hash); err != nil {
		return nil, err
	}
	return l.Files.OpenRange(hash, offset, length)
}

// Stat tells of a file, as [store.Files] says.
func (l lent) Stat(hash string) (store.FileInfo, error) {
	if err := l.bring(hash); err != nil {
		return store.FileInfo{}, err
	}
	return l.Files.Stat(hash)
}

// Has reports whether a file is kept, there or here.
func (l lent) Has(hash string) bool {
	_, has := l.has[hash]
	return has || l.Files.Has(hash)
}
