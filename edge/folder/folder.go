// Package folder sends files to a folder of this machine, which another web server serves.
package folder

import (
	"context"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"os"
	"path"

	"mivlet/internal/waited"
)

// parts is the folder for files that are not whole yet. Servers do not serve it, as its name begins
// with a dot (common practice), and it goes when sending ends.
const parts = ".mivlet-parts"

// Folder is a folder that files are sent to. Nothing in it leads out of it: links that lead
// elsewhere are refused (see [os.Root]).
type Folder struct {
	root        *os.Root
	n           int
	file, above fs.FileMode // of what is written, and of the folders above it
}

// Open opens a folder that is there, for files that others may read.
func Open(at string) (*Folder, error) { return open(at, 0o644, 0o755) }

func open(at string, file, above fs.FileMode) (*Folder, error) {
	root, err := os.OpenRoot(at)
	if err != nil {
		return nil, err
	}
	f := &Folder{root: root, file: file, above: above}
	// What lies there was being written when sending was broken off.
	if err := root.RemoveAll(parts); err != nil {
		return nil, errors.Join(err, root.Close())
	}
	return f, nil
}

// Put writes a file beside its place and moves it there once it is whole and on the disk.
func (f *Folder) Put(ctx context.Context, at string, data io.Reader) (string, error) {
	if err := errors.Join(f.root.MkdirAll(parts, f.above), f.root.MkdirAll(path.Dir(at), f.above)); err != nil {
		return "", err
	}
	f.n++
	part := fmt.Sprintf("%s/%d", parts, f.n)
	out, err := f.root.OpenFile(part, os.O_CREATE|os.O_WRONLY|os.O_TRUNC, f.file)
	if err != nil {
		return "", err
	}
	_, err = io.Copy(out, waited.Reader(ctx, data))
	if err = errors.Join(err, out.Sync(), out.Close()); err == nil {
		err = f.root.Rename(part, at)
	}
	if err != nil {
		return "", errors.Join(err, f.root.Remove(part))
	}
	return f.Stamp(ctx, at)
}

// Stamp returns the size and the time of the last change of a file.
func (f *Folder) Stamp(_ context.Context, at string) (string, error) {
	info, err := f.root.Stat(at)
	if err != nil {
		return "", err
	}
	return stampOf(info), nil
}

func stampOf(info fs.FileInfo) string {
	return fmt.Sprintf("%d %d", info.Size(), info.ModTime().UnixNano())
}

// Open opens a file for reading. What is no file cannot be.
func (f *Folder) Open(_ context.Context, at string) (io.ReadCloser, error) {
	info, err := f.root.Stat(at)
	if err != nil {
		return nil, err
	}
	if !info.Mode().IsRegular() {
		return nil, fmt.Errorf("%s is no file", at)
	}
	return f.root.Open(at)
}

// Remove takes a file away, and the folders above it that are empty then.
func (f *Folder) Remove(_ context.Context, at string) error {
	if err := f.root.Remove(at); err != nil && !errors.Is(err, fs.ErrNotExist) {
		return err
	}
	for up := path.Dir(at); up != "." && f.root.Remove(up) == nil; up = path.Dir(up) {
	}
	return nil
}

// Close ends sending.
func (f *Folder) Close() error { return errors.Join(f.root.RemoveAll(parts), f.root.Close()) }
