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
