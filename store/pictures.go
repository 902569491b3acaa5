package store

import (
	"time"

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
	ID           uint
	Section      string
	OriginalHash string
	OriginalName string      // what the file was called when it came
	Facts        facts.Facts `gorm:"serializer:json"`
	Station      Station
	Step         int    // the step of the history that is shown
	Work         Work   `gorm:"serializer:json"`
	Name         string // Work.Name, for finding
	PreviewHash  string // working copy for the stage, upright
	ThumbHash    string
	CreatedAt    time.Time `gorm:"autoCreateTime:false"`
	UpdatedAt    time.Time `gorm:"autoUpdateTime:false"`
}

// Work is what an editor has decided about a picture.
type Work struct {
	Recipe recipe.Recipe `json:"recipe"`
	Slot   string        `json:"slot"`
	Name   string        `json:"name"`
	Alt    string        `json:"alt"`
}

// Step is one entry of a picture's history: what was done, and the work as it
// stood after it. Step 0 is how the picture arrived.
type Step struct {
	ID        uint
	PictureID uint
	Seq       int
	Text      string
	Work      Work      `gorm:"serializer:json"`
	Person    string    // who did it
	CreatedAt time.Time `gorm:"autoCreateTime:false"`
}

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
}

// AddPicture keeps a new picture and its step 0.
func (s *Store) AddPicture(p *Picture) error {
	p.Name = p.Work.Name
	if err := s.db.Create(p).Error; err != nil {
		return err
	}
	return s.db.Create(&Step{PictureID: p.ID, Text: "As it arrived", Work: p.Work, CreatedAt: p.CreatedAt}).Error
}

// Picture returns the picture with a number.
func (s *Store) Picture(id uint) (Picture, error) {
	var p Picture
	return p, found(s.db.First(&p, id).Error)
}

// PicturesAt returns the pictures at a station, newest first.
func (s *Store) PicturesAt(at Station) ([]Picture, error) {
	var ps []Picture
	return ps, s.db.Where("station = ?", at).Order("id DESC").Find(&ps).Error
}

// PicturesByOriginal returns the pictures that were made from a file.
func (s *Store) PicturesByOriginal(hash string) ([]Picture, error) {
	var ps []Picture
	return ps, s.db.Where("original_hash = ?", hash).Order("id").Find(&ps).Error
}

// NameTaken reports whether another picture of the section has a name.
func (s *Store) NameTaken(section, name string, but uint) (bool, error) {
	var n int64
	err := s.db.Model(&Picture{}).Where("section = ? AND name = ? AND id <> ?", section, name, but).Count(&n).Error
	return n > 0, err
}

// SavePicture writes a picture back.
func (s *Store) SavePicture(p *Picture) error {
	p.Name = p.Work.Name
	return s.db.Save(p).Error
}

// SetPreviews notes the working copy and the thumbnail of a picture, and
// nothing else: they may be ready while somebody works on it.
func (s *Store) SetPreviews(id uint, preview, thumb string) error {
	return s.db.Model(&Picture{}).Where("id = ?", id).UpdateColumns(map[string]any{"preview_hash": preview, "thumb_hash": thumb}).Error
}

// AddStep writes a step after the one that is shown. Steps that were undone
// are dropped, as they can no longer be reached.
func (s *Store) AddStep(p *Picture, text, person string, at time.Time) error {
	if err := s.db.Where("picture_id = ? AND seq > ?", p.ID, p.Step).Delete(&Step{}).Error; err != nil {
		return err
	}
	p.Step++
	p.UpdatedAt = at
	if err := s.db.Create(&Step{PictureID: p.ID, Seq: p.Step, Text: text, Work: p.Work, Person: person, CreatedAt: at}).Error; err != nil {
		return err
	}
	return s.SavePicture(p)
}

// Steps returns the history of a picture, oldest first.
func (s *Store) Steps(picture uint) ([]Step, error) {
	var steps []Step
	return steps, s.db.Where("picture_id = ?", picture).Order("seq").Find(&steps).Error
}

// Step returns one step of the history of a picture.
func (s *Store) Step(picture uint, seq int) (Step, error) {
	var step Step
	return step, found(s.db.First(&step, "picture_id = ? AND seq = ?", picture, seq).Error)
}

// Cuts returns the cuts of a picture that were made with a key, in ascending
// density.
func (s *Store) Cuts(picture uint, key string) ([]Cut, error) {
	var cuts []Cut
	return cuts, s.db.Where("picture_id = ? AND key = ?", picture, key).Order("density").Find(&cuts).Error
}

// AddCuts keeps cuts that were made.
func (s *Store) AddCuts(cuts []Cut) error { return s.db.Create(&cuts).Error }

// Count returns how many pictures are at a station.
func (s *Store) Count(at Station) (int64, error) {
	var n int64
	return n, s.db.Model(&Picture{}).Where("station = ?", at).Count(&n).Error
}

// CountInSection returns how many pictures and pages a section has.
func (s *Store) CountInSection(section string) (int64, error) {
	var pictures, pages int64
	if err := s.db.Model(&Picture{}).Where("section = ?", section).Count(&pictures).Error; err != nil {
		return 0, err
	}
	err := s.db.Model(&Page{}).Where("section = ?", section).Count(&pages).Error
	return pictures + pages, err
}

// IsCut reports whether a hash is that of a cut, and not of an original.
func (s *Store) IsCut(hash string) (bool, error) {
	var n int64
	err := s.db.Model(&Cut{}).Where("hash = ?", hash).Limit(1).Count(&n).Error
	return n > 0, err
}

// SetStation moves a picture, and changes nothing else of it.
func (s *Store) SetStation(id uint, to Station) error {
	return s.db.Model(&Picture{}).Where("id = ?", id).UpdateColumn("station", to).Error
}
