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
func (s *Store) AddLiveVersion(v *LiveVersion) error { return s.write.Create(v).Error }

// LiveVersions returns what visitors got of a page, newest first, without documents
// and files: those of many years are many times the page.
func (s *Store) LiveVersions(page uint) ([]LiveVersion, error) {
	var all []LiveVersion
	return all, s.read.Omit("Doc", "Files").Where("page_id = ?", page).Order("id DESC").Find(&all).Error
}

// WholeLiveVersions returns what visitors got of a page, newest first, with all of it.
func (s *Store) WholeLiveVersions(page uint) ([]LiveVersion, error) {
	var all []LiveVersion
	return all, s.read.Where("page_id = ?", page).Order("id DESC").Find(&all).Error
}

// NewestLive returns what visitors got of a page last.
func (s *Store) NewestLive(page uint) (LiveVersion, error) {
	var v LiveVersion
	return v, found(s.read.Where("page_id = ?", page).Order("id DESC").First(&v).Error)
}

// LiveVersion returns one of them.
func (s *Store) LiveVersion(page, id uint) (LiveVersion, error) {
	var v LiveVersion
	return v, found(s.read.First(&v, "id = ? AND page_id = ?", id, page).Error)
}
