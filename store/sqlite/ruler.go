package sqlite

import "mivlet/store"

func (s *records) AddSheet(r *store.RulerSheet) error { return s.write.Create(r).Error }

func (s *records) Sheets() ([]store.RulerSheet, error) {
	var all []store.RulerSheet
	return all, s.read.Preload("Readings").Order("id DESC").Find(&all).Error
}

func (s *records) Sheet(id uint) (store.RulerSheet, error) {
	var r store.RulerSheet
	return r, found(s.read.Preload("Readings").First(&r, id).Error)
}

func (s *records) SetScale(id uint, scale float64) error {
	return s.write.Model(&store.RulerSheet{}).Where("id = ?", id).UpdateColumn("scale", scale).Error
}

func (s *records) DropSheet(id uint) error { return s.write.Delete(&store.RulerSheet{}, id).Error }

func (s *records) AddReading(r *store.Reading) error { return s.write.Create(r).Error }

func (s *records) DropReading(sheet, id uint) error {
	return s.write.Where("sheet_id = ?", sheet).Delete(&store.Reading{}, id).Error
}
