package relational

import (
	"github.com/go-gormigrate/gormigrate/v2"
	"gorm.io/gorm"
)

// Statements is a migration that runs some statements.
func Statements(all ...string) gormigrate.MigrateFunc {
	return func(tx *gorm.DB) error {
		for _, sql := range all {
			if err := tx.Exec(sql).Error; err != nil {
				return err
			}
		}
		return nil
	}
}
