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
	{ID: "0002-people-and-rules", Migrate: statements(
		`CREATE TABLE people (
			id INTEGER PRIMARY KEY, name TEXT NOT NULL, login TEXT NOT NULL COLLATE NOCASE UNIQUE, password TEXT NOT NULL DEFAULT '',
			keeper INTEGER NOT NULL DEFAULT 0, away INTEGER NOT NULL DEFAULT 0, epoch INTEGER NOT NULL DEFAULT 0, created_at DATETIME NOT NULL)`,
		`CREATE TABLE roles (
			person_id INTEGER NOT NULL REFERENCES people(id) ON DELETE CASCADE, section TEXT NOT NULL, role TEXT NOT NULL,
			PRIMARY KEY (person_id, section))`,
		`CREATE TABLE sessions (token TEXT PRIMARY KEY, data BLOB NOT NULL, expiry REAL NOT NULL)`,
		`CREATE INDEX sessions_expiry ON sessions(expiry)`,
		`CREATE TABLE trail (
			id INTEGER PRIMARY KEY, at DATETIME NOT NULL, person_id INTEGER NOT NULL, person TEXT NOT NULL,
			section TEXT NOT NULL DEFAULT '', what TEXT NOT NULL)`,
		`ALTER TABLE house_rules ADD COLUMN person TEXT NOT NULL DEFAULT ''`,
		`ALTER TABLE house_rules ADD COLUMN why TEXT NOT NULL DEFAULT ''`,
		`CREATE TABLE rules_drafts (
			person_id INTEGER PRIMARY KEY, base INTEGER NOT NULL, doc TEXT NOT NULL, updated_at DATETIME NOT NULL)`,
		`CREATE TABLE ruler_sheets (
			id INTEGER PRIMARY KEY, person TEXT NOT NULL, title TEXT NOT NULL, hash TEXT NOT NULL, width INTEGER NOT NULL, height INTEGER NOT NULL,
			scale REAL NOT NULL, created_at DATETIME NOT NULL)`,
		`CREATE TABLE readings (
			id INTEGER PRIMARY KEY, sheet_id INTEGER NOT NULL REFERENCES ruler_sheets(id) ON DELETE CASCADE,
			upright INTEGER NOT NULL, "from" INTEGER NOT NULL, "to" INTEGER NOT NULL, title TEXT NOT NULL, person TEXT NOT NULL, created_at DATETIME NOT NULL)`,
		`ALTER TABLE steps ADD COLUMN person TEXT NOT NULL DEFAULT ''`,
		`ALTER TABLE page_steps ADD COLUMN person TEXT NOT NULL DEFAULT ''`,
		`ALTER TABLE pages ADD COLUMN live_print TEXT NOT NULL DEFAULT ''`,
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
