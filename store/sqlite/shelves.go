package sqlite

import (
	"slices"
	"strings"
	"time"
	"unicode"

	"gorm.io/gorm"

	"mivlet/store"
)

// index brings what a picture is found by up to date.
func (s *records) index(p *store.Picture) error {
	if err := s.write.Exec("DELETE FROM pictures_fts WHERE rowid = ?", p.ID).Error; err != nil {
		return err
	}
	return s.indexNew(p)
}

// indexNew indexes a picture that is not in the index, with its tags and former names. What
// waits or lies in the bin is not found.
func (s *records) indexNew(p *store.Picture) error {
	if !p.Shelved {
		return nil
	}
	w := p.Work
	words := strings.Join([]string{w.Alt, w.Caption, w.LongAlt, p.OriginalName}, " ")
	return s.write.Exec(`INSERT INTO pictures_fts (rowid, name, words, credit, folder, tags, former) SELECT @id, @name, @words, @credit, @folder,
		COALESCE((SELECT group_concat(tag, ' ') FROM tags WHERE picture_id = @id), ''), COALESCE((SELECT group_concat(name, ' ') FROM former_names WHERE picture_id = @id), '')`,
		map[string]any{"id": p.ID, "name": p.Name, "words": words, "credit": w.Credit, "folder": p.Section + " " + p.Folder}).Error
}

func (s *records) Reindex(id uint) error {
	p, err := s.Picture(id)
	if err != nil {
		return err
	}
	return s.index(&p)
}

// filters are the questions that a shelf answers, by their names in store.
var filters = map[string]string{
	"no-alt":       "pictures.described = 0",
	"never-placed": "NOT EXISTS (SELECT 1 FROM placed WHERE placed.picture_id = pictures.id)",
	"heavy":        "pictures.heavy = 1",
	"soft":         "pictures.soft = 1",
	"position":     "pictures.position = 1",
	"refused":      "pictures.consent = 'refused'",
	"expiring":     "pictures.consent_until <> '' AND pictures.consent_until <= @soon",
	"this-week":    "pictures.created_at >= @week",
}

func (s *records) Shelf(q store.ShelfQuery) ([]store.Picture, int64, error) {
	db, ranked := s.shelf(q)
	var n int64
	if err := db.Session(&gorm.Session{}).Count(&n).Error; err != nil {
		return nil, 0, err
	}
	var ids []uint
	if err := db.Order(order(q.Sort, ranked)).Limit(q.Most).Offset(q.Skip).Pluck("pictures.id", &ids).Error; err != nil || len(ids) == 0 {
		return nil, n, err
	}
	var found []store.Picture
	if err := s.read.Find(&found, ids).Error; err != nil {
		return nil, n, err
	}
	slices.SortFunc(found, func(a, b store.Picture) int { return slices.Index(ids, a.ID) - slices.Index(ids, b.ID) })
	return found, n, nil
}

// shelf narrows to what a query wants; ranked tells that words rank it.
func (s *records) shelf(q store.ShelfQuery) (db *gorm.DB, ranked bool) {
	db = s.read.Model(&store.Picture{}).Where("pictures.shelved = 1")
	if words := match(q.Text); words != "" {
		db = db.Joins("JOIN pictures_fts ON pictures_fts.rowid = pictures.id").Where("pictures_fts MATCH ?", words)
		ranked = q.Sort == store.ByRank || q.Sort == ""
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
	if q.Themes != "" {
		db = db.Where("pictures.id IN (SELECT placed.picture_id FROM placed JOIN page_terms ON page_terms.page_id = placed.page_id WHERE page_terms.key IN ?)", strings.Split(q.Themes, "\n"))
	}
	if f, ok := filters[q.Filter]; ok {
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

func order(by store.Sort, ranked bool) string {
	switch {
	case ranked:
		return "bm25(pictures_fts, 8, 4, 2, 3, 2, 2), pictures.id DESC"
	case by == store.ByName:
		return "pictures.section, pictures.name, pictures.id"
	case by == store.ByTaken:
		return "pictures.taken DESC, pictures.id DESC"
	case by == store.ByHeavier:
		return "pictures.bytes DESC, pictures.id DESC"
	}
	return "pictures.id DESC"
}

// match turns typed words into a query of the full-text index: every word, or
// the beginning of one. What is no word is left out.
func match(text string) string {
	words := strings.FieldsFunc(text, func(r rune) bool { return !unicode.IsLetter(r) && !unicode.IsDigit(r) })
	for i, w := range words {
		words[i] = `"` + w + `"*`
	}
	return strings.Join(words, " ")
}

func (s *records) Folders() ([]store.FolderCount, error) {
	var all []store.FolderCount
	err := s.read.Raw(`SELECT section, path, SUM(n) AS n FROM (
		SELECT section, folder AS path, COUNT(*) AS n FROM pictures WHERE shelved = 1 GROUP BY section, folder
		UNION ALL SELECT section, path, 0 FROM folders) GROUP BY section, path ORDER BY section, path`).Scan(&all).Error
	return all, err
}

func (s *records) AddFolder(section, path string) error {
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

func (s *records) DropFolder(section, path string) (bool, error) {
	var n int64
	err := s.read.Model(&store.Picture{}).Where("section = ? AND station <> ?", section, store.Bin).Where(inFolder("folder"), inside(path)...).Count(&n).Error
	if err != nil || n > 0 {
		return false, err
	}
	return true, s.write.Exec("DELETE FROM folders WHERE section = ? AND "+inFolder("path"), append([]any{section}, inside(path)...)...).Error
}

func (s *records) Tags(id uint) ([]string, error) {
	var tags []string
	return tags, s.read.Table("tags").Where("picture_id = ?", id).Order("tag").Pluck("tag", &tags).Error
}

func (s *records) SetTags(id uint, tags []string) error {
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

func (s *records) FormerNames(id uint) ([]string, error) {
	var names []string
	return names, s.read.Table("former_names").Where("picture_id = ?", id).Order("name").Pluck("name", &names).Error
}

func (s *records) AddFormerName(id uint, section, name string) error {
	return s.write.Exec("INSERT OR IGNORE INTO former_names (picture_id, section, name) VALUES (?, ?, ?)", id, section, name).Error
}

func (s *records) Brought() ([]string, error) {
	var names []string
	// Each name is one step in the index, however many pictures it has.
	return names, s.read.Raw(`WITH RECURSIVE name(n) AS (
		SELECT (SELECT MIN(person) FROM pictures WHERE shelved = 1 AND person > '')
		UNION ALL SELECT (SELECT MIN(person) FROM pictures WHERE shelved = 1 AND person > n) FROM name WHERE n IS NOT NULL)
		SELECT n FROM name WHERE n IS NOT NULL`).Scan(&names).Error
}

func (s *records) Twins() ([]store.Twins, error) {
	var all []store.Twins
	return all, s.read.Model(&store.Picture{}).Where("station <> ? AND twin_a <> 0", store.Bin).Find(&all).Error
}

func (s *records) BinnedBefore(at time.Time) ([]store.Picture, error) {
	var ps []store.Picture
	return ps, s.read.Where("station = ? AND binned_at < ?", store.Bin, at).Find(&ps).Error
}

func (s *records) RemovePicture(id uint) error {
	for _, statement := range []string{"DELETE FROM pictures_fts WHERE rowid = ?", "DELETE FROM placed WHERE picture_id = ?", "UPDATE pictures SET variant_of = 0 WHERE variant_of = ?"} {
		if err := s.write.Exec(statement, id).Error; err != nil {
			return err
		}
	}
	return s.write.Delete(&store.Picture{}, id).Error
}

func (s *records) OnShelf() (int64, error) {
	var n int64
	return n, s.read.Model(&store.Picture{}).Where("shelved = 1").Count(&n).Error
}
