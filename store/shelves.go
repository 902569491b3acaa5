package store

import (
	"time"
)

// Sort is an order of a shelf.
type Sort string

// The orders. By rank is for searches, best first.
const (
	ByNewest  Sort = "newest"
	ByName    Sort = "name"
	ByTaken   Sort = "taken"
	ByHeavier Sort = "heavier"
	ByRank    Sort = "rank"
)

// Filters are the questions that a shelf answers, by their names: pictures without an alt
// text, on no page, with a cut beyond its budget, out of focus, with a position in the
// file, on which somebody refused, whose consent ends within 30 days, and those of the last
// seven days.
var Filters = []string{"no-alt", "never-placed", "heavy", "soft", "position", "refused", "expiring", "this-week"}

// ShelfQuery says which pictures are wanted. Empty fields do not narrow.
type ShelfQuery struct {
	Section string
	Folder  string // this one and all below it
	Text    string // words or their beginnings, all of them
	Person  string
	Tag     string
	Themes  string // keys of what a page is about that it stands on, a line each: any of them; see [page.Key]
	Filter  string // one of [Filters]
	Sort    Sort
	Most    int
	Skip    int
	Now     time.Time
}

// FolderCount is a folder with the pictures in it, not in those below.
type FolderCount struct {
	Section string
	Path    string
	N       int64
}

// Twins are the perceptual hashes of a picture.
type Twins struct {
	ID                  uint
	TwinA, TwinB, TwinC int64
	TwinCrops           []byte
}
