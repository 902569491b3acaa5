package relational

import (
	"slices"
	"strings"
	"time"

	"gorm.io/gorm"

	"mivlet/store"
)

// index brings what a picture is found by up to date. What waits or lies in the bin is not found.
func (s *Records) index(p *store.Picture, isNew bool) error {
	if !p.Shelved {
		if isNew {
			return nil
		}
		return s.engine.Unindex(s.write, p.ID)
	}
	w := p.Work
	f := Findable{Picture: p.ID, Name: p.Name, Words: strings.Join([]string{w.Alt, w.Caption, w.LongAlt, p.OriginalName}, " "), Credit: w.Credit, Folder: p.Section + " " + p.Folder}
	if !isNew {
		var rows []struct {
			What  string
			IsTag bool
		}
		if err := s.read.Raw("SELECT tag AS what, TRUE AS is_tag FROM tags WHERE picture_id = @id UNION ALL SELECT name, FALSE FROM former_names WHERE picture_id = @id ORDER BY 1", map[string]any{"id": p.ID}).Scan(&rows).Error; err != nil {
			return err
		}
		for _, row := range rows {
			if row.IsTag {
				f.Tags += " " + row.What
			} else {
				f.Former += " " + row.What
			}
		}
	}
	return s.engine.Index(s.write, f, isNew)
}

func (s *Records) Reindex(id uint) error {
	p, err := s.Picture(id)
	if err != nil {
		return err
	}
	return s.index(&p, false)
}

// filters are the questions that a shelf answers, by their names in store.
var filters = map[string]string{
	"no-alt":       "pictures.described = FALSE",
	"never-placed": "NOT EXISTS (SELECT 1 FROM placed WHERE placed.picture_id = pictures.id)",
	"heavy":        "pictures.heavy = TRUE",
	"soft":         "pictures.soft = TRUE",
	"position":     "pictures.position = TRUE",
	"refused":      "pictures.consent = 'refused'",
	"expiring":     "pictures.consent_until <> '' AND pictures.consent_until <= @soon",
	"this-week":    "pictures.created_at >= @week",
}

func (s *Records) Shelf(q store.ShelfQuery) ([]store.Picture, int64, error) {
	db, rank := s.shelf(q)
	var n int64
	if err := db.Session(&gorm.Session{}).Count(&n).Error; err != nil {
		return nil, 0, err
	}
	var ids []uint
	if err := db.Order(order(q.Sort, rank)).Limit(q.Most).Offset(q.Skip).Pluck("pictures.id", &ids).Error; err != nil || len(ids) == 0 {
		return nil, n, err
	}
	var found []store.Picture
	if err := s.read.Find(&found, ids).Error; err != nil {
		return nil, n, err
	}
	slices.SortFunc(found, func(a, b store.Picture) int { return slices.Index(ids, a.ID) - slices.Index(ids, b.ID) })
	return found, n, nil
}

// shelf narrows to what a query wants; rank orders it where words do.
func (s *Records) shelf(q store.ShelfQuery) (db *gorm.DB, rank string) {
	db = s.read.Model(&store.Picture{}).Where("pictures.shelved = TRUE")
	if words := Words(q.Text); len(words) > 0 {
		var by string
		db, by = s.engine.Matching(db, words)
		if q.Sort == store.ByRank || q.Sort == "" {
			rank = by
		}
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
	return db, rank
}

// inFolder narrows a column of paths to a folder and all below it, so that an
// index can be used; inside gives its values.
func inFolder(column string) string {
	return "(" + column + " = ? OR " + column + " >= ? AND " + column + " < ?)"
}

func inside(folder string) []any { return []any{folder, folder + "/", folder + "0"} } // "0" follows "/"

func order(by store.Sort, rank string) string {
	switch {
	case rank != "":
		return rank + ", pictures.id DESC"
	case by == store.ByName:
		return "pictures.section, pictures.name, pictures.id"
	case by == store.ByTaken:
		return "pictures.taken DESC, pictures.id DESC"
	case by == store.ByHeavier:
		return "pictures.bytes DESC, pictures.id DESC"
	}
	return "pictures.id DESC"
}

func (s *Records) Folders() ([]store.FolderCount, error) {
	var all []store.FolderCount
	err := s.read.Raw(`SELECT section, path, CAST(SUM(n) AS BIGINT) AS n FROM (
		SELECT section, folder AS path, COUNT(*) AS n FROM pictures WHERE shelved = TRUE GROUP BY section, folder
		UNION ALL SELECT section, path, 0 FROM folders) AS counted GROUP BY section, path ORDER BY section, path`).Scan(&all).Error
	return all, err
}

func (s *Records) AddFolder(section, path string) error {
	for i, r := range path + "/" {
		if r != '/' {
			continue
		}
		if err := s.write.Exec("INSERT INTO folders (section, path) VALUES (?, ?) ON CONFLICT DO NOTHING", section, path[:i]).Error; err != nil {
			return err
		}
	}
	return nil
}

func (s *Records) DropFolder(section, path string) (bool, error) {
	var n int64
	err := s.read.Model(&store.Picture{}).Where("section = ? AND station <> ?", section, store.Bin).Where(inFolder("folder"), inside(path)...).Count(&n).Error
	if err != nil || n > 0 {
		return false, err
	}
	return true, s.write.Exec("DELETE FROM folders WHERE section = ? AND "+inFolder("path"), append([]any{section}, inside(path)...)...).Error
}

func (s *Records) Tags(id uint) ([]string, error) {
	var tags []string
	return tags, s.read.Table("tags").Where("picture_id = ?", id).Order("tag").Pluck("tag", &tags).Error
}

func (s *Records) SetTags(id uint, tags []string) error {
	if err := s.write.Exec("DELETE FROM tags WHERE picture_id = ?", id).Error; err != nil {
		return err
	}
	for _, t := range tags {
		if err := s.write.Exec("INSERT INTO tags (picture_id, tag) VALUES (?, ?) ON CONFLICT DO NOTHING", id, t).Error; err != nil {
			return err
		}
	}
	return s.Reindex(id)
}

func (s *Records) FormerNames(id uint) ([]string, error) {
	var names []string
	return names, s.read.Table("former_names").Where("picture_id = ?", id).Order("name").Pluck("name", &names).Error
}

func (s *Records) AddFormerName(id uint, section, name string) error {
	return s.write.Exec("INSERT INTO former_names (picture_id, section, name) VALUES (?, ?, ?) ON CONFLICT DO NOTHING", id, section, name).Error
}

func (s *Records) Brought() ([]string, error) {
	var names []string
	// Each name is one step in the index, however many pictures it has.
	return names, s.read.Raw(`WITH RECURSIVE name(n) AS (
		SELECT (SELECT MIN(person) FROM pictures WHERE shelved = TRUE AND person > '')
		UNION ALL SELECT (SELECT MIN(person) FROM pictures WHERE shelved = TRUE AND person > n) FROM name WHERE n IS NOT NULL)
		SELECT n FROM name WHERE n IS NOT NULL`).Scan(&names).Error
}

func (s *Records) Twins() ([]store.Twins, error) {
	var all []store.Twins
	return all, s.read.Model(&store.Picture{}).Where("station <> ? AND twin_a <> 0", store.Bin).Find(&all).Error
}

func (s *Records) BinnedBefore(at time.Time) ([]store.Picture, error) {
	var ps []store.Picture
	return ps, s.read.Where("station = ? AND binned_at < ?", store.Bin, at).Find(&ps).Error
}

func (s *Records) RemovePicture(id uint) error {
	if err := s.engine.Unindex(s.write, id); err != nil {
		return err
	}
	for _, statement := range []string{"DELETE FROM placed WHERE picture_id = ?", "UPDATE pictures SET variant_of = 0 WHERE variant_of = ?"} {
		if err := s.write.Exec(statement, id).Error; err != nil {
			return err
		}
	}
	return s.write.Delete(&store.Picture{}, id).Error
}

func (s *Records) OnShelf() (int64, error) {
	var n int64
	return n, s.read.Model(&store.Picture{}).Where("shelved = TRUE").Count(&n).Error
}
