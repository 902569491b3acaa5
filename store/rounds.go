package store

import (
	"time"

	"mivlet/core/survey"
)

// Round is one look through a site that is live: what it weighs, and how much is wrong with it.
type Round struct {
	ID    uint
	Place uint // the destination whose address was looked through; 0 for the house's own site
	At    time.Time
	Sum   survey.Sum `gorm:"serializer:json"`
	Fault string     // why it could not be looked through; empty where it was
}

// TableName is the table they are kept in.
func (Round) TableName() string { return "rounds" }

// Found is something that is wrong with a live site. It stays as long as each round finds it again.
type Found struct {
	ID      uint
	Place   uint
	Mark    string         // tells it from all else that is wrong at the place
	Finding survey.Finding `gorm:"serializer:json"`
	Section string         // whose page it is on; empty where it is on none of the house's
	Since   time.Time      // when a round found it first
	LeftBy  string         // who decided that it stays; empty where nobody did
	LeftAt  *time.Time
}

// TableName is the table they are kept in.
func (Found) TableName() string { return "found" }
