package store

import "time"

// LiveVersion is what visitors once got of a page: its files, and the document
// that they were made from.
type LiveVersion struct {
	ID     uint
	PageID uint
	At     time.Time
	Person string
	Path   string
	Doc    string      // JSON of the page document
	Files  []Published `gorm:"serializer:json"`
	Print  string
	Signed string // JSON of who let it go live all the same, and why; empty where nothing said stop
}

// AddLiveVersion keeps what has just gone live.
func (s *Store) AddLiveVersion(v *LiveVersion) error { return s.db.Create(v).Error }

// LiveVersions returns what visitors got of a page, newest first.
func (s *Store) LiveVersions(page uint) ([]LiveVersion, error) {
	var all []LiveVersion
	return all, s.db.Where("page_id = ?", page).Order("id DESC").Find(&all).Error
}

// LiveVersion returns one of them.
func (s *Store) LiveVersion(page, id uint) (LiveVersion, error) {
	var v LiveVersion
	return v, found(s.db.First(&v, "id = ? AND page_id = ?", id, page).Error)
}

// TakeOffline takes everything that visitors get of a page away.
func (s *Store) TakeOffline(p *Page) error {
	if err := s.db.Where("page_id = ?", p.ID).Delete(&Published{}).Error; err != nil {
		return err
	}
	p.LiveVersion, p.LiveAt, p.LivePrint, p.Report = 0, nil, "", ""
	return s.db.Model(&Page{}).Where("id = ?", p.ID).Select("LiveVersion", "LiveAt", "LivePrint", "Report").Updates(p).Error
}

// MovePage gives a page another address. Where visitors knew the old one, it leads
// to the new one from now on.
func (s *Store) MovePage(p *Page, section, slug string, at time.Time) error {
	from := p.Path()
	known, err := s.LiveVersions(p.ID)
	if err != nil {
		return err
	}
	p.Section, p.Slug, p.UpdatedAt = section, slug, at
	if err := s.db.Model(&Page{}).Where("id = ?", p.ID).Select("Section", "Slug", "UpdatedAt").Updates(p).Error; err != nil {
		return err
	}
	if err := s.db.Model(&Published{}).Where("page_id = ? AND path = ?", p.ID, from).UpdateColumn("path", p.Path()).Error; err != nil {
		return err
	}
	if err := s.db.Exec("DELETE FROM redirects WHERE path = ?", p.Path()).Error; err != nil {
		return err
	}
	if len(known) == 0 || from == p.Path() {
		return nil
	}
	return s.db.Exec("INSERT INTO redirects (path, page_id) VALUES (?, ?) ON CONFLICT (path) DO UPDATE SET page_id = excluded.page_id", from, p.ID).Error
}

// MovedTo returns the page that an old address leads to.
func (s *Store) MovedTo(path string) (Page, error) {
	var p Page
	return p, found(s.db.Where("id = (SELECT page_id FROM redirects WHERE path = ?)", path).First(&p).Error)
}

// PageAt returns the page with an address, live or not.
func (s *Store) PageAt(section, slug string) (Page, error) {
	var p Page
	return p, found(s.db.First(&p, "section = ? AND slug = ?", section, slug).Error)
}
