package store

import (
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"fmt"
	"io"
	"os"
	"regexp"
	"time"
)

// Files keeps files named by the SHA-256 of their content, with their media types. A file
// is there whole or not at all, and the same content is kept once. The suite in store/suite
// says what any implementation must do. It is safe for concurrent use.
type Files interface {
	// Receive streams r to where it can be read before it is kept.
	Receive(r io.Reader) (*Incoming, error)
	// Put keeps what r reads, in one go, and returns its hash.
	Put(r io.Reader, mediaType string) (hash string, err error)
	// Open opens a file for reading. It fails with [ErrNoFile].
	Open(hash string) (File, error)
	// OpenRange opens length bytes of a file from an offset on, or fewer where it ends
	// before. It fails with [ErrNoFile], and with [ErrRange] where the offset is below 0
	// or beyond the end, or the length below 0.
	OpenRange(hash string, offset, length int64) (io.ReadCloser, error)
	// Stat tells of a file without opening it. It fails with [ErrNoFile].
	Stat(hash string) (FileInfo, error)
	// Has reports whether a file is kept.
	Has(hash string) bool
	// List calls do with every file that is kept, in no order. It ends with do's error.
	List(do func(FileInfo) error) error
	// Delete takes a file away for good. One that is not there is no error.
	Delete(hash string) error
	// DeleteKeptBefore takes a file away that was last kept before a moment, and returns
	// the bytes that were won; 0 where it stays or is not there.
	DeleteKeptBefore(hash string, before time.Time) (int64, error)
}

// HashOf returns the hash that a content is kept under: SHA-256 in hex digits.
func HashOf(data []byte) string {
	sum := sha256.Sum256(data)
	return hex.EncodeToString(sum[:])
}

// File is a kept file that is open for reading.
type File interface {
	io.ReadSeekCloser
	io.ReaderAt
	Size() int64 // bytes
	MediaType() string
}

// FileInfo tells of a kept file.
type FileInfo struct {
	Hash      string // hex SHA-256 of the content
	Size      int64  // bytes
	KeptAt    time.Time
	MediaType func() string // as it was kept first; it may have to be read, so it is told when asked for
}

var (
	// ErrNoFile means that no file has that hash.
	ErrNoFile = errors.New("no file with that content is kept")
	// ErrRange means that a file has no such part.
	ErrRange = errors.New("the file has no such part")
)

var hashForm = regexp.MustCompile(`^[0-9a-f]{64}$`)

// CheckHash fails with [ErrNoFile] where a text cannot be the hash of a file: 64 hex
// digits in small letters.
func CheckHash(hash string) error {
	if !hashForm.MatchString(hash) {
		return fmt.Errorf("%w: %q is no hash", ErrNoFile, hash)
	}
	return nil
}

// CheckRange fails with [ErrRange] where a file of a size has no part that begins at
// offset; otherwise it returns how much of length there is.
func CheckRange(size, offset, length int64) (int64, error) {
	if offset < 0 || offset > size || length < 0 {
		return 0, fmt.Errorf("%w: %d bytes from %d on, of %d", ErrRange, length, offset, size)
	}
	return min(length, size-offset), nil
}

// SizeOf returns how many bytes a file has; 0 where it is not kept.
func SizeOf(f Files, hash string) int64 {
	info, err := f.Stat(hash)
	if err != nil {
		return 0
	}
	return info.Size
}

// Content returns all of a file.
func Content(f Files, hash string) ([]byte, error) {
	kept, err := f.Open(hash)
	if err != nil {
		return nil, err
	}
	defer kept.Close()
	return io.ReadAll(kept)
}

// Incoming is a file on its way in, in a temporary place on this machine. It is kept only
// by Keep; Discard, which is harmless after Keep, leaves nothing behind.
type Incoming struct {
	*os.File
	Hash  string // hex SHA-256 of the content
	Bytes int64
	keep  func(in *Incoming, mediaType string) error
}

// ReceiveIn streams r into a temporary file in a folder of this machine, for
// implementations of [Files]; keep is how they make it lasting.
func ReceiveIn(dir string, r io.Reader, keep func(in *Incoming, mediaType string) error) (*Incoming, error) {
	f, err := os.CreateTemp(dir, "in-*")
	if err != nil {
		return nil, err
	}
	in := &Incoming{File: f, keep: keep}
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

// Keep makes the file lasting. What is here already counts as kept just now, so that no
// sweep takes it away before a record names it, and has the media type that it had.
func (in *Incoming) Keep(mediaType string) error { return in.keep(in, mediaType) }

// Discard forgets a file that was not kept.
func (in *Incoming) Discard() {
	_ = in.Close()
	_ = os.Remove(in.Name())
}

// PutReceived is Put for implementations of [Files]: it receives and keeps.
func PutReceived(f Files, r io.Reader, mediaType string) (string, error) {
	in, err := f.Receive(r)
	if err != nil {
		return "", err
	}
	defer in.Discard()
	return in.Hash, in.Keep(mediaType)
}
