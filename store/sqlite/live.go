package sqlite

import "mivlet/store"

func (s *records) AddLiveVersion(v *store.LiveVersion) error { return s.write.Create(v).Error }

func (s *records) LiveVersions(page uint) ([]store.LiveVersion, error) {
	var all []store.LiveVersion
	return all, s.read.Omit("Doc", "Files", "Leaf").Where("page_id = ?", page).Order("id DESC").Find(&all).Error
}

func (s *records) WholeLiveVersions(page uint) ([]store.LiveVersion, error) {
	var all []store.LiveVersion
	return all, s.read.Where("page_id = ?", page).Order("id DESC").Find(&all).Error
}

func (s *records) NewestLive(page uint) (store.LiveVersion, error) {
	var v store.LiveVersion
	return v, found(s.read.Where("page_id = ?", page).Order("id DESC").First(&v).Error)
}

func (s *records) LiveVersion(page, id uint) (store.LiveVersion, error) {
	var v store.LiveVersion
	return v, found(s.read.First(&v, "id = ? AND page_id = ?", id, page).Error)
}
