package datafolder

import (
	"crypto/sha256"
	"encoding/hex"
	"fmt"
	"io"
	"slices"
	"time"

	"mivlet/store"
)

// VerifyReport tells what was looked at, and everything that is wrong.
type VerifyReport struct {
	Files     int   // that records name
	Bytes     int64 // of those
	Waiting   int   // files that no record names, young enough to be named yet or swept
	Published int   // files that visitors get
	Faults    []string
}

// Verify looks at everything in a data folder without changing it: every file is read
// and must have the content that it is named by, every file that a record names must be
// there and none that has been unnamed for longer than grace, every published file must
// be traceable to the picture that it shows, the database must be whole, and no entry
// of the trail changed or missing.
func Verify(dir string, grace time.Duration) (VerifyReport, error) {
	var r VerifyReport
	s, err := OpenForReading(dir)
	if err != nil {
		return r, err
	}
	defer s.Close()
	if r.Faults, r.Published, err = s.Check(); err != nil {
		return r, err
	}
	return r, r.checkFiles(&s.Store, time.Now().Add(-grace))
}

func (r *VerifyReport) fault(format string, args ...any) {
	r.Faults = append(r.Faults, fmt.Sprintf(format, args...))
}

// checkFiles reads every file.
func (r *VerifyReport) checkFiles(s *store.Store, before time.Time) error {
	named, err := s.NamedFiles()
	if err != nil {
		return err
	}
	err = s.Files.List(func(info store.FileInfo) error {
		if !named[info.Hash] {
			if info.KeptAt.Before(before) {
				r.fault("file %s: no record names it", info.Hash)
			} else {
				r.Waiting++
			}
			return nil
		}
		delete(named, info.Hash)
		f, err := s.Files.Open(info.Hash)
		if err != nil {
			return err
		}
		defer f.Close()
		sum := sha256.New()
		n, err := io.Copy(sum, f)
		if err != nil {
			return err
		}
		r.Files++
		r.Bytes += n
		if hex.EncodeToString(sum.Sum(nil)) != info.Hash {
			r.fault("file %s: its content is not what it is named by", info.Hash)
		}
		return nil
	})
	if err != nil {
		return err
	}
	for hash := range named {
		r.fault("file %s: a record names it, and it is missing", hash)
	}
	slices.Sort(r.Faults)
	return nil
}
