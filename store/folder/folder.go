// Package folder keeps files in a local folder. A file is written under a temporary name,
// flushed and renamed, and its folder is flushed, too, so that it is there whole or not at
// all. Its name is its content's hash, below a folder of its first two digits:
//
//	files/ba/ba7816bf…   the content, and nothing else
//	files/ba/ba7816bf….type   its media type, where the content does not tell it
//	files/tmp/   what is on its way in
package folder

import (
	"errors"
	"fmt"
	"io"
	"io/fs"
	"os"
	"path/filepath"
	"runtime"
	"strings"
	"sync"
	"time"

	"mivlet/store"
)

// Files is a folder of files. It implements [store.Files].
type Files struct {
	dir string
	mu  sync.Mutex // what is kept again is not taken away at the same moment
}

var _ store.Files = (*Files)(nil)

// incoming is the folder of files that are on their way in.
const incoming = "tmp"

// Open opens or makes a folder of files.
func Open(dir string) (*Files, error) {
	if err := os.MkdirAll(filepath.Join(dir, incoming), 0o700); err != nil {
		return nil, err
	}
	return &Files{dir: dir}, nil
}

// OpenForReading is Open for a folder in which nothing is to be changed.
func OpenForReading(dir string) *Files { return &Files{dir: dir} }

// DropBroken removes what broken-off writes have left. Nobody else may be writing.
func (d *Files) DropBroken() error {
	left, err := os.ReadDir(filepath.Join(d.dir, incoming))
	for _, f := range left {
		err = errors.Join(err, os.Remove(filepath.Join(d.dir, incoming, f.Name())))
	}
	return err
}

// Receive implements [store.Files].
func (d *Files) Receive(r io.Reader) (*store.Incoming, error) {
	return store.ReceiveIn(filepath.Join(d.dir, incoming), r, d.keep)
}

// Put implements [store.Files].
func (d *Files) Put(r io.Reader, mediaType string) (string, error) {
	return store.PutReceived(d, r, mediaType)
}

// keep renames what came in to its lasting name. A note about its media type is there
// before it is, so that nobody sees one without the other.
func (d *Files) keep(in *store.Incoming, mediaType string) error {
	if kept, err := d.again(in.Hash); kept || err != nil {
		in.Discard()
		return err
	}
	if err := in.Sync(); err != nil {
		return err
	}
	to := d.path(in.Hash)
	if err := makeFolder(filepath.Dir(to)); err != nil {
		return err
	}
	if err := d.noteType(in, mediaType); err != nil {
		return err
	}
	if err := os.Rename(in.Name(), to); err != nil {
		return err
	}
	return errors.Join(in.Close(), SyncFolder(filepath.Dir(to)))
}

// again notes that a file that is kept was kept once more.
func (d *Files) again(hash string) (bool, error) {
	d.mu.Lock()
	defer d.mu.Unlock()
	now := time.Now()
	err := os.Chtimes(d.path(hash), now, now)
	if errors.Is(err, os.ErrNotExist) {
		return false, nil
	}
	return err == nil, err
}

// makeFolder makes one folder that outlasts a power cut.
func makeFolder(dir string) error {
	err := os.Mkdir(dir, 0o700)
	if errors.Is(err, os.ErrExist) {
		return nil
	}
	if err != nil {
		return err
	}
	return SyncFolder(filepath.Dir(dir))
}

// Replace writes a file into a folder, whole or not at all, readable by its owner only. One of that name is replaced.
func Replace(dir, name string, text []byte) error {
	f, err := os.CreateTemp(dir, "."+name+"-*")
	if err != nil {
		return err
	}
	_, err = f.Write(text)
	err = errors.Join(err, f.Sync(), f.Close())
	if err == nil {
		err = os.Rename(f.Name(), filepath.Join(dir, name))
	}
	if err != nil {
		return errors.Join(err, os.Remove(f.Name()))
	}
	return SyncFolder(dir)
}

// Remove takes a file out of a folder. One that is not there is no error.
func Remove(dir, name string) error {
	if err := os.Remove(filepath.Join(dir, name)); err != nil && !errors.Is(err, fs.ErrNotExist) {
		return err
	}
	return SyncFolder(dir)
}

// SyncFolder flushes the names in a folder to the disk. Where a system cannot do
// that with a folder, it is left to the system.
func SyncFolder(dir string) error {
	if runtime.GOOS == "windows" {
		return nil
	}
	f, err := os.Open(dir)
	if err != nil {
		return err
	}
	return errors.Join(f.Sync(), f.Close())
}

// file is a file that is open.
type file struct {
	*os.File
	size int64
	path string
}

// Size returns how many bytes the file has.
func (f *file) Size() int64 { return f.size }

// MediaType returns the media type that the file was kept with.
func (f *file) MediaType() string { return typeOf(f.path, f.File) }

// Open implements [store.Files].
func (d *Files) Open(hash string) (store.File, error) { return d.open(hash) }

func (d *Files) open(hash string) (*file, error) {
	if err := store.CheckHash(hash); err != nil {
		return nil, err
	}
	f, err := os.Open(d.path(hash))
	if errors.Is(err, os.ErrNotExist) {
		return nil, missing(hash)
	}
	if err != nil {
		return nil, err
	}
	info, err := f.Stat()
	if err != nil {
		return nil, errors.Join(err, f.Close())
	}
	return &file{f, info.Size(), d.path(hash)}, nil
}

// OpenRange implements [store.Files].
func (d *Files) OpenRange(hash string, offset, length int64) (io.ReadCloser, error) {
	f, err := d.open(hash)
	if err != nil {
		return nil, err
	}
	length, err = store.CheckRange(f.size, offset, length)
	if err != nil {
		return nil, errors.Join(err, f.Close())
	}
	return struct {
		io.Reader
		io.Closer
	}{io.NewSectionReader(f, offset, length), f}, nil
}

// Stat implements [store.Files].
func (d *Files) Stat(hash string) (store.FileInfo, error) {
	if err := store.CheckHash(hash); err != nil {
		return store.FileInfo{}, err
	}
	info, err := os.Stat(d.path(hash))
	if errors.Is(err, os.ErrNotExist) {
		return store.FileInfo{}, missing(hash)
	}
	if err != nil {
		return store.FileInfo{}, err
	}
	return told(d.path(hash), info), nil
}

func missing(hash string) error { return fmt.Errorf("%w: %s", store.ErrNoFile, hash) }

// told tells of a file by what its folder says of it.
func told(path string, info fs.FileInfo) store.FileInfo {
	return store.FileInfo{Hash: info.Name(), Size: info.Size(), KeptAt: info.ModTime(), MediaType: func() string {
		f, err := os.Open(path)
		if err != nil {
			return ""
		}
		defer f.Close()
		return typeOf(path, f)
	}}
}

// Has implements [store.Files].
func (d *Files) Has(hash string) bool {
	_, err := d.Stat(hash)
	return err == nil
}

// List implements [store.Files]. What is no file of a content is told by its name: somebody
// put it there by hand.
func (d *Files) List(do func(store.FileInfo) error) error {
	return filepath.WalkDir(d.dir, func(at string, e fs.DirEntry, err error) error {
		if err != nil {
			return err
		}
		if e.IsDir() {
			if e.Name() == incoming {
				return fs.SkipDir
			}
			return nil
		}
		if strings.HasSuffix(at, typeSuffix) {
			return nil
		}
		info, err := e.Info()
		if errors.Is(err, os.ErrNotExist) {
			return nil
		}
		if err != nil {
			return err
		}
		return do(told(at, info))
	})
}

// Delete implements [store.Files].
func (d *Files) Delete(hash string) error {
	if store.CheckHash(hash) != nil {
		return nil
	}
	d.mu.Lock()
	defer d.mu.Unlock()
	err := os.Remove(d.path(hash))
	if errors.Is(err, os.ErrNotExist) {
		return nil
	}
	if err != nil {
		return err
	}
	return errors.Join(dropType(d.path(hash)), SyncFolder(filepath.Dir(d.path(hash))))
}

// DeleteKeptBefore implements [store.Files].
func (d *Files) DeleteKeptBefore(hash string, before time.Time) (int64, error) {
	if store.CheckHash(hash) != nil {
		return 0, nil
	}
	d.mu.Lock()
	defer d.mu.Unlock()
	info, err := os.Stat(d.path(hash))
	if errors.Is(err, os.ErrNotExist) || err == nil && !info.ModTime().Before(before) {
		return 0, nil
	}
	if err != nil {
		return 0, err
	}
	return info.Size(), errors.Join(os.Remove(d.path(hash)), dropType(d.path(hash)))
}

func (d *Files) path(hash string) string { return filepath.Join(d.dir, hash[:2], hash) }
