package store

import (
	"path"
	"slices"
	"time"

	"mivlet/core/page"
)

// Page is a shared page: the draft, and what of it is live.
type Page struct {
	ID          uint
	Section     string
	Slug        string
	Doc         page.Doc `gorm:"serializer:json"`
	Version     int      // counts up with every change of the draft
	Step        int      // the step of the history that is shown
	LiveVersion int      // version that was published; 0 means never
	LiveAt      *time.Time
	LivePrint   string     // stands for all that visitors got; see desk
	Report      string     // JSON of what was checked after publishing
	UpdatedAt   time.Time  `gorm:"autoUpdateTime:false"`
	DroppedAt   *time.Time // when it was deleted; nil while it is there
	Sample      bool       // it is there to try on; see [SampleRecords]

	// What was worked out of the rest and is kept until something is written that
	// may change it; see [AnswerRecords].
	Differs  bool   // visitors see something else than the draft would give
	Compared string // what Differs was worked out under; "" where it has to be anew
	Stops    int    // findings of its sign-off
	Warns    int
	Judged   string // what Stops and Warns were worked out under; "" likewise
}

// Live reports whether the page can be seen by visitors.
func (p Page) Live() bool { return p.LiveVersion > 0 }

// Shows reports whether a picture stands on the draft.
func (p Page) Shows(picture uint) bool { return slices.Contains(p.Doc.Pictures(), picture) }

// Path is the address of the page on the site. Front pages are known by their section, or,
// without one, by their category; the house's own stands at the root.
func (p Page) Path() string { return path.Join("/", p.Section, p.Slug) }

// Front reports whether the page is the front page of the house, of a section or of a
// category.
func (p Page) Front() bool { return p.Section == "" || p.Slug == "" }

// PageStep is one entry of a page's history. Step 0 is how the page began. Steps
// are a tree, as those of pictures are.
type PageStep struct {
	ID        uint
	PageID    uint
	Seq       int // in the order they were made
	Parent    int // the step that it was made from; -1 for step 0
	Text      string
	Doc       page.Doc  `gorm:"serializer:json"`
	Person    string    // who did it
	CreatedAt time.Time `gorm:"autoCreateTime:false"`
}

// Numbers are those of the step and of the one that it was made from.
func (s PageStep) Numbers() (own, from int) { return s.Seq, s.Parent }

// Standing is where a picture is in the order of the work.
type Standing struct {
	Station Station
	Name    string
	Placed  bool // it stands on a draft, or is in an album
}
