package store

import (
	"time"

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

// RulesDraft is what one person is changing in the rules, not applied yet.
type RulesDraft struct {
	PersonID  uint `gorm:"primaryKey;autoIncrement:false"`
	Base      uint // version it was begun from
	Doc       string
	UpdatedAt time.Time `gorm:"autoUpdateTime:false"`
}
