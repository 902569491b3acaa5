package store

import (
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"regexp"
	"runtime"
	"sync"
	"time"
)

// Blobs keeps files named by the SHA-256 of their content. A file is written
// under a temporary name, flushed and renamed, and its folder is flushed, too, so
// that it is there whole or not at all; the same content is kept once.
type Blobs struct {
	dir string
	mu  sync.Mutex // what is kept again is not taken away at the same moment
}

// ErrNoBlob means that no file has that hash.
var ErrNoBlob = errors.New("no file with that content is kept")

var hashForm = regexp.MustCompile(`^[0-9a-f]{64}$`)

// incoming is the folder of files that are on their way in.
const incoming = "tmp"

func openBlobs(dir string) (*Blobs, error) {
	if err := os.MkdirAll(filepath.Join(dir, incoming), 0o700); err != nil {
		return nil, err
	}
	return &Blobs{dir: dir}, nil
}

// dropBroken removes what broken-off writes have left. Nobody else may be writing.
func (b *Blobs) dropBroken() error {
	left, err := os.ReadDir(filepath.Join(b.dir, incoming))
	for _, f := range left {
		err = errors.Join(err, os.Remove(filepath.Join(b.dir, incoming, f.Name())))
	}
	return err
}

// Incoming is a file on its way in. It is kept only by Keep; Discard, which is
// harmless after Keep, leaves nothing behind.
type Incoming struct {
	*os.File
	blobs *Blobs
	Hash  string // hex SHA-256 of the content
	Bytes int64
}

// Receive streams r into a temporary file.
func (b *Blobs) Receive(r io.Reader) (*Incoming, error) {
	f, err := os.CreateTemp(filepath.Join(b.dir, incoming), "in-*")
	if err != nil {
		return nil, err
	}
	in := &Incoming{File: f, blobs: b}
	sum := sha256.New()
	if in.Bytes, err = io.Copy(io.MultiWriter(f, sum), r); err == nil {
		_, err = f.Seek(0, io.SeekStart)
	}
	if err != nil {
		in.Discard()
		return nil, err
	}
	in.Hash = hex.EncodeToString(sum.Sum(nil))
	return in, nil
}

// Keep makes the file lasting. What is here already counts as kept just now, so
// that no sweep takes it away before a record names it.
func (in *Incoming) Keep() error {
	if kept, err := in.blobs.again(in.Hash); kept || err != nil {
		in.Discard()
		return err
	}
	if err := in.Sync(); err != nil {
		return err
	}
	to := in.blobs.path(in.Hash)
	if err := makeFolder(filepath.Dir(to)); err != nil {
		return err
	}
	if err := os.Rename(in.Name(), to); err != nil {
		return err
	}
	return errors.Join(in.Close(), syncFolder(filepath.Dir(to)))
}

// again notes that a file that is kept was kept once more.
func (b *Blobs) again(hash string) (bool, error) {
	b.mu.Lock()
	defer b.mu.Unlock()
	now := time.Now()
	err := os.Chtimes(b.path(hash), now, now)
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
	return syncFolder(filepath.Dir(dir))
}

// syncFolder flushes the names in a folder to the disk. Where a system cannot do
// that with a folder, it is left to the system.
func syncFolder(dir string) error {
	if runtime.GOOS == "windows" {
		return nil
	}
	f, err := os.Open(dir)
	if err != nil {
		return err
	}
	return errors.Join(f.Sync(), f.Close())
}

// Discard forgets a file that was not kept.
func (in *Incoming) Discard() {
	_ = in.Close()
	_ = os.Remove(in.Name())
}

// Put keeps what r reads and returns its hash.
func (b *Blobs) Put(r io.Reader) (string, error) {
	in, err := b.Receive(r)
	if err != nil {
		return "", err
	}
	if err := in.Keep(); err != nil {
		in.Discard()
		return "", err
	}
	return in.Hash, nil
}

// Open opens the file with a hash for reading.
func (b *Blobs) Open(hash string) (*os.File, error) {
	if !hashForm.MatchString(hash) {
		return nil, fmt.Errorf("%w: %q is no hash", ErrNoBlob, hash)
	}
	f, err := os.Open(b.path(hash))
	if errors.Is(err, os.ErrNotExist) {
		return nil, fmt.Errorf("%w: %s", ErrNoBlob, hash)
	}
	return f, err
}

// Has reports whether a file is kept.
func (b *Blobs) Has(hash string) bool {
	if !hashForm.MatchString(hash) {
		return false
	}
	_, err := os.Stat(b.path(hash))
	return err == nil
}

// Size returns how many bytes a file has; 0 where it is not kept.
func (b *Blobs) Size(hash string) int64 {
	if !hashForm.MatchString(hash) {
		return 0
	}
	info, err := os.Stat(b.path(hash))
	if err != nil {
		return 0
	}
	return info.Size()
}

func (b *Blobs) path(hash string) string { return filepath.Join(b.dir, hash[:2], hash) }
