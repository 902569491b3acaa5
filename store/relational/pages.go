package relational

import (
	"encoding/json"
	"time"

	"gorm.io/gorm"

	"mivlet/store"
)

func (s *Records) AddPage(p *store.Page) error {
	p.Doc = p.Doc.Unfilled()
	if err := s.write.Create(p).Error; err != nil {
		return err
	}
	if err := s.setPlaced(p); err != nil {
		return err
	}
	return s.write.Create(&store.PageStep{PageID: p.ID, Parent: -1, Text: "As it began", Doc: p.Doc, CreatedAt: p.UpdatedAt}).Error
}

func (s *Records) Page(id uint) (store.Page, error) {
	var p store.Page
	return p, found(s.present().First(&p, id).Error)
}

func (s *Records) Pages() ([]store.Page, error) {
	var ps []store.Page
	return ps, s.present().Order("section, slug").Find(&ps).Error
}

func (s *Records) AddPageStep(p *store.Page, text, person string, at time.Time) error {
	p.Doc = p.Doc.Unfilled()
	doc, err := json.Marshal(p.Doc)
	if err != nil {
		return err
	}
	if p.Step, err = s.nextStep(stepTable{"page_steps", "page_id", "doc"}, p.ID, p.Step, text, doc, person, at); err != nil {
		return err
	}
	return s.saveDraft(p, at)
}

func (s *Records) ShowPageStep(p *store.Page, seq int, at time.Time) error {
	var step store.PageStep
	if err := found(s.read.First(&step, "page_id = ? AND seq = ?", p.ID, seq).Error); err != nil {
		return err
	}
	p.Step, p.Doc = seq, step.Doc
	return s.saveDraft(p, at)
}

func (s *Records) PageSteps(page uint) ([]store.PageStep, error) {
	var steps []store.PageStep
	return steps, s.read.Omit("Doc").Where("page_id = ?", page).Order("seq").Find(&steps).Error
}

func (s *Records) LastHands() (map[uint]string, error) {
	var steps []store.PageStep
	err := s.read.Select("page_id", "person").Where("id IN (SELECT MAX(id) FROM page_steps GROUP BY page_id)").Find(&steps).Error
	last := make(map[uint]string, len(steps))
	for _, step := range steps {
		last[step.PageID] = step.Person
	}
	return last, err
}

func (s *Records) saveDraft(p *store.Page, at time.Time) error {
	was := p.Version
	p.Version, p.UpdatedAt, p.Compared, p.Judged = was+1, at, "", ""
	res := s.write.Model(&store.Page{}).Where("id = ? AND version = ?", p.ID, was).Select("Doc", "Version", "Step", "UpdatedAt", "Compared", "Judged").Updates(p)
	if res.Error == nil && res.RowsAffected == 0 {
		return store.ErrStale
	}
	if res.Error != nil {
		return res.Error
	}
	return s.setPlaced(p)
}

// setPlaced notes which pictures stand on a page, by themselves or in an album.
func (s *Records) setPlaced(p *store.Page) error {
	if err := s.write.Exec("DELETE FROM placed WHERE page_id = ?", p.ID).Error; err != nil {
		return err
	}
	if p.DroppedAt != nil {
		return nil
	}
	doc := p.Doc.Unfilled()
	pictures, albums := doc.Pictures(), doc.Albums()
	if len(pictures)+len(albums) == 0 {
		return nil
	}
	alone, err := json.Marshal(append([]uint{}, pictures...))
	if err != nil {
		return err
	}
	together, err := json.Marshal(append([]uint{}, albums...))
	if err != nil {
		return err
	}
	return s.write.Exec("INSERT INTO placed (page_id, picture_id) SELECT CAST(? AS BIGINT), CAST(value AS BIGINT) FROM json_each(?) UNION SELECT CAST(? AS BIGINT), picture_id FROM album_pictures WHERE album_id IN (SELECT CAST(value AS BIGINT) FROM json_each(?))",
		p.ID, string(alone), p.ID, string(together)).Error
}

// placed is a picture that stands on a draft.
type placed struct{ PageID, PictureID uint }

// TableName is the table it is kept in.
func (placed) TableName() string { return "placed" }

func (s *Records) StandingOf(pictures []uint) (map[uint]store.Standing, error) {
	all := map[uint]store.Standing{}
	err := s.inParts(pictures, func(q *gorm.DB, some []uint) error {
		var rows []struct {
			ID uint
			store.Standing
		}
		err := q.Model(&store.Picture{}).Select("id, station, name, EXISTS (SELECT 1 FROM placed WHERE placed.picture_id = pictures.id) OR EXISTS (SELECT 1 FROM album_pictures WHERE album_pictures.picture_id = pictures.id) OR EXISTS (SELECT 1 FROM banners WHERE "+onBanner("pictures.id")+") AS placed").Where("id IN ?", some).Scan(&rows).Error
		for _, r := range rows {
			all[r.ID] = r.Standing
		}
		return err
	})
	return all, err
}

func (s *Records) IsPlaced(picture uint) (bool, error) {
	var n int64
	err := s.read.Model(&placed{}).Where("picture_id = ?", picture).Count(&n).Error
	return n > 0, err
}

func (s *Records) PagesWith(picture uint) ([]store.Page, error) {
	var ps []store.Page
	return ps, s.present().Where("id IN (SELECT page_id FROM placed WHERE picture_id = ?)", picture).Order("section, slug").Find(&ps).Error
}

func (s *Records) PagesIn(ids []uint) ([]store.Page, error) {
	var ps []store.Page
	if len(ids) == 0 {
		return nil, nil
	}
	return ps, s.present().Where("id IN ?", ids).Order("section, slug").Find(&ps).Error
}
