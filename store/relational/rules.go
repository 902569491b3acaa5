package relational

import (
	"errors"
	"time"

	"gorm.io/gorm"
	"gorm.io/gorm/clause"

	"mivlet/core/rules"
	"mivlet/store"
)

func (s *Records) SaveRules(r rules.Rules, person, why string, at time.Time) error {
	return s.write.Create(&store.RulesVersion{Doc: string(r.Encode()), Person: person, Why: why, CreatedAt: at}).Error
}

func (s *Records) Rules() (rules.Rules, uint, error) {
	var v store.RulesVersion
	err := s.read.Order("id DESC").First(&v).Error
	if errors.Is(err, gorm.ErrRecordNotFound) {
		return rules.Default(), 0, nil
	}
	if err != nil {
		return rules.Rules{}, 0, err
	}
	r, err := v.Rules()
	return r, v.ID, err
}

func (s *Records) RulesVersions() ([]store.RulesVersion, error) {
	var all []store.RulesVersion
	return all, s.read.Order("id DESC").Find(&all).Error
}

func (s *Records) RulesVersion(id uint) (store.RulesVersion, error) {
	var v store.RulesVersion
	return v, found(s.read.First(&v, id).Error)
}

func (s *Records) RulesDraft(person uint) (store.RulesDraft, error) {
	var d store.RulesDraft
	return d, found(s.read.First(&d, "person_id = ?", person).Error)
}

func (s *Records) SaveRulesDraft(d store.RulesDraft) error {
	return s.write.Clauses(clause.OnConflict{UpdateAll: true}).Create(&d).Error
}

func (s *Records) DropRulesDraft(person uint) error {
	return s.write.Where("person_id = ?", person).Delete(&store.RulesDraft{}).Error
}

func (s *Records) RulesNumber() (uint, error) {
	var n uint
	return n, s.read.Model(&store.RulesVersion{}).Select("COALESCE(MAX(id), 0)").Scan(&n).Error
}
