package mirror

import (
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"mime"
	"path"
	"strings"

	"mivlet/core/site"
	"mivlet/core/survey"
	"mivlet/desk/access"
	"mivlet/store"
)

// summed is a file of an archive.
type summed struct {
	sum   string
	bytes int64
}

// Archive returns the files of the mended site in the place of a former one. They are sent as they are; where they
// belong is where the former ones lie.
func (d *Desk) Archive(to Target, f store.FormerSite, memory *Memory) (*Site, error) {
	if f.MendedHash == "" {
		return nil, access.Refuse(access.Missing, f.Title+" has not been mended yet.", "Mend it first, under Former sites.")
	}
	base, err := site.ParseBase(to.Base)
	if err != nil {
		return nil, err
	}
	a := &archives{}
	if a.now, err = d.Store.OpenFormer(f.MendedHash); err != nil {
		return nil, err
	}
	if a.before, err = d.Store.OpenFormer(f.Hash); err != nil {
		return nil, errors.Join(err, a.now.Close())
	}
	s := &Site{Files: map[string]*File{}, Links: site.Links{Base: base}, source: a}
	if memory.archive != f.MendedHash {
		memory.archive, memory.sums = f.MendedHash, map[string]summed{}
	}
	err = fs.WalkDir(a.now, ".", func(at string, e fs.DirEntry, err error) error {
		if err != nil || e.IsDir() {
			return err
		}
		if !site.Safe(at) {
			s.Left = append(s.Left, at)
			return nil
		}
		one, known := memory.sums[at]
		if !known {
			if one, err = sumOf(a.now, at); err != nil {
				return err
			}
			memory.sums[at] = one
		}
		kind := site.Shown
		if survey.IsPage(at) {
			kind = site.Page
		}
		// A picture that is no longer wanted must not stay: it may have been covered since.
		picture := strings.HasPrefix(mime.TypeByExtension(strings.ToLower(path.Ext(at))), "image/")
		s.Files[at] = &File{File: site.File{Path: at, Sum: one.sum, Bytes: one.bytes, Kind: kind}, Shared: kind != site.Page && !picture}
		return nil
	})
	if err != nil {
		return nil, errors.Join(err, a.Close())
	}
	return s, nil
}

// archives are those of a mended site, and of the one before.
type archives struct{ now, before store.FormerFiles }

func (a *archives) open(f *File) (io.ReadCloser, error) { return a.now.Open(f.Path) }

func (a *archives) was(at string) (string, error) {
	one, err := sumOf(a.before, at)
	if errors.Is(err, fs.ErrNotExist) {
		return "", nil
	}
	return one.sum, err
}

func (a *archives) Close() error { return errors.Join(a.now.Close(), a.before.Close()) }

func sumOf(files fs.FS, at string) (summed, error) {
	in, err := files.Open(at)
	if err != nil {
		return summed{}, err
	}
	defer in.Close()
	h := sha256.New()
	n, err := io.Copy(h, in)
	if err != nil {
		return summed{}, fmt.Errorf("%s: %w", at, err)
	}
	return summed{hex.EncodeToString(h.Sum(nil)), n}, nil
}
