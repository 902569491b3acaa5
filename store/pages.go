package store

import (
	"errors"
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
	LivePrint   string    // stands for all that visitors got; see desk
	Report      string    // JSON of what was checked after publishing
	UpdatedAt   time.Time `gorm:"autoUpdateTime:false"`
}

// Live reports whether the page can be seen by visitors.
func (p Page) Live() bool { return p.LiveVersion > 0 }

// Changed reports whether the draft differs from the live page.
func (p Page) Changed() bool { return p.Live() && p.Version != p.LiveVersion }

// Shows reports whether a picture stands on the draft.
func (p Page) Shows(picture uint) bool { return slices.Contains(p.Doc.Pictures(), picture) }

// Path is the address of the page on the site.
func (p Page) Path() string { return "/" + p.Section + "/" + p.Slug }

// Published is one file as visitors get it.
type Published struct {
	Path        string `gorm:"primaryKey"`
	PageID      uint   `gorm:"primaryKey"`
	Hash        string
	MediaType   string
	PublishedAt time.Time
}

// TableName is the table the published files are kept in.
func (Published) TableName() string { return "published" }

// ErrStale means that a record was changed by somebody else in between.
var ErrStale = errors.New("it was changed in the meantime")

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

// AddPage keeps a new page and its step 0.
func (s *Store) AddPage(p *Page) error {
	if err := s.db.Create(p).Error; err != nil {
		return err
	}
	if err := s.setPlaced(p); err != nil {
		return err
	}
	return s.db.Create(&PageStep{PageID: p.ID, Parent: -1, Text: "As it began", Doc: p.Doc, CreatedAt: p.UpdatedAt}).Error
}

// Page returns the page with a number.
func (s *Store) Page(id uint) (Page, error) {
	var p Page
	return p, found(s.db.First(&p, id).Error)
}

// Pages returns all pages in the order of their sections and addresses.
func (s *Store) Pages() ([]Page, error) {
	var ps []Page
	return ps, s.db.Order("section, slug").Find(&ps).Error
}

// AddPageStep writes a new draft of a page as a step that follows the one that is
// shown; steps that were undone are kept. It fails with ErrStale where the page is
// no longer at the version that the draft was made from.
func (s *Store) AddPageStep(p *Page, text, person string, at time.Time) error {
	var last int
	if err := s.db.Model(&PageStep{}).Where("page_id = ?", p.ID).Select("COALESCE(MAX(seq), -1)").Scan(&last).Error; err != nil {
		return err
	}
	from := p.Step
	p.Step = last + 1
	if err := s.saveDraft(p, at); err != nil {
		return err
	}
	return s.db.Create(&PageStep{PageID: p.ID, Seq: p.Step, Parent: from, Text: text, Doc: p.Doc, Person: person, CreatedAt: at}).Error
}

// ShowPageStep makes a step of the history the draft.
func (s *Store) ShowPageStep(p *Page, seq int, at time.Time) error {
	var step PageStep
	if err := found(s.db.First(&step, "page_id = ? AND seq = ?", p.ID, seq).Error); err != nil {
		return err
	}
	p.Step, p.Doc = seq, step.Doc
	return s.saveDraft(p, at)
}

// PageSteps returns the history of a page, oldest first, without the documents: those
// of a long history are many times the page.
func (s *Store) PageSteps(page uint) ([]PageStep, error) {
	var steps []PageStep
	return steps, s.db.Omit("Doc").Where("page_id = ?", page).Order("seq").Find(&steps).Error
}

// LastHands returns who made the newest step of each page, by its number.
func (s *Store) LastHands() (map[uint]string, error) {
	var steps []PageStep
	err := s.db.Select("page_id", "person").Where("id IN (SELECT MAX(id) FROM page_steps GROUP BY page_id)").Find(&steps).Error
	last := make(map[uint]string, len(steps))
	for _, step := range steps {
		last[step.PageID] = step.Person
	}
	return last, err
}

func (s *Store) saveDraft(p *Page, at time.Time) error {
	was := p.Version
	p.Version, p.UpdatedAt = was+1, at
	res := s.db.Model(&Page{}).Where("id = ? AND version = ?", p.ID, was).Select("Doc", "Version", "Step", "UpdatedAt").Updates(p)
	if res.Error == nil && res.RowsAffected == 0 {
		return ErrStale
	}
	if res.Error != nil {
		return res.Error
	}
	return s.setPlaced(p)
}

// setPlaced notes which pictures stand on a page.
func (s *Store) setPlaced(p *Page) error {
	if err := s.db.Exec("DELETE FROM placed WHERE page_id = ?", p.ID).Error; err != nil {
		return err
	}
	for _, id := range p.Doc.Pictures() {
		if err := s.db.Exec("INSERT INTO placed (page_id, picture_id) VALUES (?, ?)", p.ID, id).Error; err != nil {
			return err
		}
	}
	return nil
}

// PagesWith returns the pages that a picture stands on.
func (s *Store) PagesWith(picture uint) ([]Page, error) {
	var ps []Page
	return ps, s.db.Where("id IN (SELECT page_id FROM placed WHERE picture_id = ?)", picture).Order("section, slug").Find(&ps).Error
}

// Publish replaces everything that visitors get of a page, and notes which
// version it was. Call it inside a transaction.
func (s *Store) Publish(p *Page, files []Published, print string, at time.Time) error {
	if err := s.db.Where("page_id = ?", p.ID).Delete(&Published{}).Error; err != nil {
		return err
	}
	for _, f := range files {
		f.PageID, f.PublishedAt = p.ID, at
		if err := s.db.Create(&f).Error; err != nil {
			return err
		}
	}
	p.LiveVersion, p.LiveAt, p.LivePrint, p.Report = p.Version, &at, print, ""
	return s.db.Model(&Page{}).Where("id = ?", p.ID).Select("LiveVersion", "LiveAt", "LivePrint", "Report").Updates(p).Error
}

// SetReport keeps what was checked after publishing.
func (s *Store) SetReport(page uint, report string) error {
	return s.db.Model(&Page{}).Where("id = ?", page).UpdateColumn("report", report).Error
}

// PublishedAt returns the file that visitors get at a path. Where two pages
// show the same path, version, the beginning of a content hash, tells which
// content is meant; without it the newest is given.
func (s *Store) PublishedAt(path, version string) (Published, error) {
	var f Published
	q := s.db.Where("path = ?", path)
	if version != "" {
		q = q.Where("substr(hash, 1, ?) = ?", len(version), version)
	}
	return f, found(q.Order("published_at DESC").First(&f).Error)
}
