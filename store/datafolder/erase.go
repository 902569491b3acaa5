package datafolder

import (
	"context"
	"errors"
	"fmt"
	"os"
	"time"

	"mivlet/store"
	"mivlet/store/postgres"
)

// Receipt tells that a house was erased, and what it was.
type Receipt struct {
	House   string           `json:"house"` // its title
	Erased  time.Time        `json:"erased"`
	Records map[string]int64 `json:"records"` // rows of each table
	Files   int              `json:"files"`
	Bytes   int64            `json:"bytes"`     // of the files
	Trail   string           `json:"trail_end"` // the last link of its trail: a trail that was copied before can be told by it
	Left    []string         `json:"left"`      // what is not erased from here
}

// ErrOtherHouse means that a house is called otherwise than whoever wants it erased thinks.
var ErrOtherHouse = errors.New("the house has another title")

// Erase erases a house for good: its records, its files, its keys, and the folder itself, wherever they lie. title is what
// the house is called: whoever mistakes one for another is refused. No program may have it open. What is wrong on the way
// is told, and the rest is erased by the next try.
func Erase(ctx context.Context, dir, title string, now time.Time) (r Receipt, err error) {
	if err := isHouse(dir); err != nil {
		return r, err
	}
	at, err := ReadStorage(dir)
	if err != nil {
		return r, err
	}
	if at.Records.Postgres != "" {
		others, err := postgres.Others(ctx, at.Records.address())
		if err != nil {
			return r, err
		}
		if others > 0 {
			return r, fmt.Errorf("%w: %d connections of other programs to the house are open; end them first", ErrInUse, others)
		}
	}
	s, err := Open(dir)
	if err != nil {
		return r, err
	}
	defer func() { err = errors.Join(err, s.Close()) }()
	rules, _, err := s.Rules()
	if err != nil {
		return r, err
	}
	if rules.House != title {
		return r, fmt.Errorf("%w: it is called %q", ErrOtherHouse, rules.House)
	}
	if r, err = s.receipt(title, now); err != nil {
		return r, err
	}
	if at.Files.S3 != "" {
		var hashes []string
		if err := s.Files.List(func(f store.FileInfo) error { hashes = append(hashes, f.Hash); return nil }); err != nil {
			return r, err
		}
		for _, hash := range hashes {
			if err := s.Files.Delete(hash); err != nil {
				return r, err
			}
		}
		r.Left = append(r.Left, "versions of objects that the storage keeps by itself")
	}
	if at.Records.Postgres != "" {
		if err := postgres.Drop(ctx, at.Records.address()); err != nil {
			return r, err
		}
		r.Left = append(r.Left, "backups of the database, and its log as far as that was archived")
	}
	r.Left = append(r.Left, "backups of the house, and what was sent to other servers")
	return r, os.RemoveAll(dir)
}

// receipt counts what is to be erased.
func (f *Folder) receipt(title string, now time.Time) (r Receipt, err error) {
	r = Receipt{House: title, Erased: now.UTC()}
	if r.Records, err = f.records.Numbers(); err != nil {
		return r, err
	}
	newest, err := f.Trail(store.TrailFilter{Most: 1})
	if err != nil {
		return r, err
	}
	for _, t := range newest {
		r.Trail = t.Chain
	}
	return r, f.Files.List(func(info store.FileInfo) error {
		r.Files++
		r.Bytes += info.Size
		return nil
	})
}
