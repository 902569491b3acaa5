package main

import (
	"io"
	"io/fs"
	"os"
	"path"
	"path/filepath"
)

// mendedFolder is a sink that writes the mended site into a folder on disk, which is best empty.
type mendedFolder struct {
	files fs.FS // of the site as it was
	into  *os.Root
}

// Put writes a file that was made.
func (f mendedFolder) Put(at string, data []byte) error {
	out, err := f.create(at)
	if err != nil {
		return err
	}
	if _, err := out.Write(data); err != nil {
		out.Close()
		return err
	}
	return out.Close()
}

// Copy writes a file as it was.
func (f mendedFolder) Copy(at string) error {
	in, err := f.files.Open(at)
	if err != nil {
		return err
	}
	defer in.Close()
	out, err := f.create(at)
	if err != nil {
		return err
	}
	if _, err := io.Copy(out, in); err != nil {
		out.Close()
		return err
	}
	return out.Close()
}

func (f mendedFolder) create(at string) (*os.File, error) {
	if dir := path.Dir(at); dir != "." {
		if err := f.into.MkdirAll(filepath.FromSlash(dir), 0o755); err != nil {
			return nil, err
		}
	}
	return f.into.OpenFile(filepath.FromSlash(at), os.O_WRONLY|os.O_CREATE|os.O_EXCL, 0o644)
}
