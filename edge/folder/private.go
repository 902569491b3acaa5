package folder

import (
	"context"
	"errors"
	"io/fs"
	"os"
)

// Private is a folder for files that nobody else on this machine may read, all of which are known.
type Private struct{ *Folder }

// OpenPrivate opens a folder that is there. While it is open, nobody else writes into it.
func OpenPrivate(at string) (Private, error) {
	f, err := open(at, 0o600, 0o700)
	return Private{f}, err
}

// Reading is a folder that is only read: somebody else may be writing into it.
type Reading struct{ Private }

// OpenToRead opens a folder that is there.
func OpenToRead(at string) (Reading, error) {
	root, err := os.OpenRoot(at)
	return Reading{Private{&Folder{root: root}}}, err
}

// Close ends reading.
func (r Reading) Close() error { return r.root.Close() }

// Stamps returns those of all files. Folders that may not be read are somebody else's, such as the one
// that a file system keeps what it has found in: they are passed by.
func (p Private) Stamps(ctx context.Context) (map[string]string, error) {
	all := map[string]string{}
	return all, fs.WalkDir(p.root.FS(), ".", func(at string, d fs.DirEntry, err error) error {
		switch {
		case ctx.Err() != nil:
			return ctx.Err()
		case errors.Is(err, fs.ErrPermission) && at != ".":
			return fs.SkipDir
		case errors.Is(err, fs.ErrNotExist) && at != ".":
			return nil // it has gone while this looked
		case err != nil:
			return err
		case at == parts:
			return fs.SkipDir
		case !d.Type().IsRegular():
			return nil
		}
		info, err := d.Info()
		if errors.Is(err, fs.ErrNotExist) {
			return nil
		}
		if err == nil {
			all[at] = stampOf(info)
		}
		return err
	})
}
