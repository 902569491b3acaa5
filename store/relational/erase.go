package relational

import (
	"encoding/json"
	"slices"
	"time"

	"mivlet/core/page"
	"mivlet/store"
)

func (s *Records) FilesMadeOf(picture uint) ([]string, error) {
	var hashes []string
	return hashes, s.read.Raw("SELECT hash FROM cuts WHERE picture_id = ? UNION SELECT hash FROM copies WHERE picture_id = ? UNION SELECT hash FROM published WHERE picture_id = ? UNION SELECT hash FROM banner_files WHERE picture_id = ?", picture, picture, picture, picture).Scan(&hashes).Error
}

// showed asks for the pages of a table whose documents hold a picture, wherever it stands in
// them: on the page, behind a band, or for the page elsewhere.
func showed(table, column string) string {
	return "SELECT DISTINCT " + table + "." + column + " FROM " + table + ", json_tree(" + table + ".doc) AS said WHERE said.key = 'picture' AND CAST(said.atom AS BIGINT) = @picture"
}

func (s *Records) PagesThatShowed(picture uint) ([]uint, error) {
	var ids []uint
	return ids, s.read.Raw(showed("pages", "id")+" UNION "+showed("page_steps", "page_id")+" UNION "+showed("live_versions", "page_id")+
		" UNION SELECT page_id FROM published WHERE picture_id = @picture"+
		" UNION SELECT page_id FROM live_versions, json_each(live_versions.files) AS file WHERE CAST(json_extract(file.value, '$.PictureID') AS BIGINT) = @picture", map[string]any{"picture": picture}).Scan(&ids).Error
}

func (s *Records) ForgetLiveVersions(id uint, pictures []uint) (n int, files []string, err error) {
	all, err := s.WholeLiveVersions(id)
	if err != nil {
		return 0, nil, err
	}
	for i, v := range all {
		doc, err := page.Parse([]byte(v.Doc))
		if err != nil {
			return n, files, err
		}
		shows := slices.ContainsFunc(v.Files, func(f store.Published) bool { return slices.Contains(pictures, f.PictureID) })
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
			v.Files = slices.DeleteFunc(slices.Clone(v.Files), func(f store.Published) bool { return slices.Contains(pictures, f.PictureID) })
			if len(v.Files) == len(kept) {
				if err := s.write.Model(&store.LiveVersion{}).Where("id = ?", v.ID).UpdateColumn("doc", v.Doc).Error; err != nil {
					return n, files, err
				}
				continue
			}
			// It was taken off the site with the picture on it: nothing of it can be put back.
		}
		for _, f := range v.Files {
			files = append(files, f.Hash)
		}
		if err := s.write.Delete(&store.LiveVersion{}, v.ID).Error; err != nil {
			return n, files, err
		}
		n++
	}
	return n, files, nil
}

func (s *Records) ForgetOnSteps(id uint, pictures []uint, rewrite func(string) string) error {
	var steps []store.PageStep
	if err := s.read.Where("page_id = ?", id).Find(&steps).Error; err != nil {
		return err
	}
	for _, step := range steps {
		for _, picture := range pictures {
			step.Doc = step.Doc.Forgetting(picture)
		}
		step.Text = rewrite(step.Text)
		if err := s.write.Model(&store.PageStep{}).Where("id = ?", step.ID).Select("Doc", "Text").Updates(&step).Error; err != nil {
			return err
		}
	}
	return nil
}

func (s *Records) SheetsOf(sources []string) ([]store.RulerSheet, error) {
	var all []store.RulerSheet
	return all, s.read.Where("source_hash <> '' AND source_hash IN ?", sources).Find(&all).Error
}

func (s *Records) BackupsSince(at time.Time) (byHand, byThemselves []time.Time, err error) {
	var all []store.Trace
	err = s.read.Where("what LIKE ? AND at >= ?", store.BackupText+"%", at).Order("id").Find(&all).Error
	for _, t := range all {
		if t.Person == "" {
			byThemselves = append(byThemselves, t.At)
		} else {
			byHand = append(byHand, t.At)
		}
	}
	return byHand, byThemselves, err
}

func (s *Records) AddErasure(e *store.Erasure) error { return s.write.Create(e).Error }

func (s *Records) ErasuresLeft() ([]store.Erasure, error) {
	var all []store.Erasure
	return all, s.read.Order("id").Find(&all).Error
}

func (s *Records) EndErasure(id uint) error {
	return s.write.Delete(&store.Erasure{}, id).Error
}

func (s *Records) Scrub() error { return s.engine.Scrub(s.write) }
