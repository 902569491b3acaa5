package store

import (
	"archive/zip"
	"errors"
	"io/fs"
	"time"

	"mivlet/core/mend"
	"mivlet/core/survey"
)

// FormerSite is a site that was made elsewhere, as it was brought in.
type FormerSite struct {
	ID      uint
	Title   string
	Hosts   []string   `gorm:"serializer:json"` // that it is reached at
	Hash    string     // of the archive that holds it
	Bytes   int64      // of that
	Sum     survey.Sum `gorm:"serializer:json"` // of it as it was brought in
	Person  string     // who brought it in
	AddedAt time.Time

	Start      string // the address that it is fetched from; empty where it was brought in otherwise
	Unfinished bool   // only a part of it was fetched yet

	MendedHash string      // of the archive of the mended site; empty where there is none
	MendedSum  *survey.Sum `gorm:"serializer:json"`
	MendedAt   *time.Time
	Stayed     []string `gorm:"serializer:json"` // pictures that could not be mended, each with why
}

// TableName is the table they are kept in.
func (FormerSite) TableName() string { return "former_sites" }

// FormerLook is what was seen in the pictures of a former site. It may be large, and is read where it is asked for.
type FormerLook struct {
	FormerSiteID uint   `gorm:"primaryKey;autoIncrement:false"`
	Hash         string // of the archive that was looked into
	At           time.Time
	Seen         map[string]survey.Seen `gorm:"serializer:json"` // by path
	// Measured is how a browser shows its pages; empty where none could.
	Measured []survey.Measured `gorm:"serializer:json"`
}

// TableName is the table they are kept in.
func (FormerLook) TableName() string { return "former_looks" }

// FormerCompared is how far a mended site looks as before, page by page and window by window. It may be large, and is read
// where it is asked for.
type FormerCompared struct {
	FormerSiteID uint   `gorm:"primaryKey;autoIncrement:false"`
	Hash         string // of the archive of the mended site
	At           time.Time
	Pages        []mend.Compared `gorm:"serializer:json"`
}

// TableName is the table they are kept in.
func (FormerCompared) TableName() string { return "former_compared" }

// FormerChoiceKind is what an editor decided about a picture of a former site.
type FormerChoiceKind string

// The kinds.
const (
	FormerWords FormerChoiceKind = "words" // what it says, on one page
	FormerName  FormerChoiceKind = "name"  // what it is called
	FormerLeft  FormerChoiceKind = "left"  // it stays as it is
	// FormerAllowed says that whoever can be seen or read of in a file agreed, or is nobody to ask.
	FormerAllowed FormerChoiceKind = "allowed"
	FormerCovered FormerChoiceKind = "covered" // it is covered on the bench; the text is the number of the picture there
	// FormerCarried is not decided but done: a page, or a file, came over to the house; the text is its number there.
	FormerCarried FormerChoiceKind = "carried"
)

// FormerChoice is one such decision. There is one of a kind about one thing.
type FormerChoice struct {
	ID           uint
	FormerSiteID uint
	Kind         FormerChoiceKind
	Page         string // of words
	Address      string // of words, as the page says it
	File         string // of a name, and of one that stays
	Text         string
	Person       string
	At           time.Time
}

// TableName is the table they are kept in.
func (FormerChoice) TableName() string { return "former_choices" }

// FormerFiles are the files of a kept archive of a site, from where the site begins. Whoever has them closes them.
type FormerFiles struct {
	fs.FS
	file File
}

// Close closes the archive.
func (f FormerFiles) Close() error { return f.file.Close() }

// OpenFormer opens a kept archive of a site by the hash of the archive.
func (s *Store) OpenFormer(hash string) (f FormerFiles, err error) {
	file, err := s.Files.Open(hash)
	if err != nil {
		return f, err
	}
	z, err := zip.NewReader(file, file.Size())
	if err == nil {
		f.FS, err = survey.Top(z)
	}
	if err != nil {
		return f, errors.Join(err, file.Close())
	}
	f.file = file
	return f, nil
}
