package relational

import (
	"fmt"
	"slices"
	"strings"

	"mivlet/core/album"
	"mivlet/core/banner"
	"mivlet/core/page"
	"mivlet/store"
)

// report is what is wrong with the records.
type report struct {
	faults    []string
	published int // files that visitors get
}

func (r *report) fault(format string, args ...any) {
	r.faults = append(r.faults, fmt.Sprintf(format, args...))
}

func (s *Records) Check() (faults []string, published int, err error) {
	var r report
	for _, check := range []func(*report) error{s.checkDatabase, s.checkDocuments, s.checkPublished, s.checkTrail} {
		if err := check(&r); err != nil {
			return nil, 0, err
		}
	}
	return r.faults, r.published, nil
}

func (s *Records) checkDatabase(r *report) error {
	faults, err := s.engine.Check(s.read)
	for _, f := range faults {
		r.fault("database: %s", f)
	}
	return err
}

// checkDocuments looks for documents that cannot be read and histories that are broken.
func (s *Records) checkDocuments(r *report) error {
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
	var albums []struct {
		ID  uint
		Doc string
	}
	if err := s.read.Raw("SELECT id, doc FROM albums").Scan(&albums).Error; err != nil {
		return err
	}
	for _, a := range albums {
		if _, err := album.Parse([]byte(a.Doc)); err != nil {
			r.fault("album %d: %v", a.ID, err)
		}
	}
	var banners []struct {
		ID  uint
		Doc string
	}
	if err := s.read.Raw("SELECT id, doc FROM banners").Scan(&banners).Error; err != nil {
		return err
	}
	for _, b := range banners {
		if _, err := banner.Parse([]byte(b.Doc)); err != nil {
			r.fault("banner %d: %v", b.ID, err)
		}
	}
	var stray []uint
	err := s.read.Raw("SELECT id FROM pictures WHERE NOT EXISTS (SELECT 1 FROM steps WHERE steps.picture_id = pictures.id AND steps.seq = pictures.step)").Scan(&stray).Error
	for _, id := range stray {
		r.fault("picture %d: the step of its history that is shown is missing", id)
	}
	return err
}

// checkPublished traces every file that visitors get to what it was made from.
func (s *Records) checkPublished(r *report) error {
	var files []store.Published
	if err := s.read.Order("page_id, path").Find(&files).Error; err != nil {
		return err
	}
	var pages []store.Page
	if err := s.read.Where("live_version > 0").Find(&pages).Error; err != nil {
		return err
	}
	var pictures []uint
	if err := s.read.Model(&store.Picture{}).Pluck("id", &pictures).Error; err != nil {
		return err
	}
	live := map[uint]store.LiveVersion{}
	for _, p := range pages {
		v, err := s.NewestLive(p.ID)
		if err != nil {
			r.fault("page %s: it is live, and no record says what of it", p.Path())
			continue
		}
		live[p.ID] = v
		if !slices.ContainsFunc(files, func(f store.Published) bool { return f.PageID == p.ID && f.Path == p.Path() }) {
			r.fault("page %s: it is live, and has no file", p.Path())
		}
	}
	r.published = len(files)
	there := map[uint]bool{}
	for _, id := range pictures {
		there[id] = true
	}
	for _, f := range files {
		v, ok := live[f.PageID]
		switch {
		case !ok:
			r.fault("%s: published for a page that is not live", f.Path)
		case !slices.ContainsFunc(v.Files, func(o store.Published) bool { return o.Hash == f.Hash }):
			r.fault("%s: not among the files that went live", f.Path)
		case f.PictureID != 0 && !there[f.PictureID]:
			r.fault("%s: shows picture %d, which is not there", f.Path, f.PictureID)
		case f.PictureID != 0 && f.CutKey == "":
			r.fault("%s: nobody knows what it was cut from", f.Path)
		case f.PictureID == 0 && strings.HasPrefix(f.MediaType, "image/") && f.MediaType != "image/svg+xml":
			r.fault("%s: a picture that cannot be traced to one of the house", f.Path)
		}
	}
	return s.checkBannerFiles(r, there)
}

// checkBannerFiles traces what visitors get of banners to the pictures it was made from.
func (s *Records) checkBannerFiles(r *report, there map[uint]bool) error {
	var files []store.BannerFile
	if err := s.read.Order("banner_id, path").Find(&files).Error; err != nil {
		return err
	}
	r.published += len(files)
	for _, f := range files {
		switch {
		case !there[f.PictureID]:
			r.fault("%s: shows picture %d, which is not there", f.Path, f.PictureID)
		case f.CutKey == "":
			r.fault("%s: nobody knows what it was cut from", f.Path)
		}
	}
	return nil
}

func (s *Records) checkTrail(r *report) error {
	faults, err := s.CheckTrail()
	r.faults = append(r.faults, faults...)
	return err
}
