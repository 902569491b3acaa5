package relational

import (
	"encoding/json"
	"slices"
	"time"

	"gorm.io/gorm/clause"

	"mivlet/core/banner"
	"mivlet/store"
)

func (s *Records) AddBanner(b *store.Banner) error {
	b.Version = max(b.Version, 1)
	if err := s.write.Create(b).Error; err != nil {
		return err
	}
	return s.write.Create(&store.BannerStep{BannerID: b.ID, Parent: -1, Text: "As it began", Doc: b.Doc, CreatedAt: b.UpdatedAt}).Error
}

func (s *Records) Banner(id uint) (store.Banner, error) {
	var b store.Banner
	return b, found(s.read.First(&b, id).Error)
}

func (s *Records) Banners(dropped bool) ([]store.Banner, error) {
	var all []store.Banner
	where := "dropped_at IS NULL"
	if dropped {
		where = "dropped_at IS NOT NULL"
	}
	return all, s.read.Where(where).Order("lower(json_extract(doc, '$.title')), id").Find(&all).Error
}

func (s *Records) BannersFor(spots []string, day string) ([]store.Banner, error) {
	var all []store.Banner
	return all, s.read.Where("dropped_at IS NULL AND NOT stopped AND json_extract(live, '$.spot') IN ? AND COALESCE(json_extract(live, '$.until'), ?) >= ?", spots, day, day).Order("id").Find(&all).Error
}

// onBanner asks whether a banner that is not deleted shows a picture, as a draft or to
// visitors.
func onBanner(picture string) string {
	return "banners.dropped_at IS NULL AND (CAST(json_extract(banners.doc, '$.picture') AS BIGINT) = " + picture + " OR CAST(json_extract(banners.live, '$.picture') AS BIGINT) = " + picture + ")"
}

func (s *Records) BannersWith(picture uint) ([]store.Banner, error) {
	var all []store.Banner
	return all, s.read.Where(onBanner("@picture"), map[string]any{"picture": picture}).Order("id").Find(&all).Error
}

func (s *Records) AddBannerStep(b *store.Banner, text, person string, at time.Time) error {
	doc, err := json.Marshal(b.Doc)
	if err != nil {
		return err
	}
	if b.Step, err = s.nextStep(stepTable{"banner_steps", "banner_id", "doc"}, b.ID, b.Step, text, doc, person, at); err != nil {
		return err
	}
	return s.saveBanner(b, at)
}

func (s *Records) ShowBannerStep(b *store.Banner, seq int, at time.Time) error {
	var step store.BannerStep
	if err := found(s.read.First(&step, "banner_id = ? AND seq = ?", b.ID, seq).Error); err != nil {
		return err
	}
	b.Step, b.Doc = seq, step.Doc
	return s.saveBanner(b, at)
}

func (s *Records) saveBanner(b *store.Banner, at time.Time) error {
	was := b.Version
	b.Version, b.UpdatedAt = was+1, at
	res := s.write.Model(&store.Banner{}).Where("id = ? AND version = ?", b.ID, was).Select("Doc", "Version", "Step", "UpdatedAt").Updates(b)
	if res.Error == nil && res.RowsAffected == 0 {
		return store.ErrStale
	}
	return res.Error
}

func (s *Records) BannerSteps(banner uint) ([]store.BannerStep, error) {
	var all []store.BannerStep
	return all, s.read.Where("banner_id = ?", banner).Order("seq").Find(&all).Error
}

func (s *Records) Approve(b *store.Banner, files []store.BannerFile, at time.Time) error {
	if err := s.write.Model(&store.Banner{}).Where("id = ?", b.ID).Select("Live", "ApprovedAt", "ApprovedBy", "Stopped").Updates(b).Error; err != nil {
		return err
	}
	before, err := s.BannerFiles(b.ID)
	if err != nil {
		return err
	}
	if err := s.write.Where("banner_id = ?", b.ID).Delete(&store.BannerFile{}).Error; err != nil {
		return err
	}
	for i := range files {
		files[i].BannerID = b.ID
	}
	if len(files) > 0 {
		if err := s.write.Create(&files).Error; err != nil {
			return err
		}
	}
	var gone []store.Published
	for _, f := range before[b.ID] {
		gone = append(gone, store.Published{Path: f.Path, Hash: f.Hash})
	}
	return s.noteGone(gone, at)
}

func (s *Records) StopBanner(id uint, stopped bool) error {
	return s.write.Model(&store.Banner{}).Where("id = ?", id).UpdateColumn("stopped", stopped).Error
}

func (s *Records) DropBanner(id uint, at *time.Time) error {
	return s.write.Model(&store.Banner{}).Where("id = ?", id).UpdateColumn("dropped_at", at).Error
}

func (s *Records) BannerFiles(banners ...uint) (map[uint][]store.BannerFile, error) {
	var found []store.BannerFile
	q := s.read.Order("banner_id, width, path")
	if len(banners) > 0 {
		q = q.Where("banner_id IN ?", banners)
	}
	err := q.Find(&found).Error
	all := map[uint][]store.BannerFile{}
	for _, f := range found {
		all[f.BannerID] = append(all[f.BannerID], f)
	}
	return all, err
}

// bannerFileAt is the file of a banner at a path, as what visitors get. A banner that was
// deleted or stopped shows nothing any more.
func (s *Records) bannerFileAt(path string) (store.Published, error) {
	var f store.BannerFile
	err := s.read.Where("path = ? AND banner_id IN (SELECT id FROM banners WHERE dropped_at IS NULL AND NOT stopped)", path).First(&f).Error
	return store.Published{Path: f.Path, Hash: f.Hash, MediaType: f.MediaType, PictureID: f.PictureID, CutKey: f.CutKey, Original: f.Original}, found(err)
}

func (s *Records) ForgetInBanners(pictures []uint, rewrite func(string) string, at time.Time) error {
	forget := func(d *banner.Doc) bool {
		if d == nil || !slices.Contains(pictures, d.Picture) {
			return false
		}
		d.Picture, d.Alt = 0, ""
		return true
	}
	var steps []store.BannerStep
	if err := s.read.Find(&steps).Error; err != nil {
		return err
	}
	for _, step := range steps {
		text, was := rewrite(step.Text), step.Text
		step.Text = text
		if !forget(&step.Doc) && text == was {
			continue
		}
		if err := s.write.Model(&store.BannerStep{}).Where("id = ?", step.ID).Select("Text", "Doc").Updates(&step).Error; err != nil {
			return err
		}
	}
	var all []store.Banner
	if err := s.read.Find(&all).Error; err != nil {
		return err
	}
	for _, b := range all {
		if b.Live != nil && slices.Contains(pictures, b.Live.Picture) {
			b.Live, b.ApprovedAt, b.ApprovedBy = nil, nil, ""
			if err := s.Approve(&b, nil, at); err != nil {
				return err
			}
		}
		if forget(&b.Doc) {
			if err := s.saveBanner(&b, b.UpdatedAt); err != nil {
				return err
			}
		}
	}
	return nil
}

func (s *Records) Occasions() ([]store.Occasion, error) {
	var all []store.Occasion
	return all, s.read.Order("from_day, until, id").Find(&all).Error
}

func (s *Records) SaveOccasion(o *store.Occasion) error { return s.write.Save(o).Error }

func (s *Records) DropOccasion(id uint) error { return s.write.Delete(&store.Occasion{}, id).Error }

func (s *Records) CountBanners(more []store.BannerDay) error {
	return s.tx(func(in *Records) error {
		for _, m := range more {
			err := in.write.Exec(`INSERT INTO banner_days (banner_id, day, shown, followed) SELECT id, ?, ?, ? FROM banners WHERE id = ?
				ON CONFLICT (banner_id, day) DO UPDATE SET shown = banner_days.shown + excluded.shown, followed = banner_days.followed + excluded.followed`, m.Day, m.Shown, m.Followed, m.BannerID).Error
			if err != nil {
				return err
			}
		}
		return nil
	})
}

func (s *Records) BannerDays(banner uint) ([]store.BannerDay, error) {
	var all []store.BannerDay
	q := s.read.Order("day, banner_id")
	if banner != 0 {
		q = q.Where("banner_id = ?", banner)
	}
	return all, q.Find(&all).Error
}

// liveSpot is a spot that the live version of a page has a place for.
type liveSpot struct {
	PageID uint
	Spot   string
}

// TableName is the table they are kept in.
func (liveSpot) TableName() string { return "live_spots" }

func (s *Records) SetSpots(page uint, spots []string) error {
	if err := s.write.Where("page_id = ?", page).Delete(&liveSpot{}).Error; err != nil {
		return err
	}
	all := make([]liveSpot, len(spots))
	for i, spot := range spots {
		all[i] = liveSpot{page, spot}
	}
	if len(all) == 0 {
		return nil
	}
	return s.write.Clauses(clause.OnConflict{DoNothing: true}).Create(&all).Error
}

func (s *Records) SpotsOf(page uint) ([]string, error) {
	var all []string
	return all, s.read.Model(&liveSpot{}).Where("page_id = ?", page).Order("spot").Pluck("spot", &all).Error
}
