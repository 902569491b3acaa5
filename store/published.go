package store

import (
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"time"

	"gorm.io/gorm"
	"gorm.io/gorm/clause"
)

// Published is one file as visitors get it, with what it was made from. Its address
// is its path with the mark of its content: two files never share one.
type Published struct {
	PageID      uint   `gorm:"primaryKey;autoIncrement:false"`
	Path        string `gorm:"primaryKey"`
	Hash        string `gorm:"primaryKey"`
	MediaType   string
	PublishedAt time.Time

	PictureID      uint     // 0 for what shows no picture
	PictureVersion int      // of the picture as it was cut
	CutKey         string   // of the cut
	Original       string   // hash of the file that it was cut from
	Veils          []string `gorm:"serializer:json"` // stand for the veils that it was cut with; see desk
	Averaged       bool     // it was cut when veils were averages of what they hid, which can be guessed back
}

// TableName is the table the published files are kept in.
func (Published) TableName() string { return "published" }

// Mark is the part of a content hash that stands in an address: 16 hex digits.
func Mark(hash string) string { return hash[:min(16, len(hash))] }

// leastMark is the shortest mark that is looked for: as long as those of pages that
// were published by earlier versions of the program.
const leastMark = 8

// Publish replaces everything that visitors get of a page, and notes which version of
// the draft it is. Addresses that are not among the new ones answer from now on that
// they are gone.
func (s *Store) Publish(p *Page, files []Published, print string, at time.Time) error {
	first := !p.Live()
	if err := s.replaceFiles(p.ID, files, at); err != nil {
		return err
	}
	p.LiveVersion, p.LiveAt, p.LivePrint, p.Report, p.Compared, p.Judged = p.Version, &at, print, "", "", ""
	if err := s.write.Model(&Page{}).Where("id = ?", p.ID).Select("LiveVersion", "LiveAt", "LivePrint", "Report", "Compared", "Judged").Updates(p).Error; err != nil {
		return err
	}
	if first {
		return s.unjudge("1 = 1") // others may link to it
	}
	return nil
}

// replaceFiles makes files all that visitors get of a page.
func (s *Store) replaceFiles(page uint, files []Published, at time.Time) error {
	var before []Published
	if err := s.read.Find(&before, "page_id = ?", page).Error; err != nil {
		return err
	}
	if err := s.write.Where("page_id = ?", page).Delete(&Published{}).Error; err != nil {
		return err
	}
	for i := range files {
		files[i].PageID, files[i].PublishedAt = page, at
	}
	if len(files) > 0 {
		if err := s.write.Create(&files).Error; err != nil {
			return err
		}
	}
	return s.noteGone(before, at)
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
func (s *Store) noteGone(files []Published, at time.Time) error {
	var all []gone
	for _, f := range files {
		all = append(all, gone{addressDigest(f.Path, ""), at}, gone{addressDigest(f.Path, Mark(f.Hash)), at}, gone{addressDigest(f.Path, f.Hash[:leastMark]), at})
	}
	if len(all) == 0 {
		return nil
	}
	return s.write.Clauses(clause.OnConflict{DoNothing: true}).Create(&all).Error
}

// WasPublished reports whether something was published at an address once.
func (s *Store) WasPublished(path, mark string) (bool, error) {
	var n int64
	err := s.read.Model(&gone{}).Where("address = ?", addressDigest(path, mark)).Count(&n).Error
	return n > 0, err
}

// PublishedAt returns the file that visitors get at a path. mark, the beginning of a
// content hash, tells which content is meant; without one there must be no more than
// one. It fails with [ErrNotFound].
func (s *Store) PublishedAt(path, mark string) (Published, error) {
	q := s.read.Where("path = ?", path)
	if mark != "" {
		if len(mark) < leastMark {
			return Published{}, ErrNotFound
		}
		q = q.Where("substr(hash, 1, ?) = ?", len(mark), mark)
	}
	var all []Published
	if err := q.Order("published_at DESC").Find(&all).Error; err != nil {
		return Published{}, err
	}
	if len(all) == 0 {
		return Published{}, ErrNotFound
	}
	for _, f := range all[1:] {
		if f.Hash != all[0].Hash {
			return Published{}, ErrNotFound // which of them is meant, nobody can say
		}
	}
	return all[0], nil
}

// ShownToVisitors reports whether visitors get a file of a content as a picture.
func (s *Store) ShownToVisitors(hash string) (bool, error) {
	var n int64
	err := s.read.Model(&Published{}).Where("hash = ? AND picture_id > 0", hash).Count(&n).Error
	return n > 0, err
}

// FilesOf returns all files that visitors get of a page.
func (s *Store) FilesOf(page uint) ([]Published, error) {
	var all []Published
	return all, s.read.Where("page_id = ?", page).Order("path, hash").Find(&all).Error
}

// Showing returns the published files that show some pictures.
func (s *Store) Showing(pictures ...uint) ([]Published, error) {
	var all []Published
	err := s.inParts(pictures, func(q *gorm.DB, some []uint) error {
		var found []Published
		err := q.Where("picture_id IN ?", some).Order("page_id, path").Find(&found).Error
		all = append(all, found...)
		return err
	})
	return all, err
}

// LivePaths returns every path that something is published at, and where old
// addresses of live pages lead.
func (s *Store) LivePaths() (live map[string]bool, moved map[string]string, err error) {
	var rows []struct{ Path, Section, Slug string }
	err = s.read.Raw(`SELECT DISTINCT path, '' AS section, '' AS slug FROM published
		UNION ALL SELECT redirects.path, pages.section, pages.slug FROM redirects JOIN pages ON pages.id = redirects.page_id WHERE pages.live_version > 0`).Scan(&rows).Error
	live, moved = make(map[string]bool, len(rows)), map[string]string{}
	for _, r := range rows {
		if r.Slug == "" {
			live[r.Path] = true
		} else {
			moved[r.Path] = Page{Section: r.Section, Slug: r.Slug}.Path()
		}
	}
	return live, moved, err
}

// SetReport keeps what was checked after publishing.
func (s *Store) SetReport(page uint, report string) error {
	return s.write.Model(&Page{}).Where("id = ?", page).UpdateColumn("report", report).Error
}

// TakeOffline takes everything that visitors get of a page away.
func (s *Store) TakeOffline(p *Page, at time.Time) error {
	if err := s.replaceFiles(p.ID, nil, at); err != nil {
		return err
	}
	p.LiveVersion, p.LiveAt, p.LivePrint, p.Report, p.Differs = 0, nil, "", "", false
	if err := s.write.Model(&Page{}).Where("id = ?", p.ID).Select("LiveVersion", "LiveAt", "LivePrint", "Report", "Differs").Updates(p).Error; err != nil {
		return err
	}
	return s.unjudge("1 = 1") // others may link to it
}

// MovePage gives a page another address. Where visitors knew the old one, it leads
// to the new one from now on.
func (s *Store) MovePage(p *Page, section, slug string, at time.Time) error {
	from := p.Path()
	_, err := s.NewestLive(p.ID)
	if err != nil && !errors.Is(err, ErrNotFound) {
		return err
	}
	known := err == nil
	p.Section, p.Slug, p.UpdatedAt = section, slug, at
	if err := s.write.Model(&Page{}).Where("id = ?", p.ID).Select("Section", "Slug", "UpdatedAt").Updates(p).Error; err != nil {
		return err
	}
	if err := s.write.Model(&Published{}).Where("page_id = ? AND path = ?", p.ID, from).UpdateColumn("path", p.Path()).Error; err != nil {
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

// MovedTo returns the page that an old address leads to.
func (s *Store) MovedTo(path string) (Page, error) {
	var p Page
	return p, found(s.read.Where("id = (SELECT page_id FROM redirects WHERE path = ?)", path).First(&p).Error)
}

// PageAt returns the page with an address, live or not.
func (s *Store) PageAt(section, slug string) (Page, error) {
	var p Page
	return p, found(s.read.First(&p, "section = ? AND slug = ?", section, slug).Error)
}

// LiveTitle is a live page in the site's navigation.
type LiveTitle struct{ Section, Slug, Title string }

// LiveTitles returns every live page by its title, in the order of their addresses.
func (s *Store) LiveTitles() ([]LiveTitle, error) {
	var all []LiveTitle
	return all, s.read.Raw("SELECT section, slug, json_extract(doc, '$.title') AS title FROM pages WHERE live_version > 0 ORDER BY section, slug").Scan(&all).Error
}

// AveragedPages returns the live pages whose files were cut when veils were averages of
// what they hid.
func (s *Store) AveragedPages() ([]PageTitle, error) {
	var all []PageTitle
	return all, s.read.Raw(`SELECT id, section, slug, json_extract(doc, '$.title') AS title, 1 AS live, differs FROM pages
		WHERE live_version > 0 AND id IN (SELECT page_id FROM published WHERE averaged = 1) ORDER BY section, slug`).Scan(&all).Error
}

// LivePagesShowing returns the live pages that show a picture.
func (s *Store) LivePagesShowing(picture uint) ([]Page, error) {
	var all []Page
	return all, s.read.Where("live_version > 0 AND id IN (SELECT page_id FROM published WHERE picture_id = ?)", picture).Order("section, slug").Find(&all).Error
}
