package relational

import "mivlet/store"

func (s *Records) AddSheet(r *store.RulerSheet) error { return s.write.Create(r).Error }

func (s *Records) Sheets() ([]store.RulerSheet, error) {
	var all []store.RulerSheet
	return all, s.read.Preload("Readings").Order("id DESC").Find(&all).Error
}

func (s *Records) Sheet(id uint) (store.RulerSheet, error) {
	var r store.RulerSheet
	return r, found(s.read.Preload("Readings").First(&r, id).Error)
}

func (s *Records) SetScale(id uint, scale float64) error {
	return s.write.Model(&store.RulerSheet{}).Where("id = ?", id).UpdateColumn("scale", scale).Error
}

func (s *Records) DropSheet(id uint) error { return s.write.Delete(&store.RulerSheet{}, id).Error }

func (s *Records) AddReading(r *store.Reading) error { return s.write.Create(r).Error }

func (s *Records) DropReading(sheet, id uint) error {
	return s.write.Where("sheet_id = ?", sheet).Delete(&store.Reading{}, id).Error
}
