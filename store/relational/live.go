package relational

import "mivlet/store"

func (s *Records) AddLiveVersion(v *store.LiveVersion) error { return s.write.Create(v).Error }

func (s *Records) LiveVersions(page uint) ([]store.LiveVersion, error) {
	var all []store.LiveVersion
	return all, s.read.Omit("Doc", "Files", "Leaf").Where("page_id = ?", page).Order("id DESC").Find(&all).Error
}

func (s *Records) WholeLiveVersions(page uint) ([]store.LiveVersion, error) {
	var all []store.LiveVersion
	return all, s.read.Where("page_id = ?", page).Order("id DESC").Find(&all).Error
}

func (s *Records) NewestLive(page uint) (store.LiveVersion, error) {
	var v store.LiveVersion
	return v, found(s.read.Where("page_id = ?", page).Order("id DESC").First(&v).Error)
}

func (s *Records) LiveVersion(page, id uint) (store.LiveVersion, error) {
	var v store.LiveVersion
	return v, found(s.read.First(&v, "id = ? AND page_id = ?", id, page).Error)
}
