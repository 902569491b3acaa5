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
	Leaf   string // JSON of how the pages begin that list all of something; empty where they begin as usual
}

// LiveSite is what every page has to know of the others that are live.
type LiveSite struct {
	Paths  map[string]bool   // that something is published at
	Moved  map[string]string // where old addresses of live pages lead
	Known  map[string]int    // how many live pages are known by each key of lists
	Lists  map[string]bool   // keys that lists of live pages go by
	Fronts map[string]string // see [LiveRecords.LiveFronts]
}
