package store

import (
	"time"

	"mivlet/core/banner"
)

// Banner is a dated notice of one section, for a spot of the house.
type Banner struct {
	ID         uint
	Section    string
	Doc        banner.Doc  `gorm:"serializer:json"`
	Live       *banner.Doc `gorm:"serializer:json"` // as a publisher approved it; nil where none has
	ApprovedAt *time.Time
	ApprovedBy string
	Stopped    bool
	Version    int // counts up with every change of what it says
	Step       int // the step of the history that is shown
	DroppedAt  *time.Time
	UpdatedAt  time.Time `gorm:"autoUpdateTime:false"`
}

// Dropped reports whether the banner was deleted. Its picture stays.
func (b Banner) Dropped() bool { return b.DroppedAt != nil }

// BannerStep is one entry of a banner's history; see [PageStep].
type BannerStep struct {
	ID        uint
	BannerID  uint
	Seq       int
	Parent    int
	Text      string
	Doc       banner.Doc `gorm:"serializer:json"`
	Person    string
	CreatedAt time.Time `gorm:"autoCreateTime:false"`
}

// Numbers are those of the step and of the one that it was made from.
func (s BannerStep) Numbers() (own, from int) { return s.Seq, s.Parent }

// BannerFile is one file of a banner as visitors get it.
type BannerFile struct {
	BannerID       uint   `gorm:"primaryKey;autoIncrement:false"`
	Path           string `gorm:"primaryKey"` // tells its content
	Hash           string
	MediaType      string
	PictureID      uint
	PictureVersion int
	CutKey         string
	Original       string   // hash of the file that it was cut from
	Veils          []string `gorm:"serializer:json"`
	Width, Height  int      // in pixels
	Phone          bool     // it is of the size for phones
	Moves          bool     // another stands still in its place
	Lighter        bool     // offered beside another, to browsers that know its type
}

// Occasion is a named period in which banners may run, both days included.
type Occasion struct {
	ID        uint
	Title     string
	FromDay   string
	Until     string
	UpdatedAt time.Time `gorm:"autoUpdateTime:false"`
}

// Known is the same for the arithmetic.
func (o Occasion) Known() banner.Occasion {
	return banner.Occasion{ID: o.ID, Title: o.Title, From: o.FromDay, Until: o.Until}
}

// BannerDay is how often a banner was shown, and followed, on a day of the house. Nothing tells
// by whom.
type BannerDay struct {
	BannerID uint   `gorm:"primaryKey;autoIncrement:false"`
	Day      string `gorm:"primaryKey"`
	Shown    int
	Followed int
}

// BannerRecords keep banners, their histories and files, and how often they were shown.
type BannerRecords interface {
	// AddBanner keeps a new banner and its step 0.
	AddBanner(b *Banner) error
	// Banner returns the banner with a number, also a deleted one.
	Banner(id uint) (Banner, error)
	// Banners returns all banners by their titles, the deleted ones where asked.
	Banners(dropped bool) ([]Banner, error)
	// BannersFor returns the banners that visitors may get in some spots on a day or later: what
	// is a draft, stopped, deleted or over is left out.
	BannersFor(spots []string, day string) ([]Banner, error)
	// BannersWith returns the banners that show a picture, as a draft or to visitors, and are
	// not deleted.
	BannersWith(picture uint) ([]Banner, error)
	// AddBannerStep writes what a banner says as a step that follows the one that is shown. It
	// fails with [ErrStale] where the banner is no longer at the version that it was made from.
	// Call it in a transaction.
	AddBannerStep(b *Banner, text, person string, at time.Time) error
	// ShowBannerStep makes a step of the history what the banner says.
	ShowBannerStep(b *Banner, seq int, at time.Time) error
	// BannerSteps returns the history of a banner, oldest first.
	BannerSteps(banner uint) ([]BannerStep, error)
	// Approve keeps what visitors get of a banner, in the place of what they got. Without a
	// live version they get nothing any more. Call it in a transaction.
	Approve(b *Banner, files []BannerFile, at time.Time) error
	// StopBanner stops a banner, or lets it go on.
	StopBanner(id uint, stopped bool) error
	// DropBanner deletes a banner, or with nil brings it back.
	DropBanner(id uint, at *time.Time) error
	// BannerFiles returns what visitors get of some banners, the smaller files first; without
	// numbers of all.
	BannerFiles(banners ...uint) (map[uint][]BannerFile, error)
	// ForgetInBanners takes pictures off all banners, live ones, too, and out of their
	// histories, and rewrites the lines of those histories.
	ForgetInBanners(pictures []uint, rewrite func(string) string, at time.Time) error

	// Occasions returns all occasions by their first days.
	Occasions() ([]Occasion, error)
	// SaveOccasion keeps an occasion; one without a number is new.
	SaveOccasion(o *Occasion) error
	// DropOccasion takes an occasion out.
	DropOccasion(id uint) error

	// CountBanners adds to how often banners were shown and followed.
	CountBanners(more []BannerDay) error
	// BannerDays returns how often a banner was shown and followed, oldest day first; with 0 of
	// all banners.
	BannerDays(banner uint) ([]BannerDay, error)

	// SetSpots notes which spots the live version of a page has a place for.
	SetSpots(page uint, spots []string) error
	// SpotsOf returns them.
	SpotsOf(page uint) ([]string, error)
}
