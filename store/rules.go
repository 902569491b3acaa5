package store

import (
	"errors"
	"time"

	"gorm.io/gorm"
	"gorm.io/gorm/clause"

	"mivlet/core/rules"
)

// RulesVersion is one version of the house rules: what it says, who made it,
// when and why. The newest one holds.
type RulesVersion struct {
	ID        uint
	Doc       string // as rules.Encode writes it
	Person    string
	Why       string
	CreatedAt time.Time `gorm:"autoCreateTime:false"`
}

// TableName is the table the rules are kept in.
func (RulesVersion) TableName() string { return "house_rules" }

// Rules reads the document.
func (v RulesVersion) Rules() (rules.Rules, error) { return rules.Parse([]byte(v.Doc)) }

// SaveRules keeps a version of the house rules; the newest one holds.
func (s *Store) SaveRules(r rules.Rules, person, why string, at time.Time) error {
	return s.write.Create(&RulesVersion{Doc: string(r.Encode()), Person: person, Why: why, CreatedAt: at}).Error
}

// Rules returns the house rules that hold with the number of their version, or
// the ready-made ones as version 0.
func (s *Store) Rules() (rules.Rules, uint, error) {
	var v RulesVersion
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

// RulesVersions returns all versions, newest first.
func (s *Store) RulesVersions() ([]RulesVersion, error) {
	var all []RulesVersion
	return all, s.read.Order("id DESC").Find(&all).Error
}

// RulesVersion returns one version.
func (s *Store) RulesVersion(id uint) (RulesVersion, error) {
	var v RulesVersion
	return v, found(s.read.First(&v, id).Error)
}

// RulesDraft is what one person is changing in the rules, not applied yet.
type RulesDraft struct {
	PersonID  uint `gorm:"primaryKey;autoIncrement:false"`
	Base      uint // version it was begun from
	Doc       string
	UpdatedAt time.Time `gorm:"autoUpdateTime:false"`
}

// RulesDraft returns a person's draft of the rules.
func (s *Store) RulesDraft(person uint) (RulesDraft, error) {
	var d RulesDraft
	return d, found(s.read.First(&d, "person_id = ?", person).Error)
}

// SaveRulesDraft keeps a person's draft of the rules.
func (s *Store) SaveRulesDraft(d RulesDraft) error {
	return s.write.Clauses(clause.OnConflict{UpdateAll: true}).Create(&d).Error
}

// DropRulesDraft forgets a person's draft.
func (s *Store) DropRulesDraft(person uint) error {
	return s.write.Where("person_id = ?", person).Delete(&RulesDraft{}).Error
}

// RulesNumber returns the number of the version that holds; 0 for the ready-made ones.
func (s *Store) RulesNumber() (uint, error) {
	var n uint
	return n, s.read.Model(&RulesVersion{}).Select("COALESCE(MAX(id), 0)").Scan(&n).Error
}
