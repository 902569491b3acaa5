package relational

import (
	"fmt"
	"time"

	"gorm.io/gorm"

	"mivlet/store"
)

// present are the pages that were not deleted.
func (s *Records) present() *gorm.DB { return s.read.Where("pages.dropped_at IS NULL") }

// A deleted page leaves its address free: its slug is one that no page can have, and the true one
// is kept beside it.

func (s *Records) DropPage(id uint, at time.Time) error {
	res := s.write.Exec("UPDATE pages SET dropped_at = ?, dropped_slug = slug, slug = ? WHERE id = ? AND dropped_at IS NULL AND live_version = 0", at, fmt.Sprintf("deleted:%d", id), id)
	if res.Error == nil && res.RowsAffected == 0 {
		return store.ErrNotFound
	}
	if res.Error != nil {
		return res.Error
	}
	if err := s.write.Exec("DELETE FROM placed WHERE page_id = ?", id).Error; err != nil {
		return err
	}
	return s.unjudge("1 = 1") // others may link to it
}

func (s *Records) BringPageBack(id uint, slug string) error {
	res := s.write.Exec("UPDATE pages SET dropped_at = NULL, dropped_slug = '', slug = ?, compared = '', judged = '' WHERE id = ? AND dropped_at IS NOT NULL", slug, id)
	if res.Error == nil && res.RowsAffected == 0 {
		return store.ErrNotFound
	}
	if res.Error != nil {
		return res.Error
	}
	p, err := s.Page(id)
	if err != nil {
		return err
	}
	if err := s.unjudge("1 = 1"); err != nil { // others may link to it
		return err
	}
	return s.setPlaced(&p)
}

// droppedPage is a deleted page with its true slug.
type droppedPage struct {
	store.Page
	DroppedSlug string
}

func (s *Records) dropped(where string, args ...any) ([]store.Page, error) {
	var rows []droppedPage
	err := s.read.Table("pages").Where("dropped_at IS NOT NULL").Where(where, args...).Order("dropped_at DESC, id DESC").Find(&rows).Error
	all := make([]store.Page, len(rows))
	for i, row := range rows {
		all[i] = row.Page
		all[i].Slug = row.DroppedSlug
	}
	return all, err
}

func (s *Records) DroppedPages() ([]store.Page, error) { return s.dropped("1 = 1") }

func (s *Records) DroppedPage(id uint) (store.Page, error) {
	all, err := s.dropped("id = ?", id)
	if err == nil && len(all) == 0 {
		err = store.ErrNotFound
	}
	if err != nil {
		return store.Page{}, err
	}
	return all[0], nil
}

func (s *Records) RemovePage(id uint) error {
	return s.write.Where("dropped_at IS NOT NULL").Delete(&store.Page{}, id).Error
}
