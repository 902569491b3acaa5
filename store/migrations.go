package store

import (
	"github.com/go-gormigrate/gormigrate/v2"
	"gorm.io/gorm"
)

// migrations bring the records from version to version, in order. A migration
// that has been released is never changed: a new one follows it.
var migrations = []*gormigrate.Migration{
	{ID: "0001-pictures-and-pages", Migrate: statements(
		`CREATE TABLE house_rules (
			id INTEGER PRIMARY KEY, doc TEXT NOT NULL, created_at DATETIME NOT NULL)`,
		`CREATE TABLE pictures (
			id INTEGER PRIMARY KEY,
			section TEXT NOT NULL, original_hash TEXT NOT NULL, original_name TEXT NOT NULL, facts TEXT NOT NULL,
			station TEXT NOT NULL, step INTEGER NOT NULL, work TEXT NOT NULL, name TEXT NOT NULL,
			preview_hash TEXT NOT NULL DEFAULT '', thumb_hash TEXT NOT NULL DEFAULT '',
			created_at DATETIME NOT NULL, updated_at DATETIME NOT NULL)`,
		`CREATE INDEX pictures_station ON pictures(station, id)`,
		`CREATE INDEX pictures_original ON pictures(original_hash)`,
		`CREATE UNIQUE INDEX pictures_name ON pictures(section, name) WHERE name <> ''`,
		`CREATE TABLE steps (
			id INTEGER PRIMARY KEY, picture_id INTEGER NOT NULL REFERENCES pictures(id) ON DELETE CASCADE,
			seq INTEGER NOT NULL, text TEXT NOT NULL, work TEXT NOT NULL, created_at DATETIME NOT NULL,
			UNIQUE (picture_id, seq))`,
		`CREATE TABLE cuts (
			id INTEGER PRIMARY KEY, picture_id INTEGER NOT NULL REFERENCES pictures(id) ON DELETE CASCADE,
			key TEXT NOT NULL, density REAL NOT NULL, effective REAL NOT NULL, css_width INTEGER NOT NULL,
			width INTEGER NOT NULL, height INTEGER NOT NULL, hash TEXT NOT NULL, media_type TEXT NOT NULL,
			bytes INTEGER NOT NULL, quality INTEGER NOT NULL, why TEXT NOT NULL,
			UNIQUE (picture_id, key, density))`,
		`CREATE TABLE pages (
			id INTEGER PRIMARY KEY, section TEXT NOT NULL, slug TEXT NOT NULL, doc TEXT NOT NULL,
			version INTEGER NOT NULL, step INTEGER NOT NULL, live_version INTEGER NOT NULL DEFAULT 0, live_at DATETIME,
			report TEXT NOT NULL DEFAULT '', updated_at DATETIME NOT NULL,
			UNIQUE (section, slug))`,
		`CREATE TABLE page_steps (
			id INTEGER PRIMARY KEY, page_id INTEGER NOT NULL REFERENCES pages(id) ON DELETE CASCADE,
			seq INTEGER NOT NULL, text TEXT NOT NULL, doc TEXT NOT NULL, created_at DATETIME NOT NULL,
			UNIQUE (page_id, seq))`,
		`CREATE TABLE published (
			path TEXT NOT NULL, page_id INTEGER NOT NULL REFERENCES pages(id) ON DELETE CASCADE,
			hash TEXT NOT NULL, media_type TEXT NOT NULL, published_at DATETIME NOT NULL,
			PRIMARY KEY (path, page_id))`,
		`CREATE INDEX published_page ON published(page_id)`,
	)},
}

func statements(all ...string) gormigrate.MigrateFunc {
	return func(tx *gorm.DB) error {
		for _, sql := range all {
			if err := tx.Exec(sql).Error; err != nil {
				return err
			}
		}
		return nil
	}
}

func migrate(db *gorm.DB) error {
	options := *gormigrate.DefaultOptions
	options.UseTransaction = true
	options.ValidateUnknownMigrations = true
	return gormigrate.New(db, &options, migrations).Migrate()
}
