package store

import (
	"crypto/sha256"
	"encoding/hex"
	"fmt"
	"io"
	"io/fs"
	"slices"
	"strings"
	"time"

	"mivlet/core/page"
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
	s, err := openForReading(dir)
	if err != nil {
		return r, err
	}
	defer s.Close()
	for _, check := range []func(*VerifyReport) error{s.verifyDatabase, s.verifyRecords, s.verifyPublished, s.verifyTrail,
		func(r *VerifyReport) error { return s.verifyFiles(r, time.Now().Add(-grace)) }} {
		if err := check(&r); err != nil {
			return r, err
		}
	}
	return r, nil
}

func (r *VerifyReport) fault(format string, args ...any) {
	r.Faults = append(r.Faults, fmt.Sprintf(format, args...))
}

func (s *Store) verifyDatabase(r *VerifyReport) error {
	var lines []string
	if err := s.read.Raw("PRAGMA integrity_check").Scan(&lines).Error; err != nil {
		return err
	}
	for _, l := range lines {
		if l != "ok" {
			r.fault("database: %s", l)
		}
	}
	var broken []struct{ Table, Parent string }
	if err := s.read.Raw(`SELECT "table", parent FROM pragma_foreign_key_check`).Scan(&broken).Error; err != nil {
		return err
	}
	for _, b := range broken {
		r.fault("database: a record of %s belongs to none of %s", b.Table, b.Parent)
	}
	return nil
}

// verifyRecords looks for documents that cannot be read and histories that are broken.
func (s *Store) verifyRecords(r *VerifyReport) error {
	if _, _, err := s.Rules(); err != nil {
		r.fault("house rules: %v", err)
	}
	var pages []struct {
		ID  uint
		Doc string
	}
	if err := s.read.Raw("SELECT id, doc FROM pages").Scan(&pages).Error; err != nil {
		return err
	}
	for _, p := range pages {
		if _, err := page.Parse([]byte(p.Doc)); err != nil {
			r.fault("page %d: %v", p.ID, err)
		}
	}
	var stray []uint
	err := s.read.Raw("SELECT id FROM pictures WHERE NOT EXISTS (SELECT 1 FROM steps WHERE steps.picture_id = pictures.id AND steps.seq = pictures.step)").Scan(&stray).Error
	for _, id := range stray {
		r.fault("picture %d: the step of its history that is shown is missing", id)
	}
	return err
}

// verifyPublished traces every file that visitors get to what it was made from.
func (s *Store) verifyPublished(r *VerifyReport) error {
	var files []Published
	if err := s.read.Order("page_id, path").Find(&files).Error; err != nil {
		return err
	}
	var pages []Page
	if err := s.read.Where("live_version > 0").Find(&pages).Error; err != nil {
		return err
	}
	var pictures []uint
	if err := s.read.Model(&Picture{}).Pluck("id", &pictures).Error; err != nil {
		return err
	}
	live := map[uint]LiveVersion{}
	for _, p := range pages {
		v, err := s.NewestLive(p.ID)
		if err != nil {
			r.fault("page %s: it is live, and no record says what of it", p.Path())
			continue
		}
		live[p.ID] = v
		if !slices.ContainsFunc(files, func(f Published) bool { return f.PageID == p.ID && f.Path == p.Path() }) {
			r.fault("page %s: it is live, and has no file", p.Path())
		}
	}
	r.Published = len(files)
	there := map[uint]bool{}
	for _, id := range pictures {
		there[id] = true
	}
	for _, f := range files {
		v, ok := live[f.PageID]
		switch {
		case !ok:
			r.fault("%s: published for a page that is not live", f.Path)
		case !slices.ContainsFunc(v.Files, func(o Published) bool { return o.Hash == f.Hash }):
			r.fault("%s: not among the files that went live", f.Path)
		case f.PictureID != 0 && !there[f.PictureID]:
			r.fault("%s: shows picture %d, which is not there", f.Path, f.PictureID)
		case f.PictureID != 0 && f.CutKey == "":
			r.fault("%s: nobody knows what it was cut from", f.Path)
		case f.PictureID == 0 && strings.HasPrefix(f.MediaType, "image/") && f.MediaType != "image/svg+xml":
			r.fault("%s: a picture that cannot be traced to one of the house", f.Path)
		}
	}
	return nil
}

func (s *Store) verifyTrail(r *VerifyReport) error {
	faults, err := s.CheckTrail()
	r.Faults = append(r.Faults, faults...)
	return err
}

// verifyFiles reads every file.
func (s *Store) verifyFiles(r *VerifyReport, before time.Time) error {
	named, err := s.NamedFiles()
	if err != nil {
		return err
	}
	err = s.Blobs.Walk(func(hash string, info fs.FileInfo) error {
		if !named[hash] {
			if info.ModTime().Before(before) {
				r.fault("file %s: no record names it", hash)
			} else {
				r.Waiting++
			}
			return nil
		}
		delete(named, hash)
		f, err := s.Blobs.Open(hash)
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
		if hex.EncodeToString(sum.Sum(nil)) != hash {
			r.fault("file %s: its content is not what it is named by", hash)
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
