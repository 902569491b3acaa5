package relational

import (
	"cmp"
	"encoding/json"
	"fmt"
	"slices"
	"time"

	"gorm.io/gorm"

	"mivlet/core/consent"
	"mivlet/store"
)

func (s *Records) AddPicture(p *store.Picture) error {
	p.Follow()
	p.Version = 1
	if err := s.write.Create(p).Error; err != nil {
		return err
	}
	if err := s.index(p, true); err != nil {
		return err
	}
	return s.write.Create(&store.Step{PictureID: p.ID, Parent: -1, Text: "As it arrived", Work: p.Work, CreatedAt: p.CreatedAt}).Error
}

func (s *Records) Picture(id uint) (store.Picture, error) {
	var p store.Picture
	return p, found(s.read.First(&p, id).Error)
}

func (s *Records) PicturesAt(at store.Station) ([]store.Picture, error) {
	var ps []store.Picture
	return ps, s.read.Where("station = ?", at).Order("id DESC").Find(&ps).Error
}

func (s *Records) PicturesOf(at store.Station, sections []string, most int) ([]store.Picture, error) {
	q := s.read.Where("station = ?", at)
	if sections != nil {
		q = q.Where("section IN ?", sections)
	}
	var ps []store.Picture
	return ps, q.Order("id DESC").Limit(most).Find(&ps).Error
}

func (s *Records) Census() (c store.Census, err error) {
	err = s.read.Raw(`SELECT count(*) AS pictures, CAST(COALESCE(sum(CAST(json_extract(facts, '$.bytes') AS BIGINT)), 0) AS BIGINT) AS originals,
		count(*) FILTER (WHERE position = TRUE) AS positions, count(*) FILTER (WHERE station = ?) AS in_bin FROM pictures`, store.Bin).Scan(&c).Error
	if err != nil {
		return c, err
	}
	var seen struct{ Seen, Refused int }
	err = s.read.Raw(`SELECT count(*) AS seen, count(*) FILTER (WHERE json_extract(one.value, '$.state') = ?) AS refused
		FROM pictures, json_each(pictures.consents) AS one WHERE json_type(pictures.consents) = 'array'`, consent.Refused).Scan(&seen).Error
	c.Seen, c.Refused = seen.Seen, seen.Refused
	return c, err
}

func (s *Records) Held() (pictures int, bytes int64, err error) {
	var held struct {
		N     int
		Bytes int64
	}
	err = s.read.Raw("SELECT COUNT(*) AS n, CAST(COALESCE(SUM(bytes), 0) AS BIGINT) AS bytes FROM pictures").Scan(&held).Error
	return held.N, held.Bytes, err
}

func (s *Records) PicturesAfter(id uint, most int) ([]store.Picture, error) {
	var all []store.Picture
	return all, s.read.Where("id > ?", id).Order("id").Limit(most).Find(&all).Error
}

func (s *Records) PicturesIn(ids []uint) (map[uint]store.Picture, error) {
	var found []store.Picture
	if err := s.inParts(ids, func(q *gorm.DB, some []uint) error {
		var part []store.Picture
		err := q.Find(&part, "id IN ?", some).Error
		found = append(found, part...)
		return err
	}); err != nil {
		return nil, err
	}
	all := make(map[uint]store.Picture, len(found))
	for _, p := range found {
		all[p.ID] = p
	}
	return all, nil
}

func (s *Records) VersionsOf(ids []uint) (map[uint]int, error) {
	all := map[uint]int{}
	err := s.inParts(ids, func(q *gorm.DB, some []uint) error {
		var found []store.Picture
		err := q.Select("id", "version").Find(&found, "id IN ?", some).Error
		for _, p := range found {
			all[p.ID] = p.Version
		}
		return err
	})
	return all, err
}

// mostAtOnce is how many numbers one statement names; SQLite takes 32,766.
const mostAtOnce = 10_000

// rowsAtOnce is how many records one statement writes: each has up to sixty values.
const rowsAtOnce = 500

// inParts asks for many records in statements of a size that the database takes.
func (s *Records) inParts(ids []uint, ask func(*gorm.DB, []uint) error) error {
	for some := range slices.Chunk(ids, mostAtOnce) {
		if err := ask(s.read, some); err != nil {
			return err
		}
	}
	return nil
}

func (s *Records) PicturesByOriginal(hash string) ([]store.Picture, error) {
	var ps []store.Picture
	return ps, s.read.Where("original_hash = ? OR arrived_hash = ?", hash, hash).Order("id").Find(&ps).Error
}

func (s *Records) PicturesByOriginals(hashes []string) (map[string][]store.Picture, error) {
	var found []store.Picture
	for some := range slices.Chunk(hashes, mostAtOnce) {
		var part []store.Picture
		if err := s.read.Where("original_hash IN ? OR (arrived_hash <> '' AND arrived_hash IN ?)", some, some).Order("id").Find(&part).Error; err != nil {
			return nil, err
		}
		found = append(found, part...)
	}
	all := map[string][]store.Picture{}
	for _, p := range found {
		for _, hash := range []string{p.OriginalHash, p.ArrivedHash} {
			if hash != "" {
				all[hash] = append(all[hash], p)
			}
		}
	}
	return all, nil
}

func (s *Records) NameTaken(section, name string, but uint) (bool, error) {
	var n int64
	err := s.read.Model(&store.Picture{}).Where("section = ? AND name = ? AND id <> ?", section, name, but).Count(&n).Error
	return n > 0, err
}

func (s *Records) SavePicture(p *store.Picture) error {
	p.Follow()
	p.Version++
	if err := s.write.Save(p).Error; err != nil {
		return err
	}
	// It may stand at the top of pages that do not place it.
	if err := s.unsettle("id IN (SELECT page_id FROM placed WHERE picture_id = ? UNION SELECT page_id FROM published WHERE picture_id = ?)", p.ID, p.ID); err != nil {
		return err
	}
	return s.index(p, false)
}

func (s *Records) SetPreview(p store.Picture) (bool, error) {
	res := s.write.Model(&store.Picture{}).Where("id = ? AND original_hash = ?", p.ID, p.OriginalHash).
		UpdateColumns(map[string]any{"preview_hash": p.PreviewHash, "twin_a": p.TwinA, "twin_b": p.TwinB, "twin_c": p.TwinC, "twin_crops": p.TwinCrops})
	return res.RowsAffected > 0, res.Error
}

func (s *Records) SetLooks(p store.Picture) (bool, error) {
	res := s.write.Model(&store.Picture{}).Where("id = ?", p.ID).UpdateColumns(map[string]any{"look_key": p.LookKey, "thumb_hash": p.ThumbHash, "look_hash": p.LookHash})
	return res.RowsAffected > 0, res.Error
}

func (s *Records) AddStep(p *store.Picture, text, person string, at time.Time) error {
	work, err := json.Marshal(p.Work)
	if err != nil {
		return err
	}
	p.UpdatedAt = at
	if p.Step, err = s.nextStep(stepTable{"steps", "picture_id", "work"}, p.ID, p.Step, text, work, person, at); err != nil {
		return err
	}
	return s.SavePicture(p)
}

// stepTable is a table of steps: whose they are, and what each of them keeps.
type stepTable struct{ table, owner, kept string }

// nextStep writes a step that follows another one, and returns its number.
func (s *Records) nextStep(of stepTable, owner uint, parent int, text string, kept []byte, person string, at time.Time) (seq int, err error) {
	return seq, s.write.Raw(fmt.Sprintf("INSERT INTO %[1]s (%[2]s, seq, parent, text, %[3]s, person, created_at) SELECT ?, COALESCE(MAX(seq), -1) + 1, ?, ?, ?, ?, ? FROM %[1]s WHERE %[2]s = ? RETURNING seq", of.table, of.owner, of.kept),
		owner, parent, text, string(kept), person, at, owner).Scan(&seq).Error
}

func (s *Records) Steps(picture uint) ([]store.Step, error) {
	var steps []store.Step
	return steps, s.read.Where("picture_id = ?", picture).Order("seq").Find(&steps).Error
}

func (s *Records) StepsSince(picture uint, seq int) ([]store.Step, error) {
	var steps []store.Step
	return steps, s.read.Where("picture_id = ? AND seq >= ?", picture, seq).Order("seq").Find(&steps).Error
}

func (s *Records) ForgetSteps(picture uint, seq int) error {
	if err := s.write.Where("picture_id = ? AND seq < ?", picture, seq).Delete(&store.Step{}).Error; err != nil {
		return err
	}
	return s.write.Model(&store.Step{}).Where("picture_id = ? AND seq = ?", picture, seq).UpdateColumn("parent", -1).Error
}

func (s *Records) Step(picture uint, seq int) (store.Step, error) {
	var step store.Step
	return step, found(s.read.First(&step, "picture_id = ? AND seq = ?", picture, seq).Error)
}

func (s *Records) Cuts(picture uint, key string) ([]store.Cut, error) {
	var cuts []store.Cut
	return cuts, s.read.Where("picture_id = ? AND key = ?", picture, key).Order("density").Find(&cuts).Error
}

func (s *Records) AddCuts(cuts []store.Cut, heavy bool) error {
	return s.tx(func(s *Records) error {
		id := cuts[0].PictureID
		there := s.write.Model(&store.Picture{}).Where("id = ?", id).UpdateColumn("heavy", heavy)
		if there.Error != nil || there.RowsAffected == 0 {
			return cmp.Or(there.Error, store.ErrNotFound)
		}
		if err := s.write.Create(&cuts).Error; err != nil {
			return err
		}
		return s.unjudge("id IN (SELECT page_id FROM placed WHERE picture_id = ?)", id)
	})
}

func (s *Records) CountInSection(section string) (int64, error) {
	var pictures, pages int64
	if err := s.read.Model(&store.Picture{}).Where("section = ?", section).Count(&pictures).Error; err != nil {
		return 0, err
	}
	err := s.present().Model(&store.Page{}).Where("section = ?", section).Count(&pages).Error
	return pictures + pages, err
}

func (s *Records) CutsByHash(hash string) ([]store.Cut, error) {
	var cuts []store.Cut
	return cuts, s.read.Where("hash = ?", hash).Find(&cuts).Error
}

func (s *Records) CutsIn(pictures []uint) (map[uint][]store.Cut, error) {
	all := map[uint][]store.Cut{}
	err := s.inParts(pictures, func(q *gorm.DB, some []uint) error {
		var found []store.Cut
		err := q.Where("picture_id IN ?", some).Order("density").Find(&found).Error
		for _, c := range found {
			all[c.PictureID] = append(all[c.PictureID], c)
		}
		return err
	})
	return all, err
}

func (s *Records) DropCuts(ids []uint) error {
	for some := range slices.Chunk(ids, mostAtOnce) {
		if err := s.write.Delete(&store.Cut{}, "id IN ?", some).Error; err != nil {
			return err
		}
	}
	return nil
}

func (s *Records) AllCuts(picture uint) ([]store.Cut, error) {
	var cuts []store.Cut
	return cuts, s.read.Where("picture_id = ?", picture).Order("id DESC").Find(&cuts).Error
}

func (s *Records) SetStation(id uint, to store.Station) error {
	return s.write.Model(&store.Picture{}).Where("id = ?", id).UpdateColumns(map[string]any{"station": to, "shelved": to == store.Bench || to == store.Shelf}).Error
}

func (s *Records) CutsMadeBefore(at time.Time) (map[uint][]store.Cut, error) {
	var found []store.Cut
	if err := s.read.Where("made_at IS NULL OR made_at < ?", at).Find(&found).Error; err != nil {
		return nil, err
	}
	all := map[uint][]store.Cut{}
	for _, c := range found {
		all[c.PictureID] = append(all[c.PictureID], c)
	}
	return all, nil
}

func (s *Records) SetFaces(p store.Picture) error {
	if err := s.write.Model(&store.Picture{ID: p.ID}).Where("original_hash = ?", p.OriginalHash).Select("Faces", "FacesBy").UpdateColumns(&p).Error; err != nil {
		return err
	}
	return s.unjudge("id IN (SELECT page_id FROM placed WHERE picture_id = ?)", p.ID)
}
