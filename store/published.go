package store

import (
	"time"
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
	For            string   // what it is for, where that is not the page itself: a shape of its cover, a list
	Width, Height  int      // in pixels, of a cover
	Averaged       bool     // it was cut when veils were averages of what they hid, which can be guessed back
}

// PageType is the media type of pages as they are published.
const PageType = "text/html; charset=utf-8"

// What files of a page are for that are made for its lists, and made anew with them.
const (
	ForList = "list" // the cover of another page
	ForLeaf = "leaf" // a page that lists all of something
)

// ForAlbum is what the page of one picture of an album is for.
const ForAlbum = "album"

// OfList reports whether a file was made for a list of its page.
func (p Published) OfList() bool { return p.For == ForList || p.For == ForLeaf }

// TableName is the table the published files are kept in.
func (Published) TableName() string { return "published" }

// Mark is the part of a content hash that stands in an address: 16 hex digits.
func Mark(hash string) string { return hash[:min(16, len(hash))] }

// LiveTitle is a live page in the site's navigation.
type LiveTitle struct{ Section, Slug, Title string }
