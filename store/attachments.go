package store

import "time"

// Attachment is a file that is no picture, kept on the shelves for visitors to download.
type Attachment struct {
	ID           uint
	Section      string
	Title        string // what visitors read where it is offered
	Name         string // of the file on the site, with its extension
	OriginalName string
	Hash         string
	MediaType    string
	Bytes        int64
	Person       string     // who brought it
	DroppedAt    *time.Time // nil unless it was thrown away
	CreatedAt    time.Time  `gorm:"autoCreateTime:false"`
}
