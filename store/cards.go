package store

import (
	"time"

	"mivlet/core/page"
)

// LiveCard is a live page as lists show it: what was signed when it went live. Its address
// is that of the page.
type LiveCard struct {
	PageID  uint `gorm:"primaryKey;autoIncrement:false"`
	Title   string
	FromDay string // see [page.Details]
	Until   string
	Summary string
	FirstAt time.Time       // when the page went live for the first time
	Cover   uint            // the picture that stands for it; 0 for none
	Files   []page.CardFile `gorm:"serializer:json"`

	Section string `gorm:"->;-:migration"` // of the page, as it is now
	Slug    string `gorm:"->;-:migration"`
}

// TableName is the table they are kept in.
func (LiveCard) TableName() string { return "live_cards" }

// Path is the address of the page on the site.
func (c LiveCard) Path() string { return Page{Section: c.Section, Slug: c.Slug}.Path() }

// Card is the same without what only the records know.
func (c LiveCard) Card() page.Card {
	return page.Card{Page: c.PageID, Path: c.Path(), Title: c.Title, From: c.FromDay, Until: c.Until, Summary: c.Summary, Files: c.Files}
}

// CardQuery says which cards are wanted.
type CardQuery struct {
	Key   string // pages that are known by it; see [page.Doc.KnownBy]
	Pages []uint // or these, in this order
	Order page.Order
	But   uint // not this page
	Most  int  // 0 is all
}

// CardRecords keep what lists show of live pages, and which live pages hold lists. All of
// it goes with [PublishedRecords.TakeOffline].
type CardRecords interface {
	// SetCard keeps what lists show of a live page, what it is known by, and what the lists
	// on it go by.
	SetCard(c LiveCard, knownBy, lists []string) error
	// Card returns what lists show of a page, and what it is known by. It fails with
	// [ErrNotFound] where the page is not live.
	Card(page uint) (LiveCard, []string, error)
	// Cards returns the cards that a query wants, and how many there are without its limit.
	Cards(q CardQuery) ([]LiveCard, int, error)
	// Listing returns the live pages that hold a list which goes by one of some keys.
	Listing(keys []string) ([]uint, error)
	// WithCover returns the live pages that a picture stands for.
	WithCover(picture uint) ([]uint, error)
	// Uncover takes a picture off the cards that it stands on.
	Uncover(picture uint) error
	// Relist makes files what visitors get of a live page whose lists were made anew, and
	// changes nothing else of it. was is what they got of it; read it in the same transaction.
	Relist(page uint, was, files []Published, at time.Time) error
	// Themes returns what drafts are about: their tags, and how many have each.
	Themes() (map[string]int, error)
}
