package sqlite

import (
	"crypto/sha256"
	"encoding/hex"

	"gorm.io/gorm"
	"gorm.io/gorm/clause"

	"mivlet/store"
)

func (s *records) AddDestination(d *store.Destination) error { return s.write.Create(d).Error }

func (s *records) SaveDestination(d store.Destination) error {
	done := s.write.Model(&d).Select("*").Omit("id", "created_at").Updates(d)
	if done.Error == nil && done.RowsAffected == 0 {
		return store.ErrNotFound
	}
	return done.Error
}

func (s *records) Destination(id uint) (store.Destination, error) {
	var d store.Destination
	return d, found(s.read.First(&d, id).Error)
}

func (s *records) Destinations() ([]store.Destination, error) {
	var all []store.Destination
	return all, s.read.Order("id").Find(&all).Error
}

func (s *records) RemoveDestination(id uint) error {
	return s.write.Delete(&store.Destination{}, id).Error
}

func (s *records) SentFiles(destination uint) ([]store.SentFile, error) {
	var all []store.SentFile
	return all, s.read.Where("destination_id = ?", destination).Order("path").Find(&all).Error
}

func (s *records) SentOf(pictures []uint) ([]store.SentFile, error) {
	var all []store.SentFile
	err := s.inParts(pictures, func(q *gorm.DB, some []uint) error {
		var found []store.SentFile
		err := q.Where("picture_id IN ? AND sum <> ''", some).Order("destination_id, path").Find(&found).Error
		all = append(all, found...)
		return err
	})
	return all, err
}

func (s *records) SaveSent(files []store.SentFile) error {
	if len(files) == 0 {
		return nil
	}
	return s.write.Clauses(clause.OnConflict{UpdateAll: true}).CreateInBatches(&files, rowsAtOnce).Error
}

func (s *records) DropSent(destination uint, paths []string) error {
	for len(paths) > 0 {
		some := paths[:min(rowsAtOnce, len(paths))]
		paths = paths[len(some):]
		if err := s.write.Where("destination_id = ? AND path IN ?", destination, some).Delete(&store.SentFile{}).Error; err != nil {
			return err
		}
	}
	return nil
}

// SiteState counts what changes hands whenever something goes live or off the air. Files that go
// and come are noted with their time or leave their count behind; of rules each version is kept.
func (s *records) SiteState() (string, error) {
	var state string
	err := s.read.Raw(`SELECT
		(SELECT COUNT(*) || '/' || COALESCE(MAX(published_at), '') FROM published) || ' ' ||
		(SELECT COUNT(*) FROM gone) || ' ' ||
		(SELECT COUNT(*) || '/' || COALESCE(MAX(id), 0) FROM live_versions) || ' ' ||
		(SELECT COALESCE(GROUP_CONCAT(path || '>' || page_id), '') FROM (SELECT path, page_id FROM redirects ORDER BY path)) || ' ' ||
		(SELECT COUNT(*) FROM pages WHERE dropped_at IS NULL) || ' ' ||
		(SELECT COUNT(approved_at) || '/' || COALESCE(MAX(approved_at), '') || '/' || COALESCE(SUM(stopped), 0) || '/' || COUNT(dropped_at) FROM banners) || ' ' ||
		(SELECT COUNT(*) || '/' || COALESCE(MAX(updated_at), '') FROM occasions) || ' ' ||
		(SELECT COALESCE(SUM(pictures.version), 0) FROM pictures JOIN banners ON json_extract(banners.live, '$.picture') = pictures.id) || ' ' ||
		(SELECT COALESCE(MAX(id), 0) FROM house_rules)`).Scan(&state).Error
	return digestOf(state), err
}

func digestOf(text string) string {
	sum := sha256.Sum256([]byte(text))
	return hex.EncodeToString(sum[:16])
}

func (s *records) AllPublished() ([]store.Published, error) {
	var all []store.Published
	return all, s.read.Select("path", "hash", "media_type", "picture_id", "picture_version").Group("path, hash").Order("path, hash").Find(&all).Error
}

func (s *records) GonePaths() ([]string, error) {
	var rows []struct{ Section, Slug string }
	err := s.present().Model(&store.Page{}).Select("section", "slug").Where("live_version = 0 AND id IN (SELECT page_id FROM live_versions)").Order("section, slug").Scan(&rows).Error
	var all []string
	for _, r := range rows {
		all = append(all, store.Page{Section: r.Section, Slug: r.Slug}.Path())
	}
	return all, err
}
