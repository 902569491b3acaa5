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
)

// Blobs keeps files named by the SHA-256 of their content. A file is written
// under a temporary name, flushed and renamed, so that it is there whole or not
// at all; the same content is kept once.
type Blobs struct{ dir string }

// ErrNoBlob means that no file has that hash.
var ErrNoBlob = errors.New("no file with that content is kept")

var hashForm = regexp.MustCompile(`^[0-9a-f]{64}$`)

func openBlobs(dir string) (*Blobs, error) {
	if err := os.MkdirAll(filepath.Join(dir, "tmp"), 0o750); err != nil {
		return nil, err
	}
	b := &Blobs{dir}
	return b, b.sweep()
}

// sweep removes what a broken-off write has left.
func (b *Blobs) sweep() error {
	left, err := os.ReadDir(filepath.Join(b.dir, "tmp"))
	for _, f := range left {
		err = errors.Join(err, os.Remove(filepath.Join(b.dir, "tmp", f.Name())))
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
	f, err := os.CreateTemp(filepath.Join(b.dir, "tmp"), "in-*")
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

// Keep makes the file lasting.
func (in *Incoming) Keep() error {
	to := in.blobs.path(in.Hash)
	if _, err := os.Stat(to); err == nil {
		in.Discard()
		return nil
	}
	if err := in.Sync(); err != nil {
		return err
	}
	if err := os.MkdirAll(filepath.Dir(to), 0o750); err != nil {
		return err
	}
	if err := os.Rename(in.Name(), to); err != nil {
		return err
	}
	return in.Close()
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
	_, err := os.Stat(b.path(hash))
	return err == nil
}

func (b *Blobs) path(hash string) string { return filepath.Join(b.dir, hash[:2], hash) }
