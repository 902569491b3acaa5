package datafolder

import (
	"errors"
	"fmt"
	"path/filepath"

	"github.com/gofrs/flock"
)

// ErrInUse means that another program works on the data folder.
var ErrInUse = errors.New("another Mivlet works on this folder")

// folderLock keeps a second server away from a data folder. The operating system
// lets go of it when the program ends, however it ends.
type folderLock struct{ file *flock.Flock }

func lockFolder(dir string) (*folderLock, error) {
	f := flock.New(filepath.Join(dir, "mivlet.lock"), flock.SetPermissions(0o600))
	got, err := f.TryLock()
	if err != nil {
		return nil, fmt.Errorf("%s cannot be locked: %w", dir, err)
	}
	if !got {
		return nil, fmt.Errorf("%s: %w; end it first, or choose another folder", dir, ErrInUse)
	}
	return &folderLock{f}, nil
}

func (l *folderLock) release() error { return l.file.Unlock() }
