package store

import (
	"encoding/json"
	"errors"
	"slices"
	"time"

	"gorm.io/gorm"

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

	// What was worked out of the rest and is kept until something is written that
	// may change it; see [Store.Unsettled].
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

// Path is the address of the page on the site.
func (p Page) Path() string { return "/" + p.Section + "/" + p.Slug }

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

// Numbers are those of the step and of the one that it was made from.
func (s PageStep) Numbers() (own, from int) { return s.Seq, s.Parent }

// AddPage keeps a new page and its step 0.
func (s *Store) AddPage(p *Page) error {
	if err := s.write.Create(p).Error; err != nil {
		return err
	}
	if err := s.setPlaced(p); err != nil {
		return err
	}
	return s.write.Create(&PageStep{PageID: p.ID, Parent: -1, Text: "As it began", Doc: p.Doc, CreatedAt: p.UpdatedAt}).Error
}

// Page returns the page with a number.
func (s *Store) Page(id uint) (Page, error) {
	var p Page
	return p, found(s.read.First(&p, id).Error)
}

// Pages returns all pages in the order of their sections and addresses.
func (s *Store) Pages() ([]Page, error) {
	var ps []Page
	return ps, s.read.Order("section, slug").Find(&ps).Error
}

// AddPageStep writes a new draft of a page as a step that follows the one that is
// shown; steps that were undone are kept. It fails with ErrStale where the page is
// no longer at the version that the draft was made from. Call it in a transaction.
func (s *Store) AddPageStep(p *Page, text, person string, at time.Time) error {
	doc, err := json.Marshal(p.Doc)
	if err != nil {
		return err
	}
	if err := s.write.Raw("INSERT INTO page_steps (page_id, seq, parent, text, doc, person, created_at) SELECT ?, COALESCE(MAX(seq), -1) + 1, ?, ?, ?, ?, ? FROM page_steps WHERE page_id = ? RETURNING seq",
		p.ID, p.Step, text, string(doc), person, at, p.ID).Scan(&p.Step).Error; err != nil {
		return err
	}
	return s.saveDraft(p, at)
}

// ShowPageStep makes a step of the history the draft.
func (s *Store) ShowPageStep(p *Page, seq int, at time.Time) error {
	var step PageStep
	if err := found(s.read.First(&step, "page_id = ? AND seq = ?", p.ID, seq).Error); err != nil {
		return err
	}
	p.Step, p.Doc = seq, step.Doc
	return s.saveDraft(p, at)
}

// PageSteps returns the history of a page, oldest first, without the documents: those
// of a long history are many times the page.
func (s *Store) PageSteps(page uint) ([]PageStep, error) {
	var steps []PageStep
	return steps, s.read.Omit("Doc").Where("page_id = ?", page).Order("seq").Find(&steps).Error
}

// LastHands returns who made the newest step of each page, by its number.
func (s *Store) LastHands() (map[uint]string, error) {
	var steps []PageStep
	err := s.read.Select("page_id", "person").Where("id IN (SELECT MAX(id) FROM page_steps GROUP BY page_id)").Find(&steps).Error
	last := make(map[uint]string, len(steps))
	for _, step := range steps {
		last[step.PageID] = step.Person
	}
	return last, err
}

func (s *Store) saveDraft(p *Page, at time.Time) error {
	was := p.Version
	p.Version, p.UpdatedAt, p.Compared, p.Judged = was+1, at, "", ""
	res := s.write.Model(&Page{}).Where("id = ? AND version = ?", p.ID, was).Select("Doc", "Version", "Step", "UpdatedAt", "Compared", "Judged").Updates(p)
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
	if err := s.write.Exec("DELETE FROM placed WHERE page_id = ?", p.ID).Error; err != nil {
		return err
	}
	pictures := p.Doc.Pictures()
	if len(pictures) == 0 {
		return nil
	}
	rows := make([]placed, len(pictures))
	for i, id := range pictures {
		rows[i] = placed{p.ID, id}
	}
	return s.write.Create(&rows).Error
}

// placed is a picture that stands on a draft.
type placed struct{ PageID, PictureID uint }

// TableName is the table it is kept in.
func (placed) TableName() string { return "placed" }

// Standing is where a picture is in the order of the work.
type Standing struct {
	Station Station
	Name    string
	Placed  bool // it stands on a draft
}

// StandingOf returns where those of some pictures stand that are there.
func (s *Store) StandingOf(pictures []uint) (map[uint]Standing, error) {
	all := map[uint]Standing{}
	err := s.inParts(pictures, func(q *gorm.DB, some []uint) error {
		var rows []struct {
			ID uint
			Standing
		}
		err := q.Model(&Picture{}).Select("id, station, name, EXISTS (SELECT 1 FROM placed WHERE placed.picture_id = pictures.id) AS placed").Where("id IN ?", some).Scan(&rows).Error
		for _, r := range rows {
			all[r.ID] = r.Standing
		}
		return err
	})
	return all, err
}

// IsPlaced reports whether a number of a picture stands on a draft, also where there is no
// such picture.
func (s *Store) IsPlaced(picture uint) (bool, error) {
	var n int64
	err := s.read.Model(&placed{}).Where("picture_id = ?", picture).Count(&n).Error
	return n > 0, err
}

// PagesWith returns the pages that a picture stands on.
func (s *Store) PagesWith(picture uint) ([]Page, error) {
	var ps []Page
	return ps, s.read.Where("id IN (SELECT page_id FROM placed WHERE picture_id = ?)", picture).Order("section, slug").Find(&ps).Error
}

// PagesIn returns those of some pages that are there, in the order of their addresses.
func (s *Store) PagesIn(ids []uint) ([]Page, error) {
	var ps []Page
	if len(ids) == 0 {
		return nil, nil
	}
	return ps, s.read.Where("id IN ?", ids).Order("section, slug").Find(&ps).Error
}
