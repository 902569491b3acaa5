package store

import (
	"encoding/json"
	"slices"
	"time"

	"mivlet/core/page"
)

// FilesMadeOf returns the hashes of the cuts and copies that were made of a picture.
func (s *Store) FilesMadeOf(picture uint) ([]string, error) {
	var hashes []string
	return hashes, s.read.Raw("SELECT hash FROM cuts WHERE picture_id = ? UNION SELECT hash FROM copies WHERE picture_id = ? UNION SELECT hash FROM published WHERE picture_id = ?", picture, picture, picture).Scan(&hashes).Error
}

// showed asks for the pages of a table whose documents hold a picture, alone or among
// others.
func showed(table, column string) string {
	return "SELECT DISTINCT " + table + "." + column + " FROM " + table + ", json_each(" + table + ".doc, '$.blocks') AS block WHERE json_extract(block.value, '$.placement.picture') = @picture" +
		" OR EXISTS (SELECT 1 FROM json_each(block.value, '$.pictures') AS one WHERE json_extract(one.value, '$.picture') = @picture)"
}

// PagesThatShowed returns the pages that show a picture now, did so once, or were live
// with it.
func (s *Store) PagesThatShowed(picture uint) ([]uint, error) {
	var ids []uint
	return ids, s.read.Raw(showed("pages", "id")+" UNION "+showed("page_steps", "page_id")+" UNION "+showed("live_versions", "page_id")+
		" UNION SELECT page_id FROM published WHERE picture_id = @picture", map[string]any{"picture": picture}).Scan(&ids).Error
}

// ForgetLiveVersions takes the earlier live versions of a page away that show one of
// some pictures, and what the newest one keeps of them. It returns how many went, and
// the files that they named.
func (s *Store) ForgetLiveVersions(id uint, pictures []uint) (n int, files []string, err error) {
	all, err := s.WholeLiveVersions(id)
	if err != nil {
		return 0, nil, err
	}
	for i, v := range all {
		doc, err := page.Parse([]byte(v.Doc))
		if err != nil {
			return n, files, err
		}
		shows := slices.ContainsFunc(v.Files, func(f Published) bool { return slices.Contains(pictures, f.PictureID) })
		forgotten := doc
		for _, picture := range pictures {
			if slices.Contains(doc.Pictures(), picture) {
				shows, forgotten = true, forgotten.Forgetting(picture)
			}
		}
		if !shows {
			continue
		}
		if i == 0 { // the newest tells what is live, or was last
			written, err := json.Marshal(forgotten)
			if err != nil {
				return n, files, err
			}
			v.Doc = string(written)
			kept := v.Files
			v.Files = slices.DeleteFunc(slices.Clone(v.Files), func(f Published) bool { return slices.Contains(pictures, f.PictureID) })
			if len(v.Files) == len(kept) {
				if err := s.write.Model(&LiveVersion{}).Where("id = ?", v.ID).UpdateColumn("doc", v.Doc).Error; err != nil {
					return n, files, err
				}
				continue
			}
			// It was taken off the site with the picture on it: nothing of it can be put back.
		}
		for _, f := range v.Files {
			files = append(files, f.Hash)
		}
		if err := s.write.Delete(&LiveVersion{}, v.ID).Error; err != nil {
			return n, files, err
		}
		n++
	}
	return n, files, nil
}

// ForgetOnSteps empties the places of some pictures in the history of a page, and has
// the lines of it written by rewrite.
func (s *Store) ForgetOnSteps(id uint, pictures []uint, rewrite func(string) string) error {
	var steps []PageStep
	if err := s.read.Where("page_id = ?", id).Find(&steps).Error; err != nil {
		return err
	}
	for _, step := range steps {
		for _, picture := range pictures {
			step.Doc = step.Doc.Forgetting(picture)
		}
		step.Text = rewrite(step.Text)
		if err := s.write.Model(&PageStep{}).Where("id = ?", step.ID).Select("Doc", "Text").Updates(&step).Error; err != nil {
			return err
		}
	}
	return nil
}

// SheetsOf returns the screenshots under the ruler that are one of some files.
func (s *Store) SheetsOf(sources []string) ([]RulerSheet, error) {
	var all []RulerSheet
	return all, s.read.Where("source_hash <> '' AND source_hash IN ?", sources).Find(&all).Error
}

// backupText is how the trail tells of a backup.
const backupText = "Wrote a backup"

// BackupsSince returns when backups were written since a moment, as far as the trail
// knows.
func (s *Store) BackupsSince(at time.Time) ([]time.Time, error) {
	var all []Trace
	err := s.read.Where("what LIKE ? AND at >= ?", backupText+"%", at).Order("id").Find(&all).Error
	times := make([]time.Time, len(all))
	for i, t := range all {
		times[i] = t.At
	}
	return times, err
}

// Scrub overwrites what was deleted wherever the database may still hold it: in the
// index of words, on free pages and in the write-ahead log. It writes the whole database
// anew and takes as long as that takes.
func (s *Store) Scrub() error {
	for _, statement := range []string{"INSERT INTO pictures_fts(pictures_fts) VALUES('optimize')", "VACUUM", "PRAGMA wal_checkpoint(TRUNCATE)"} {
		if err := s.write.Exec(statement).Error; err != nil {
			return err
		}
	}
	return nil
}
