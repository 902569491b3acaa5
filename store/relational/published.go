package relational

import (
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"strings"
	"time"

	"gorm.io/gorm"
	"gorm.io/gorm/clause"

	"mivlet/core/rules"
	"mivlet/store"
)

// leastMark is the shortest mark that is looked for: as long as those of pages that
// were published by earlier versions of the program.
const leastMark = 8

func (s *Records) Publish(p *store.Page, files []store.Published, print string, at time.Time) error {
	first := !p.Live()
	if err := s.replaceFiles(p.ID, files, at); err != nil {
		return err
	}
	p.LiveVersion, p.LiveAt, p.LivePrint, p.Report, p.Compared, p.Judged = p.Version, &at, print, "", "", ""
	if err := s.write.Model(&store.Page{}).Where("id = ?", p.ID).Select("LiveVersion", "LiveAt", "LivePrint", "Report", "Compared", "Judged").Updates(p).Error; err != nil {
		return err
	}
	if p.Slug == "" {
		return s.unsettle("1 = 1") // what stands at the top of others may come from it
	}
	if first {
		return s.unjudge("1 = 1") // others may link to it
	}
	return nil
}

// replaceFiles makes files all that visitors get of a page.
func (s *Records) replaceFiles(page uint, files []store.Published, at time.Time) error {
	var before []store.Published
	if err := s.read.Find(&before, "page_id = ?", page).Error; err != nil {
		return err
	}
	if err := s.write.Where("page_id = ?", page).Delete(&store.Published{}).Error; err != nil {
		return err
	}
	for i := range files {
		files[i].PageID, files[i].PublishedAt = page, at
	}
	if err := s.addFiles(files); err != nil {
		return err
	}
	return s.noteGone(before, at)
}

func (s *Records) addFiles(files []store.Published) error {
	if len(files) == 0 {
		return nil
	}
	return s.write.CreateInBatches(&files, rowsAtOnce).Error
}

// gone is an address that something was published at. It is kept as a digest, so
// that nothing of its words stays.
type gone struct {
	Address string `gorm:"primaryKey"`
	At      time.Time
}

// TableName is the table they are kept in.
func (gone) TableName() string { return "gone" }

func addressDigest(path, mark string) string {
	sum := sha256.Sum256([]byte(path + "\x00" + mark))
	return hex.EncodeToString(sum[:])
}

// noteGone notes that files were published. Whether something is there again is
// looked for before this.
func (s *Records) noteGone(files []store.Published, at time.Time) error {
	var all []gone
	for _, f := range files {
		all = append(all, gone{addressDigest(f.Path, ""), at}, gone{addressDigest(f.Path, store.Mark(f.Hash)), at}, gone{addressDigest(f.Path, f.Hash[:leastMark]), at})
	}
	if len(all) == 0 {
		return nil
	}
	return s.write.Clauses(clause.OnConflict{DoNothing: true}).CreateInBatches(&all, rowsAtOnce).Error
}

func (s *Records) WasPublished(path, mark string) (bool, error) {
	var n int64
	err := s.read.Model(&gone{}).Where("address = ?", addressDigest(path, mark)).Count(&n).Error
	return n > 0, err
}

func (s *Records) PublishedAt(path, mark string) (store.Published, error) {
	if strings.HasPrefix(path, "/"+rules.SpotsFolder+"/") {
		return s.bannerFileAt(path)
	}
	q := s.read.Where("path = ?", path)
	if mark != "" {
		if len(mark) < leastMark {
			return store.Published{}, store.ErrNotFound
		}
		q = q.Where("substr(hash, 1, ?) = ?", len(mark), mark)
	}
	var all []store.Published
	if err := q.Order("published_at DESC").Find(&all).Error; err != nil {
		return store.Published{}, err
	}
	if len(all) == 0 {
		return store.Published{}, store.ErrNotFound
	}
	for _, f := range all[1:] {
		if f.Hash != all[0].Hash {
			return store.Published{}, store.ErrNotFound // which of them is meant, nobody can say
		}
	}
	return all[0], nil
}

func (s *Records) ShownToVisitors(hash string) (bool, error) {
	var n int64
	err := s.read.Raw("SELECT (SELECT COUNT(*) FROM published WHERE hash = ? AND picture_id > 0) + (SELECT COUNT(*) FROM banner_files WHERE hash = ?)", hash, hash).Scan(&n).Error
	return n > 0, err
}

func (s *Records) FilesOf(page uint) ([]store.Published, error) {
	var all []store.Published
	return all, s.read.Where("page_id = ?", page).Order("path, hash").Find(&all).Error
}

func (s *Records) Showing(pictures ...uint) ([]store.Published, error) {
	var all []store.Published
	err := s.inParts(pictures, func(q *gorm.DB, some []uint) error {
		var found []store.Published
		err := q.Where("picture_id IN ?", some).Order("page_id, path").Find(&found).Error
		all = append(all, found...)
		return err
	})
	return all, err
}

func (s *Records) SetReport(page uint, report string) error {
	return s.write.Model(&store.Page{}).Where("id = ?", page).UpdateColumn("report", report).Error
}

func (s *Records) SetLighterDue(page uint, due bool) error {
	if !due {
		return s.write.Exec("DELETE FROM lighter_due WHERE page_id = ?", page).Error
	}
	return s.write.Exec("INSERT INTO lighter_due (page_id) VALUES (?) ON CONFLICT DO NOTHING", page).Error
}

func (s *Records) LighterDue() ([]uint, error) {
	var ids []uint
	return ids, s.read.Raw("SELECT page_id FROM lighter_due ORDER BY id").Scan(&ids).Error
}

func (s *Records) TakeOffline(p *store.Page, at time.Time) error {
	if err := s.replaceFiles(p.ID, nil, at); err != nil {
		return err
	}
	if err := s.dropCard(p.ID); err != nil {
		return err
	}
	if err := s.SetSpots(p.ID, nil); err != nil {
		return err
	}
	p.LiveVersion, p.LiveAt, p.LivePrint, p.Report, p.Differs = 0, nil, "", "", false
	if err := s.write.Model(&store.Page{}).Where("id = ?", p.ID).Select("LiveVersion", "LiveAt", "LivePrint", "Report", "Differs").Updates(p).Error; err != nil {
		return err
	}
	if p.Slug == "" {
		return s.unsettle("1 = 1")
	}
	return s.unjudge("1 = 1") // others may link to it
}

func (s *Records) MovePage(p *store.Page, section, slug string, at time.Time) error {
	from := p.Path()
	_, err := s.NewestLive(p.ID)
	if err != nil && !errors.Is(err, store.ErrNotFound) {
		return err
	}
	known := err == nil
	p.Section, p.Slug, p.UpdatedAt = section, slug, at
	if err := s.write.Model(&store.Page{}).Where("id = ?", p.ID).Select("Section", "Slug", "UpdatedAt").Updates(p).Error; err != nil {
		return err
	}
	if err := s.write.Model(&store.Published{}).Where("page_id = ? AND path = ?", p.ID, from).UpdateColumn("path", p.Path()).Error; err != nil {
		return err
	}
	if err := s.unsettle("1 = 1"); err != nil { // others may link to it
		return err
	}
	if err := s.write.Exec("DELETE FROM redirects WHERE path = ?", p.Path()).Error; err != nil {
		return err
	}
	if !known || from == p.Path() {
		return nil
	}
	return s.write.Exec("INSERT INTO redirects (path, page_id) VALUES (?, ?) ON CONFLICT (path) DO UPDATE SET page_id = excluded.page_id", from, p.ID).Error
}

func (s *Records) MovedTo(path string) (store.Page, error) {
	var p store.Page
	return p, found(s.present().Where("id = (SELECT page_id FROM redirects WHERE path = ?)", path).First(&p).Error)
}

func (s *Records) PageAt(section, slug string) (store.Page, error) {
	var p store.Page
	return p, found(s.present().First(&p, "section = ? AND slug = ?", section, slug).Error)
}

func (s *Records) LiveTitles() ([]store.LiveTitle, error) {
	var all []store.LiveTitle
	return all, s.read.Raw("SELECT section, slug, json_extract(doc, '$.title') AS title FROM pages WHERE live_version > 0 ORDER BY section, slug").Scan(&all).Error
}

func (s *Records) AveragedPages() ([]store.PageTitle, error) {
	var all []store.PageTitle
	return all, s.read.Raw(`SELECT id, section, slug, json_extract(doc, '$.title') AS title, TRUE AS live, differs FROM pages
		WHERE live_version > 0 AND id IN (SELECT page_id FROM published WHERE averaged = TRUE) ORDER BY section, slug`).Scan(&all).Error
}

func (s *Records) LivePagesShowing(picture uint) ([]store.Page, error) {
	var all []store.Page
	return all, s.read.Where("live_version > 0 AND id IN (SELECT page_id FROM published WHERE picture_id = ?)", picture).Order("section, slug").Find(&all).Error
}
