package relational

import (
	"crypto/sha256"
	"encoding/hex"
	"strings"

	"gorm.io/gorm"
	"gorm.io/gorm/clause"

	"mivlet/store"
)

func (s *Records) AddDestination(d *store.Destination) error { return s.write.Create(d).Error }

func (s *Records) SaveDestination(d store.Destination) error {
	done := s.write.Model(&d).Select("*").Omit("id", "created_at").Updates(d)
	if done.Error == nil && done.RowsAffected == 0 {
		return store.ErrNotFound
	}
	return done.Error
}

func (s *Records) Destination(id uint) (store.Destination, error) {
	var d store.Destination
	return d, found(s.read.First(&d, id).Error)
}

func (s *Records) Destinations() ([]store.Destination, error) {
	var all []store.Destination
	return all, s.read.Order("id").Find(&all).Error
}

func (s *Records) RemoveDestination(id uint) error {
	return s.write.Delete(&store.Destination{}, id).Error
}

func (s *Records) SentFiles(destination uint) ([]store.SentFile, error) {
	var all []store.SentFile
	return all, s.read.Where("destination_id = ?", destination).Order("path").Find(&all).Error
}

func (s *Records) SentOf(pictures []uint) ([]store.SentFile, error) {
	var all []store.SentFile
	err := s.inParts(pictures, func(q *gorm.DB, some []uint) error {
		var found []store.SentFile
		err := q.Where("picture_id IN ? AND sum <> ''", some).Order("destination_id, path").Find(&found).Error
		all = append(all, found...)
		return err
	})
	return all, err
}

func (s *Records) SaveSent(files []store.SentFile) error {
	if len(files) == 0 {
		return nil
	}
	return s.write.Clauses(clause.OnConflict{UpdateAll: true}).CreateInBatches(&files, rowsAtOnce).Error
}

func (s *Records) DropSent(destination uint, paths []string) error {
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
func (s *Records) SiteState() (string, error) {
	var state string
	err := s.read.Raw(`SELECT
		(SELECT COUNT(*) || '/' || COALESCE(CAST(MAX(published_at) AS TEXT), '') FROM published) || ' ' ||
		(SELECT COUNT(*) FROM gone) || ' ' ||
		(SELECT COUNT(*) || '/' || COALESCE(MAX(id), 0) FROM live_versions) || ' ' ||
		(SELECT COUNT(*) FROM pages WHERE dropped_at IS NULL) || ' ' ||
		(SELECT COUNT(approved_at) || '/' || COALESCE(CAST(MAX(approved_at) AS TEXT), '') || '/' || COUNT(*) FILTER (WHERE stopped = TRUE) || '/' || COUNT(dropped_at) FROM banners) || ' ' ||
		(SELECT COUNT(*) || '/' || COALESCE(CAST(MAX(updated_at) AS TEXT), '') FROM occasions) || ' ' ||
		(SELECT COALESCE(SUM(pictures.version), 0) FROM pictures JOIN banners ON CAST(json_extract(banners.live, '$.picture') AS BIGINT) = pictures.id) || ' ' ||
		(SELECT COALESCE(MAX(id), 0) FROM house_rules)`).Scan(&state).Error
	if err != nil {
		return "", err
	}
	var moved []string
	err = s.read.Raw("SELECT path || '>' || page_id FROM redirects ORDER BY path").Scan(&moved).Error
	return digestOf(state + " " + strings.Join(moved, ",")), err
}

func digestOf(text string) string {
	sum := sha256.Sum256([]byte(text))
	return hex.EncodeToString(sum[:16])
}

func (s *Records) AllPublished() ([]store.Published, error) {
	var all []store.Published
	return all, s.read.Select("path", "hash", "media_type", "picture_id", "picture_version").
		Where("page_id = (SELECT MIN(page_id) FROM published AS same WHERE same.path = published.path AND same.hash = published.hash)").Order("path, hash").Find(&all).Error
}

func (s *Records) GonePaths() ([]string, error) {
	var rows []struct{ Section, Slug string }
	err := s.present().Model(&store.Page{}).Select("section", "slug").Where("live_version = 0 AND id IN (SELECT page_id FROM live_versions)").Order("section, slug").Scan(&rows).Error
	var all []string
	for _, r := range rows {
		all = append(all, store.Page{Section: r.Section, Slug: r.Slug}.Path())
	}
	return all, err
}
