package relational

import (
	"time"

	"mivlet/store"
)

// inUse are the pictures that something uses.
const inUse = `SELECT picture_id FROM placed JOIN pages ON pages.id = placed.page_id
	UNION SELECT picture_id FROM published WHERE picture_id > 0
	UNION SELECT picture_id FROM album_pictures JOIN albums ON albums.id = album_pictures.album_id WHERE albums.dropped_at IS NULL
	UNION SELECT CAST(json_extract(banners.doc, '$.picture') AS BIGINT) FROM banners WHERE banners.dropped_at IS NULL AND json_extract(banners.doc, '$.picture') IS NOT NULL
	UNION SELECT CAST(json_extract(banners.live, '$.picture') AS BIGINT) FROM banners WHERE banners.dropped_at IS NULL AND json_extract(banners.live, '$.picture') IS NOT NULL`

func (s *Records) NoteUnused(at time.Time) error {
	for _, do := range []struct {
		sql  string
		with []any
	}{
		{"DELETE FROM unused WHERE picture_id IN (" + inUse + ") OR picture_id IN (SELECT id FROM pictures WHERE station = ?)", []any{store.Bin}},
		{"UPDATE unused SET since = pictures.updated_at, told_at = NULL FROM pictures WHERE pictures.id = unused.picture_id AND pictures.updated_at > unused.since", nil},
		{"INSERT INTO unused (picture_id, since) SELECT id, ? FROM pictures WHERE station <> ? AND id NOT IN (" + inUse + ") AND id NOT IN (SELECT picture_id FROM unused)", []any{at, store.Bin}},
	} {
		if err := s.write.Exec(do.sql, do.with...).Error; err != nil {
			return err
		}
	}
	return nil
}

func (s *Records) UnusedSince(section string, since time.Time) ([]store.Unused, error) {
	var all []store.Unused
	return all, s.read.Model(&store.Picture{}).Select(s.fields(store.Picture{}, "pictures")+", unused.since, unused.told_at").Joins("JOIN unused ON unused.picture_id = pictures.id").
		Where("pictures.section = ? AND pictures.station <> ? AND unused.since <= ?", section, store.Bin, since).Order("unused.since, pictures.id").Find(&all).Error
}

func (s *Records) TellUnused(ids []uint, at time.Time) error {
	return s.write.Exec("UPDATE unused SET told_at = ? WHERE picture_id IN ?", at, ids).Error
}

func (s *Records) UseAgain(ids []uint, at time.Time) error {
	return s.write.Exec("UPDATE unused SET since = ?, told_at = NULL WHERE picture_id IN ?", at, ids).Error
}
