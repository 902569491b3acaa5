package postgres

import (
	"context"
	"errors"

	"gorm.io/gorm"
)

// asked runs something on the database of a house, without opening the house.
func asked(ctx context.Context, at Address, do func(db *gorm.DB) error) error {
	if err := at.Check(); err != nil {
		return err
	}
	db, err := connect(at, 1, false)
	if err != nil {
		return err
	}
	pool, err := db.DB()
	if err != nil {
		return err
	}
	return errors.Join(do(db.WithContext(ctx)), pool.Close())
}

// Others returns how many connections other programs have to a house.
func Others(ctx context.Context, at Address) (n int, err error) {
	err = asked(ctx, at, func(db *gorm.DB) error {
		return db.Raw("SELECT COUNT(*) FROM pg_stat_activity WHERE datname = current_database() AND application_name LIKE 'mivlet %' AND split_part(application_name, ' ', 3) = ? AND split_part(application_name, ' ', 2) <> ?", at.House, program).Scan(&n).Error
	})
	return n, err
}

// SetAside gives the schema of a house another name, which it returns.
func SetAside(ctx context.Context, at Address, end string) (string, error) {
	name := at.House + "_" + end
	return name, asked(ctx, at, func(db *gorm.DB) error {
		return db.Exec(`ALTER SCHEMA "` + at.House + `" RENAME TO "` + name + `"`).Error
	})
}

// Drop erases a house with all that it has.
func Drop(ctx context.Context, at Address) error {
	return asked(ctx, at, func(db *gorm.DB) error {
		return db.Exec(`DROP SCHEMA IF EXISTS "` + at.House + `" CASCADE`).Error
	})
}
