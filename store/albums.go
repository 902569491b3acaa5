package store

import (
	"time"

	"mivlet/core/album"
)

// Album is an ordered set of pictures, of one section.
type Album struct {
	ID        uint
	Section   string
	Doc       album.Album `gorm:"serializer:json"`
	Version   int         // counts up with every change
	Step      int         // the step of the history that is shown
	DroppedAt *time.Time  // when it was deleted; nil while it is there
	UpdatedAt time.Time   `gorm:"autoUpdateTime:false"`
}

// Dropped reports whether the album was deleted. Its pictures stay.
func (a Album) Dropped() bool { return a.DroppedAt != nil }

// AlbumStep is one entry of an album's history; see [PageStep].
type AlbumStep struct {
	ID        uint
	AlbumID   uint
	Seq       int
	Parent    int
	Text      string
	Doc       album.Album `gorm:"serializer:json"`
	Person    string
	CreatedAt time.Time `gorm:"autoCreateTime:false"`
}

// Numbers are those of the step and of the one that it was made from.
func (s AlbumStep) Numbers() (own, from int) { return s.Seq, s.Parent }

// AlbumPage is a page that shows an album: in its draft, to visitors, or both.
type AlbumPage struct {
	Page    `gorm:"embedded"`
	AlbumID uint
	OnDraft bool
	OnLive  bool
}

// AlbumRecords keep albums and their histories. Whatever changes an album changes which
// pictures stand on the pages that show it, and what was worked out of these pages.
type AlbumRecords interface {
	// AddAlbum keeps a new album and its step 0.
	AddAlbum(a *Album) error
	// Album returns the album with a number, also a deleted one.
	Album(id uint) (Album, error)
	// Albums returns all albums by section and title, the deleted ones where asked.
	Albums(dropped bool) ([]Album, error)
	// AlbumsIn returns those of some albums that are there and not deleted.
	AlbumsIn(ids []uint) (map[uint]Album, error)
	// AlbumsWith returns the albums that hold a picture and are not deleted.
	AlbumsWith(picture uint) ([]Album, error)
	// AddAlbumStep writes an album as a step that follows the one that is shown. It fails with
	// [ErrStale] where the album is no longer at the version that it was made from. Call it in
	// a transaction.
	AddAlbumStep(a *Album, text, person string, at time.Time) error
	// ShowAlbumStep makes a step of the history what the album is.
	ShowAlbumStep(a *Album, seq int, at time.Time) error
	// AlbumSteps returns the history of an album, oldest first, without what it held.
	AlbumSteps(album uint) ([]AlbumStep, error)
	// DropAlbum deletes an album, or with nil brings it back.
	DropAlbum(id uint, at *time.Time) error
	// AlbumPages returns the pages that show some albums, by those; without numbers, of all.
	AlbumPages(albums ...uint) (map[uint][]AlbumPage, error)
	// ForgetInAlbums takes pictures out of all albums and their histories, and rewrites the
	// lines of those histories.
	ForgetInAlbums(pictures []uint, rewrite func(string) string) error
}
