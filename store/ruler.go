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
