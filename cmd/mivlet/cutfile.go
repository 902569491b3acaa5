package main

import (
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"strings"

	"mivlet/core/fit"
	"mivlet/core/raster"
)

// path is where a cut goes: its name, its width, and the extension that is
// true to its content.
func (o *cutting) path(source string, c fit.Cut, e raster.Encoded) string {
	stem := o.flags.name
	if stem == "" {
		stem = strings.TrimSuffix(filepath.Base(source), filepath.Ext(source))
	}
	return filepath.Join(o.flags.out, fmt.Sprintf("%s-%d%s", filepath.Base(stem), c.Size.W, e.Extension()))
}

// save writes a cut under a temporary name and renames it, and overwrites
// nothing that was not meant.
func (o *cutting) save(to, source string, data []byte) error {
	if there, err := os.Stat(to); err == nil {
		if src, err := os.Stat(source); err == nil && os.SameFile(src, there) {
			return fmt.Errorf("the cut would overwrite its source %s", source)
		}
		if !o.flags.force {
			return fmt.Errorf("%s is there already; --force overwrites it", to)
		}
	}
	tmp, err := os.CreateTemp(o.flags.out, ".mivlet-*")
	if err != nil {
		return plain(err)
	}
	defer os.Remove(tmp.Name())
	_, err = tmp.Write(data)
	if err := errors.Join(err, tmp.Chmod(0o644), tmp.Close()); err != nil {
		return err
	}
	if o.flags.force {
		return os.Rename(tmp.Name(), to)
	}
	// Link fails where the name was taken in between; a rename would not.
	if err := os.Link(tmp.Name(), to); err != nil {
		return plainLink(err, to)
	}
	return nil
}

func plainLink(err error, to string) error {
	if errors.Is(err, os.ErrExist) {
		return fmt.Errorf("%s is there already; --force overwrites it", to)
	}
	return err
}

// plain takes the call and the path off a file error: the line names the file.
func plain(err error) error {
	var p *os.PathError
	if errors.As(err, &p) {
		return p.Err
	}
	return err
}
