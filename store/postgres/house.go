package postgres

import (
	"context"
	"errors"
	"slices"

	"gorm.io/gorm"
)

// asked runs something on the database of a house, without opening the house.
func asked(ctx context.Context, at Address, do func(db *gorm.DB) error) error {
	if err := at.Check(); err != nil {
		return err
	}
	db, end, err := connect(at, 1, false)
	if err != nil {
		return err
	}
	defer end()
	pool, err := db.DB()
	if err != nil {
		return err
	}
	return errors.Join(do(db.WithContext(ctx)), pool.Close())
}

// Others returns how many other programs work on a house.
func Others(ctx context.Context, at Address) (n int, err error) {
	err = asked(ctx, at, func(db *gorm.DB) error {
		programs, err := (&Fellows{at, db}).Programs(ctx)
		n = len(slices.DeleteFunc(programs, func(p string) bool { return p == program }))
		return err
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
