package store

import (
	"time"

	"mivlet/core/consent"
	"mivlet/core/face"
	"mivlet/core/facts"
	"mivlet/core/recipe"
)

// Station is where a picture is in the order of the work.
type Station string

// The stations a picture can be at.
const (
	Arrivals Station = "arrivals"
	Bench    Station = "bench"
	Shelf    Station = "shelf" // placed on a page
	Bin      Station = "bin"   // thrown away, to be brought back
)

// Picture is one image: its untouched original, its recipe, its name and words.
type Picture struct {
	ID                  uint
	Section             string
	OriginalHash        string
	OriginalName        string      // what the file was called when it came
	Facts               facts.Facts `gorm:"serializer:json"`
	PagesBrought        []int       `gorm:"serializer:json"` // other pages of its file that became pictures, as long as not all have
	Station             Station
	Secret              string `json:"-"` // random, of this picture and its variants: what it keys tells nothing of the original
	Version             int    // counts up with every change, whoever makes it
	Step                int    // the step of the history that is shown
	Work                Work   `gorm:"serializer:json"`
	Name                string // Work.Name, for finding
	PreviewHash         string // working copy for the stage, upright and as it arrived
	ThumbHash           string // small copy with the recipe that LookKey stands for
	LookHash            string // larger copy with the same recipe
	LookKey             string
	Folder              string // path below the section's shelf, such as 2026/autumn; "" is its root
	Person              string // who brought it in
	VariantOf           uint   // the picture whose original it shares; 0 for none
	Converted           string // media type that it came as, where it was converted
	ArrivedHash         string // the file as it came, where it was converted
	Was                 Station
	BinnedAt            *time.Time
	Sample              bool      // it is there to try on; see [SampleRecords]
	TwinA, TwinB, TwinC int64     // perceptual hashes, see core/twin
	TwinCrops           []byte    // those of its crops; nothing where they were not made yet
	CreatedAt           time.Time `gorm:"autoCreateTime:false"`
	UpdatedAt           time.Time `gorm:"autoUpdateTime:false"`

	// What shelves are filtered and ordered by; it follows from the rest.
	Shelved      bool
	Taken        string // 2006-01-02T15:04:05
	Described    bool
	Soft         bool
	Heavy        bool
	Position     bool
	Consent      string
	ConsentUntil string // the first day on which a consent ends, 2006-01-02; empty for none
	Bytes        int64

	Faces    []face.Face     `gorm:"serializer:json"` // found in the original, upright
	FacesBy  int             // version of what looked for them; 0 where nothing has
	Consents []consent.Entry `gorm:"serializer:json"` // who is seen on it, and whether they may be
}

// Work is what an editor has decided about a picture.
type Work struct {
	Recipe recipe.Recipe `json:"recipe"`
	Slot   string        `json:"slot"`
	Name   string        `json:"name"`
	Alt    string        `json:"alt"`

	Caption    string `json:"caption,omitempty"`
	LongAlt    string `json:"long_alt,omitempty"`
	Credit     string `json:"credit,omitempty"`
	Decorative bool   `json:"decorative,omitempty"`
	Reason     string `json:"reason,omitempty"` // why it is decorative
	Hidden     string `json:"hidden,omitempty"` // names that veils hide, parted by commas

	Also    []string         `json:"also,omitempty"`    // further slots that it is cut for
	Budgets map[string]int64 `json:"budgets,omitempty"` // bytes of the largest cut, by slot, where it is not the slot's own
	Left    []string         `json:"left,omitempty"`    // faces that may be seen, by their IDs
	Still   int              `json:"still,omitempty"`   // the frame of an animation that is shown where animations do not play, counted from 0
}

// Step is one entry of a picture's history: what was done, and the work as it
// stood after it. Step 0 is how the picture arrived. Steps are a tree: a new step
// after an undo begins a new branch, and the old one is kept.
type Step struct {
	ID        uint
	PictureID uint
	Seq       int // in the order they were made
	Parent    int // the step that it was made from; -1 for step 0
	Text      string
	Work      Work      `gorm:"serializer:json"`
	Person    string    // who did it
	CreatedAt time.Time `gorm:"autoCreateTime:false"`
}

// Numbers are those of the step and of the one that it was made from.
func (s Step) Numbers() (own, from int) { return s.Seq, s.Parent }

// Cut is a file made from a picture for one slot at one density.
type Cut struct {
	ID        uint
	PictureID uint
	Key       string // recipe and slot it was made from
	Density   float64
	Effective float64
	CSSWidth  int `gorm:"column:css_width"`
	Width     int
	Height    int
	Hash      string
	MediaType string
	Bytes     int64
	Quality   int
	Why       string
	MadeAt    time.Time
}

// Moment is when the picture was taken, or brought in where nobody knows that.
func (p Picture) Moment() time.Time {
	if p.Facts.Taken.IsZero() {
		return p.CreatedAt
	}
	return p.Facts.Taken
}

// Follow fills in what follows from the rest; whoever keeps a picture calls it first.
func (p *Picture) Follow() {
	w := p.Work
	p.Name, p.Described = w.Name, w.Decorative || w.Alt != ""
	p.Position, p.Bytes = p.Facts.Position, p.Facts.Bytes
	p.Consent, p.ConsentUntil = string(consent.Strictest(p.Consents)), consent.FirstEnd(p.Consents)
	p.Shelved = p.Station == Bench || p.Station == Shelf
	if p.Taken = ""; !p.Facts.Taken.IsZero() {
		p.Taken = p.Facts.Taken.Format("2006-01-02T15:04:05")
	}
}
