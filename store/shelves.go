package store

import (
	"slices"
	"strings"
	"time"
	"unicode"

	"gorm.io/gorm"
)

// index brings what a picture is found by up to date.
func (s *Store) index(p *Picture) error {
	if err := s.write.Exec("DELETE FROM pictures_fts WHERE rowid = ?", p.ID).Error; err != nil {
		return err
	}
	var also struct{ Tags, Former string }
	err := s.read.Raw(`SELECT COALESCE((SELECT group_concat(tag, ' ') FROM tags WHERE picture_id = @id), '') AS tags,
		COALESCE((SELECT group_concat(name, ' ') FROM former_names WHERE picture_id = @id), '') AS former`, map[string]any{"id": p.ID}).Scan(&also).Error
	if err != nil {
		return err
	}
	return s.indexAs(p, also.Tags, also.Former)
}

// indexAs indexes a picture that is not in the index, with its tags and former
// names. What waits or lies in the bin is not found.
func (s *Store) indexAs(p *Picture, tags, former string) error {
	if !p.Shelved {
		return nil
	}
	w := p.Work
	words := strings.Join([]string{w.Alt, w.Caption, w.LongAlt, p.OriginalName}, " ")
	return s.write.Exec("INSERT INTO pictures_fts (rowid, name, words, credit, tags, folder, former) VALUES (?, ?, ?, ?, ?, ?, ?)",
		p.ID, p.Name, words, w.Credit, tags, p.Section+" "+p.Folder, former).Error
}

// Reindex is index for a picture whose tags or former names have changed.
func (s *Store) Reindex(id uint) error {
	p, err := s.Picture(id)
	if err != nil {
		return err
	}
	return s.index(&p)
}

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

// ShelfQuery says which pictures are wanted. Empty fields do not narrow.
type ShelfQuery struct {
	Section string
	Folder  string // this one and all below it
	Text    string // words or their beginnings, all of them
	Person  string
	Tag     string
	Filter  string // one of Filters
	Sort    Sort
	Most    int
	Skip    int
	Now     time.Time
}

// Filters are questions that a shelf answers, by their names.
var Filters = map[string]string{
	"no-alt":       "pictures.described = 0",
	"never-placed": "NOT EXISTS (SELECT 1 FROM placed WHERE placed.picture_id = pictures.id)",
	"heavy":        "pictures.heavy = 1",
	"soft":         "pictures.soft = 1",
	"position":     "pictures.position = 1",
	"refused":      "pictures.consent = 'refused'",
	"expiring":     "pictures.consent_until <> '' AND pictures.consent_until <= @soon",
	"this-week":    "pictures.created_at >= @week",
}

// Shelf returns the pictures that a query wants, and how many there are without
// its limits. Numbers are looked for in indexes alone; whole records are read
// only of what is shown.
func (s *Store) Shelf(q ShelfQuery) ([]Picture, int64, error) {
	db, ranked := s.shelf(q)
	var n int64
	if err := db.Session(&gorm.Session{}).Count(&n).Error; err != nil {
		return nil, 0, err
	}
	var ids []uint
	if err := db.Order(q.order(ranked)).Limit(q.Most).Offset(q.Skip).Pluck("pictures.id", &ids).Error; err != nil || len(ids) == 0 {
		return nil, n, err
	}
	var found []Picture
	if err := s.read.Find(&found, ids).Error; err != nil {
		return nil, n, err
	}
	slices.SortFunc(found, func(a, b Picture) int { return slices.Index(ids, a.ID) - slices.Index(ids, b.ID) })
	return found, n, nil
}

// shelf narrows to what a query wants; ranked tells that words rank it.
func (s *Store) shelf(q ShelfQuery) (db *gorm.DB, ranked bool) {
	db = s.read.Model(&Picture{}).Where("pictures.shelved = 1")
	if match := Match(q.Text); match != "" {
		db = db.Joins("JOIN pictures_fts ON pictures_fts.rowid = pictures.id").Where("pictures_fts MATCH ?", match)
		ranked = q.Sort == ByRank || q.Sort == ""
	}
	if q.Section != "" {
		db = db.Where("pictures.section = ?", q.Section)
	}
	if q.Folder != "" {
		db = db.Where(inFolder("pictures.folder"), inside(q.Folder)...)
	}
	if q.Person != "" {
		db = db.Where("pictures.person = ?", q.Person)
	}
	if q.Tag != "" {
		db = db.Where("EXISTS (SELECT 1 FROM tags WHERE tags.picture_id = pictures.id AND tags.tag = ?)", q.Tag)
	}
	if f, ok := Filters[q.Filter]; ok {
		var named []any
		if strings.Contains(f, "@") {
			named = []any{map[string]any{"soon": q.Now.AddDate(0, 0, 30).Format("2006-01-02"), "week": q.Now.AddDate(0, 0, -7)}}
		}
		db = db.Where(f, named...)
	}
	return db, ranked
}

// inFolder narrows a column of paths to a folder and all below it, so that an
// index can be used; inside gives its values.
func inFolder(column string) string {
	return "(" + column + " = ? OR " + column + " >= ? AND " + column + " < ?)"
}

func inside(folder string) []any { return []any{folder, folder + "/", folder + "0"} } // "0" follows "/"

func (q ShelfQuery) order(ranked bool) string {
	switch {
	case ranked:
		return "bm25(pictures_fts, 8, 4, 2, 3, 2, 2), pictures.id DESC"
	case q.Sort == ByName:
		return "pictures.section, pictures.name, pictures.id"
	case q.Sort == ByTaken:
		return "pictures.taken DESC, pictures.id DESC"
	case q.Sort == ByHeavier:
		return "pictures.bytes DESC, pictures.id DESC"
	}
	return "pictures.id DESC"
}

// Match turns typed words into a query of the full-text index: every word, or
// the beginning of one. What is no word is left out.
func Match(text string) string {
	words := strings.FieldsFunc(text, func(r rune) bool { return !unicode.IsLetter(r) && !unicode.IsDigit(r) })
	for i, w := range words {
		words[i] = `"` + w + `"*`
	}
	return strings.Join(words, " ")
}

// FolderCount is a folder with the pictures in it, not in those below.
type FolderCount struct {
	Section string
	Path    string
	N       int64
}

// Folders returns all folders, also empty ones, with their counts.
func (s *Store) Folders() ([]FolderCount, error) {
	var all []FolderCount
	err := s.read.Raw(`SELECT section, path, SUM(n) AS n FROM (
		SELECT section, folder AS path, COUNT(*) AS n FROM pictures WHERE shelved = 1 GROUP BY section, folder
		UNION ALL SELECT section, path, 0 FROM folders) GROUP BY section, path ORDER BY section, path`).Scan(&all).Error
	return all, err
}

// AddFolder keeps a folder and all above it.
func (s *Store) AddFolder(section, path string) error {
	for i, r := range path + "/" {
		if r != '/' {
			continue
		}
		if err := s.write.Exec("INSERT OR IGNORE INTO folders (section, path) VALUES (?, ?)", section, path[:i]).Error; err != nil {
			return err
		}
	}
	return nil
}

// DropFolder takes an empty folder out; it reports whether it was empty.
func (s *Store) DropFolder(section, path string) (bool, error) {
	var n int64
	err := s.read.Model(&Picture{}).Where("section = ? AND station <> ?", section, Bin).Where(inFolder("folder"), inside(path)...).Count(&n).Error
	if err != nil || n > 0 {
		return false, err
	}
	return true, s.write.Exec("DELETE FROM folders WHERE section = ? AND "+inFolder("path"), append([]any{section}, inside(path)...)...).Error
}

// Tags returns the tags of a picture, in order.
func (s *Store) Tags(id uint) ([]string, error) {
	var tags []string
	return tags, s.read.Table("tags").Where("picture_id = ?", id).Order("tag").Pluck("tag", &tags).Error
}

// SetTags replaces the tags of a picture.
func (s *Store) SetTags(id uint, tags []string) error {
	if err := s.write.Exec("DELETE FROM tags WHERE picture_id = ?", id).Error; err != nil {
		return err
	}
	for _, t := range tags {
		if err := s.write.Exec("INSERT OR IGNORE INTO tags (picture_id, tag) VALUES (?, ?)", id, t).Error; err != nil {
			return err
		}
	}
	return s.Reindex(id)
}

// FormerNames returns the names a picture had before.
func (s *Store) FormerNames(id uint) ([]string, error) {
	var names []string
	return names, s.read.Table("former_names").Where("picture_id = ?", id).Order("name").Pluck("name", &names).Error
}

// AddFormerName keeps a name that a picture had, so that it is still found by it.
func (s *Store) AddFormerName(id uint, section, name string) error {
	return s.write.Exec("INSERT OR IGNORE INTO former_names (picture_id, section, name) VALUES (?, ?, ?)", id, section, name).Error
}

// Brought returns the names of all who brought pictures in.
func (s *Store) Brought() ([]string, error) {
	var names []string
	// Each name is one step in the index, however many pictures it has.
	return names, s.read.Raw(`WITH RECURSIVE name(n) AS (
		SELECT (SELECT MIN(person) FROM pictures WHERE shelved = 1 AND person > '')
		UNION ALL SELECT (SELECT MIN(person) FROM pictures WHERE shelved = 1 AND person > n) FROM name WHERE n IS NOT NULL)
		SELECT n FROM name WHERE n IS NOT NULL`).Scan(&names).Error
}

// Twins are the perceptual hashes of a picture.
type Twins struct {
	ID                  uint
	TwinA, TwinB, TwinC int64
}

// Twins returns the perceptual hashes of all pictures that are not in the bin.
func (s *Store) Twins() ([]Twins, error) {
	var all []Twins
	return all, s.read.Model(&Picture{}).Where("station <> ? AND twin_a <> 0", Bin).Find(&all).Error
}

// BinnedBefore returns the pictures that were deleted before a moment.
func (s *Store) BinnedBefore(at time.Time) ([]Picture, error) {
	var ps []Picture
	return ps, s.read.Where("station = ? AND binned_at < ?", Bin, at).Find(&ps).Error
}

// RemovePicture forgets a picture for good. Its files stay while a record names them.
func (s *Store) RemovePicture(id uint) error {
	for _, statement := range []string{"DELETE FROM pictures_fts WHERE rowid = ?", "DELETE FROM placed WHERE picture_id = ?", "UPDATE pictures SET variant_of = 0 WHERE variant_of = ?"} {
		if err := s.write.Exec(statement, id).Error; err != nil {
			return err
		}
	}
	return s.write.Delete(&Picture{}, id).Error
}

// OnShelf returns how many pictures the shelves hold.
func (s *Store) OnShelf() (int64, error) {
	var n int64
	return n, s.read.Model(&Picture{}).Where("shelved = 1").Count(&n).Error
}
