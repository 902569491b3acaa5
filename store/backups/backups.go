// Package backups keeps copies of a house in another place: each with the records as they were at one
// moment, and all of them with one set of files, which are named by their content. So a backup takes
// along only the files that are new, and each can be restored by itself.
//
// A place looks like this:
//
//	files/0123…            what pictures and pages are made of, named by its SHA-256
//	20261128T030000Z/      one backup, named by its moment
//	  mivlet.db            the records (SQLite)
//	  files.json           the files that they name, with media types
//	  backup.json          what it is; it comes last: without it a backup is not whole
//	  tried.json           how restoring was tried
package backups

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"os"
	"path"
	"path/filepath"
	"slices"
	"strings"
	"time"

	"mivlet/store"
	"mivlet/store/datafolder"
)

// Place is where backups are kept. Paths are separated by slashes.
type Place interface {
	// Put writes a file, whole or not at all.
	Put(ctx context.Context, path string, data io.Reader) (stamp string, err error)
	// Open opens a file. It fails with [io/fs.ErrNotExist] where there is none.
	Open(ctx context.Context, path string) (io.ReadCloser, error)
	// Remove takes a file away. One that is not there is no error.
	Remove(ctx context.Context, path string) error
	// Stamps returns something for each path at which there is a file.
	Stamps(ctx context.Context) (map[string]string, error)
	Close() error
}

// Version is the form of backups that this program writes. It reads those and older ones.
const Version = 1

// Backup is one copy of a house.
type Backup struct {
	Version int       `json:"version"`
	At      time.Time `json:"at"`
	House   string    `json:"house"`  // its title
	Origin  string    `json:"origin"` // what the trail of the house begins with: no other house has it
	Files   int       `json:"files"`
	Bytes   int64     `json:"bytes"` // of all files
	New     int64     `json:"new"`   // bytes of those that no backup had before
	Tried   *Trial    `json:"-"`     // nil where restoring has not been tried
}

// Trial is how restoring was tried.
type Trial struct {
	At     time.Time `json:"at"`
	Files  int       `json:"files"`  // that were read
	Faults []string  `json:"faults"` // empty where all of it would come back
}

// entry is a file in a backup.
type entry struct {
	Hash      string `json:"hash"`
	Bytes     int64  `json:"bytes"`
	MediaType string `json:"media_type"`
}

// The names in a place.
const (
	pool        = "files"
	momentForm  = "20060102T150405Z"
	recordsName = datafolder.DatabaseName
	entriesName = "files.json"
	wholeName   = "backup.json"
	triedName   = "tried.json"
)

// ID is what a backup is called in its place.
func (b Backup) ID() string { return b.At.UTC().Format(momentForm) }

// of is the path of one of its files.
func (b Backup) of(name string) string { return path.Join(b.ID(), name) }

func poolPath(hash string) string { return path.Join(pool, hash) }

// Write adds a backup of a house, which may be worked on meanwhile, and notes it in the trail.
func Write(ctx context.Context, house *datafolder.Folder, to Place, person string, now time.Time) (Backup, error) {
	b := Backup{Version: Version, At: now.UTC().Truncate(time.Second)}
	there, err := to.Stamps(ctx)
	if err != nil {
		return b, err
	}
	if _, taken := there[b.of(wholeName)]; taken {
		return b, fmt.Errorf("backup %s: there is one of this second already", b.ID())
	}
	earlier, err := list(ctx, to, there)
	if err != nil {
		return b, err
	}
	dir, err := os.MkdirTemp("", "mivlet-backup-")
	if err != nil {
		return b, err
	}
	defer os.RemoveAll(dir)
	err = datafolder.AgainWhereErased(func() error { return b.copyInto(ctx, house, to, dir, there, earlier) })
	if err != nil {
		return b, errors.Join(err, drop(context.WithoutCancel(ctx), to, b.ID()))
	}
	return b, house.AddTrace(store.Trace{At: now, Person: person, What: fmt.Sprintf("%s: %d files", store.BackupText, b.Files)})
}

// copyInto writes the records, the files that they name and are not there yet, and then what it is.
func (b *Backup) copyInto(ctx context.Context, house *datafolder.Folder, to Place, dir string, there map[string]string, earlier []Backup) error {
	records := filepath.Join(dir, recordsName)
	if err := os.Remove(records); err != nil && !errors.Is(err, fs.ErrNotExist) {
		return err
	}
	if err := house.CopyRecords(records); err != nil {
		return err
	}
	named, err := b.inRecords(dir)
	if err != nil {
		return err
	}
	for _, other := range earlier {
		if b.Origin != "" && other.Origin != "" && other.Origin != b.Origin {
			return fmt.Errorf("backups of another house are there, %s: choose a place of this house's own", other.House)
		}
	}
	b.Files, b.Bytes, b.New = len(named), 0, 0
	entries := make([]entry, 0, len(named))
	for _, hash := range named {
		e, isNew, err := putFile(ctx, house.Files, to, hash, there)
		if err != nil {
			return err
		}
		if isNew {
			b.New += e.Bytes
		}
		b.Bytes += e.Bytes
		entries = append(entries, e)
	}
	f, err := os.Open(records)
	if err != nil {
		return err
	}
	defer f.Close()
	if _, err := to.Put(ctx, b.of(recordsName), f); err != nil {
		return err
	}
	return errors.Join(putJSON(ctx, to, b.of(entriesName), entries), putJSON(ctx, to, b.of(wholeName), b))
}

// inRecords returns the files that records name, in order, and notes which house it is.
func (b *Backup) inRecords(dir string) (named []string, err error) {
	s, err := datafolder.OpenForReading(dir)
	if err != nil {
		return nil, err
	}
	defer func() { err = errors.Join(err, s.Close()) }()
	all, err := s.NamedFiles()
	if err != nil {
		return nil, err
	}
	first, err := s.Trail(store.TrailFilter{Before: 2, Most: 1})
	if err != nil {
		return nil, err
	}
	if len(first) > 0 {
		b.Origin = first[0].Chain
	}
	r, _, err := s.Rules()
	b.House = r.House
	for hash := range all {
		named = append(named, hash)
	}
	slices.Sort(named)
	return named, err
}

// putFile copies a file that is not there yet. It must have the content that it is named by.
func putFile(ctx context.Context, from store.Files, to Place, hash string, there map[string]string) (entry, bool, error) {
	f, err := from.Open(hash)
	if err != nil {
		return entry{}, false, err
	}
	defer f.Close()
	e := entry{hash, f.Size(), f.MediaType()}
	if _, known := there[poolPath(hash)]; known {
		return e, false, nil
	}
	sum := newSum(f)
	if _, err := to.Put(ctx, poolPath(hash), sum); err != nil {
		return e, false, err
	}
	if sum.is() != hash {
		return e, false, errors.Join(fmt.Errorf("file %s is damaged: its content is not what it is named by", hash), to.Remove(ctx, poolPath(hash)))
	}
	there[poolPath(hash)] = hash
	return e, true, nil
}

func putJSON(ctx context.Context, to Place, at string, v any) error {
	data, err := json.Marshal(v)
	if err != nil {
		return err
	}
	_, err = to.Put(ctx, at, strings.NewReader(string(data)))
	return err
}

func getJSON(ctx context.Context, from Place, at string, v any) error {
	in, err := from.Open(ctx, at)
	if err != nil {
		return err
	}
	defer in.Close()
	if err := json.NewDecoder(in).Decode(v); err != nil {
		return fmt.Errorf("%s: %w", at, err)
	}
	return nil
}

// List returns the backups in a place that are whole, the newest first.
func List(ctx context.Context, from Place) ([]Backup, error) {
	there, err := from.Stamps(ctx)
	if err != nil {
		return nil, err
	}
	return list(ctx, from, there)
}

func list(ctx context.Context, from Place, there map[string]string) ([]Backup, error) {
	var all []Backup
	for at := range there {
		id, name := path.Split(at)
		if name != wholeName || strings.Count(at, "/") != 1 {
			continue
		}
		var b Backup
		if err := getJSON(ctx, from, at, &b); err != nil {
			return nil, err
		}
		if b.Version > Version {
			return nil, fmt.Errorf("backup %s was written by a newer Mivlet: use that one", path.Clean(id))
		}
		if b.ID() != path.Clean(id) {
			return nil, fmt.Errorf("backup %s says that it is %s", path.Clean(id), b.ID())
		}
		if _, tried := there[b.of(triedName)]; tried {
			b.Tried = &Trial{}
			if err := getJSON(ctx, from, b.of(triedName), b.Tried); err != nil {
				return nil, err
			}
		}
		all = append(all, b)
	}
	slices.SortFunc(all, func(a, b Backup) int { return b.At.Compare(a.At) })
	return all, nil
}

// drop takes away what is of one backup, beginning with what says that it is whole.
func drop(ctx context.Context, from Place, id string) error {
	var all []error
	for _, name := range []string{wholeName, triedName, entriesName, recordsName} {
		all = append(all, from.Remove(ctx, path.Join(id, name)))
	}
	return errors.Join(all...)
}
