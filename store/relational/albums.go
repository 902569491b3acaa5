package relational

import (
	"encoding/json"
	"time"

	"mivlet/store"
)

func (s *Records) AddAlbum(a *store.Album) error {
	a.Version = max(a.Version, 1)
	if err := s.write.Create(a).Error; err != nil {
		return err
	}
	if err := s.settleAlbum(a); err != nil {
		return err
	}
	return s.write.Create(&store.AlbumStep{AlbumID: a.ID, Parent: -1, Text: "As it began", Doc: a.Doc, CreatedAt: a.UpdatedAt}).Error
}

func (s *Records) Album(id uint) (store.Album, error) {
	var a store.Album
	return a, found(s.read.First(&a, id).Error)
}

func (s *Records) Albums(dropped bool) ([]store.Album, error) {
	var all []store.Album
	where := "dropped_at IS NULL"
	if dropped {
		where = "dropped_at IS NOT NULL"
	}
	return all, s.read.Where(where).Order("section, lower(json_extract(doc, '$.title')), id").Find(&all).Error
}

func (s *Records) AlbumsIn(ids []uint) (map[uint]store.Album, error) {
	all := map[uint]store.Album{}
	if len(ids) == 0 {
		return all, nil
	}
	var found []store.Album
	err := s.read.Where("id IN ? AND dropped_at IS NULL", ids).Find(&found).Error
	for _, a := range found {
		all[a.ID] = a
	}
	return all, err
}

func (s *Records) AlbumsWith(picture uint) ([]store.Album, error) {
	var all []store.Album
	return all, s.read.Where("dropped_at IS NULL AND id IN (SELECT album_id FROM album_pictures WHERE picture_id = ?)", picture).Order("id").Find(&all).Error
}

func (s *Records) AddAlbumStep(a *store.Album, text, person string, at time.Time) error {
	doc, err := json.Marshal(a.Doc)
	if err != nil {
		return err
	}
	if a.Step, err = s.nextStep(stepTable{"album_steps", "album_id", "doc"}, a.ID, a.Step, text, doc, person, at); err != nil {
		return err
	}
	return s.saveAlbum(a, at)
}

func (s *Records) ShowAlbumStep(a *store.Album, seq int, at time.Time) error {
	var step store.AlbumStep
	if err := found(s.read.First(&step, "album_id = ? AND seq = ?", a.ID, seq).Error); err != nil {
		return err
	}
	a.Step, a.Doc = seq, step.Doc
	return s.saveAlbum(a, at)
}

func (s *Records) AlbumSteps(album uint) ([]store.AlbumStep, error) {
	var all []store.AlbumStep
	return all, s.read.Omit("Doc").Where("album_id = ?", album).Order("seq").Find(&all).Error
}

func (s *Records) saveAlbum(a *store.Album, at time.Time) error {
	was := a.Version
	a.Version, a.UpdatedAt = was+1, at
	res := s.write.Model(&store.Album{}).Where("id = ? AND version = ?", a.ID, was).Select("Doc", "Version", "Step", "UpdatedAt").Updates(a)
	if res.Error == nil && res.RowsAffected == 0 {
		return store.ErrStale
	}
	if res.Error != nil {
		return res.Error
	}
	return s.settleAlbum(a)
}

func (s *Records) DropAlbum(id uint, at *time.Time) error {
	if err := s.write.Model(&store.Album{}).Where("id = ?", id).UpdateColumn("dropped_at", at).Error; err != nil {
		return err
	}
	a, err := s.Album(id)
	if err != nil {
		return err
	}
	return s.settleAlbum(&a)
}

// settleAlbum notes which pictures are in an album, and on the pages that show it.
func (s *Records) settleAlbum(a *store.Album) error {
	if err := s.write.Exec("DELETE FROM album_pictures WHERE album_id = ?", a.ID).Error; err != nil {
		return err
	}
	if !a.Dropped() {
		list, err := json.Marshal(a.Doc.Pictures())
		if err != nil {
			return err
		}
		if err := s.write.Exec("INSERT INTO album_pictures (album_id, picture_id) SELECT CAST(? AS BIGINT), CAST(value AS BIGINT) FROM json_each(?)", a.ID, string(list)).Error; err != nil {
			return err
		}
	}
	var showing []store.Page
	if err := s.read.Where("id IN ("+onDrafts+")", a.ID).Find(&showing).Error; err != nil {
		return err
	}
	for _, p := range showing {
		if err := s.setPlaced(&p); err != nil {
			return err
		}
	}
	return s.unsettle("id IN ("+onDrafts+")", a.ID)
}

// onDrafts asks for the pages that show an album in their drafts.
const onDrafts = "SELECT pages.id FROM pages, json_each(pages.doc, '$.blocks') AS block WHERE CAST(json_extract(block.value, '$.album.album') AS BIGINT) = ? AND pages.dropped_at IS NULL"

// albumShown asks for all pages that show albums, each with what shows it.
const albumShown = `SELECT album_id, page_id, MAX(draft) AS on_draft, MAX(live) AS on_live FROM (
	SELECT CAST(json_extract(block.value, '$.album.album') AS BIGINT) AS album_id, pages.id AS page_id, 1 AS draft, 0 AS live FROM pages, json_each(pages.doc, '$.blocks') AS block WHERE pages.dropped_at IS NULL
	UNION ALL
	SELECT CAST(json_extract(block.value, '$.album.album') AS BIGINT), pages.id, 0, 1 FROM pages JOIN live_versions v ON v.id = (SELECT MAX(id) FROM live_versions WHERE page_id = pages.id), json_each(v.doc, '$.blocks') AS block WHERE pages.live_version > 0
) AS wherever WHERE album_id IS NOT NULL GROUP BY album_id, page_id`

func (s *Records) AlbumPages(albums ...uint) (map[uint][]store.AlbumPage, error) {
	var found []store.AlbumPage
	q := s.read.Table("(" + albumShown + ") AS shown").Joins("JOIN pages ON pages.id = shown.page_id").Select(s.fields(store.Page{}, "pages") + ", shown.album_id, shown.on_draft, shown.on_live").Order("pages.section, pages.slug")
	if len(albums) > 0 {
		q = q.Where("shown.album_id IN ?", albums)
	}
	err := q.Find(&found).Error
	all := map[uint][]store.AlbumPage{}
	for _, p := range found {
		all[p.AlbumID] = append(all[p.AlbumID], p)
	}
	return all, err
}

func (s *Records) ForgetInAlbums(pictures []uint, rewrite func(string) string) error {
	var steps []store.AlbumStep
	if err := s.read.Find(&steps).Error; err != nil {
		return err
	}
	for _, step := range steps {
		text, was := rewrite(step.Text), step.Text
		before := len(step.Doc.Entries) + len(step.Doc.Out)
		step.Text, step.Doc = text, step.Doc.Without(pictures...)
		if text == was && len(step.Doc.Entries)+len(step.Doc.Out) == before {
			continue
		}
		if err := s.write.Model(&store.AlbumStep{}).Where("id = ?", step.ID).Select("Text", "Doc").Updates(&step).Error; err != nil {
			return err
		}
	}
	var all []store.Album
	if err := s.read.Find(&all).Error; err != nil {
		return err
	}
	for _, a := range all {
		before := len(a.Doc.Entries) + len(a.Doc.Out)
		a.Doc = a.Doc.Without(pictures...)
		if len(a.Doc.Entries)+len(a.Doc.Out) == before {
			continue
		}
		if err := s.saveAlbum(&a, a.UpdatedAt); err != nil {
			return err
		}
	}
	return nil
}
