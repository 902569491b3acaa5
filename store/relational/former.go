package relational

import (
	"time"

	"gorm.io/gorm/clause"

	"mivlet/core/survey"
	"mivlet/store"
)

func (s *Records) AddFormerSite(f *store.FormerSite) error {
	f.Hosts, f.Stayed = append([]string{}, f.Hosts...), append([]string{}, f.Stayed...)
	return s.write.Create(f).Error
}

func (s *Records) FormerSites() ([]store.FormerSite, error) {
	var all []store.FormerSite
	return all, s.read.Order("id DESC").Find(&all).Error
}

func (s *Records) FormerSite(id uint) (store.FormerSite, error) {
	var f store.FormerSite
	return f, found(s.read.First(&f, id).Error)
}

func (s *Records) SaveMended(id uint, hash string, sum survey.Sum, stayed []string, at time.Time) error {
	f := store.FormerSite{ID: id, MendedHash: hash, MendedSum: &sum, MendedAt: &at, Stayed: append([]string{}, stayed...)}
	return s.write.Model(&f).Select("MendedHash", "MendedSum", "MendedAt", "Stayed").Updates(&f).Error
}

func (s *Records) SaveFetched(f store.FormerSite) error {
	f.MendedHash, f.MendedSum, f.MendedAt, f.Stayed = "", nil, nil, []string{}
	return s.write.Model(&f).Select("Hash", "Bytes", "Sum", "AddedAt", "Unfinished", "MendedHash", "MendedSum", "MendedAt", "Stayed").Updates(&f).Error
}

func (s *Records) SaveFormerLook(look store.FormerLook) error { return s.write.Save(&look).Error }

func (s *Records) FormerLook(site uint) (store.FormerLook, error) {
	var look store.FormerLook
	return look, found(s.read.First(&look, "former_site_id = ?", site).Error)
}

func (s *Records) SaveFormerCompared(c store.FormerCompared) error { return s.write.Save(&c).Error }

func (s *Records) FormerCompared(site uint) (store.FormerCompared, error) {
	var c store.FormerCompared
	return c, found(s.read.First(&c, "former_site_id = ?", site).Error)
}

func (s *Records) DropFormerSite(id uint) error {
	return s.write.Delete(&store.FormerSite{}, id).Error
}

func (s *Records) ChooseForFormer(c *store.FormerChoice) error {
	key := []clause.Column{{Name: "former_site_id"}, {Name: "kind"}, {Name: "page"}, {Name: "address"}, {Name: "file"}}
	return s.write.Clauses(clause.OnConflict{Columns: key, DoUpdates: clause.AssignmentColumns([]string{"text", "person", "at"})}).Create(c).Error
}

func (s *Records) FormerChoices(site uint) ([]store.FormerChoice, error) {
	var all []store.FormerChoice
	return all, s.read.Order("at, id").Find(&all, "former_site_id = ?", site).Error
}

func (s *Records) DropFormerChoice(site, id uint) error {
	return s.write.Where("former_site_id = ?", site).Delete(&store.FormerChoice{}, id).Error
}
