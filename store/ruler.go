package store

import "time"

// RulerSheet is a screenshot that columns are measured on.
type RulerSheet struct {
	ID         uint
	Person     string
	Title      string
	Hash       string
	SourceHash string    // of the file as it was sent
	Width      int       // device px
	Height     int       // device px
	Scale      float64   // device px for each CSS px
	CreatedAt  time.Time `gorm:"autoCreateTime:false"`
	Readings   []Reading `gorm:"foreignKey:SheetID"`
}

// Reading is one length measured on a sheet, in device px.
type Reading struct {
	ID        uint
	SheetID   uint
	Upright   bool // a height rather than a width
	From      int
	To        int
	Title     string
	Person    string
	CreatedAt time.Time `gorm:"autoCreateTime:false"`
}

// AddSheet keeps a screenshot.
func (s *Store) AddSheet(r *RulerSheet) error { return s.write.Create(r).Error }

// Sheets returns all screenshots with their readings, newest first.
func (s *Store) Sheets() ([]RulerSheet, error) {
	var all []RulerSheet
	return all, s.read.Preload("Readings").Order("id DESC").Find(&all).Error
}

// Sheet returns a screenshot with its readings.
func (s *Store) Sheet(id uint) (RulerSheet, error) {
	var r RulerSheet
	return r, found(s.read.Preload("Readings").First(&r, id).Error)
}

// SetScale notes how many device px a screenshot has for each CSS px.
func (s *Store) SetScale(id uint, scale float64) error {
	return s.write.Model(&RulerSheet{}).Where("id = ?", id).UpdateColumn("scale", scale).Error
}

// DropSheet takes a screenshot and its readings out.
func (s *Store) DropSheet(id uint) error { return s.write.Delete(&RulerSheet{}, id).Error }

// AddReading keeps a reading.
func (s *Store) AddReading(r *Reading) error { return s.write.Create(r).Error }

// DropReading takes a reading out.
func (s *Store) DropReading(sheet, id uint) error {
	return s.write.Where("sheet_id = ?", sheet).Delete(&Reading{}, id).Error
}
