package postgres

import (
	"context"
	_ "embed"

	"github.com/go-gormigrate/gormigrate/v2"
	"gorm.io/gorm"

	"mivlet/store/relational"
)

//go:embed functions.sql
var functions string

//go:embed schema.sql
var schema string

// migrations bring the records from version to version, in order. They have the names of those of
// SQLite, and leave the same tables; a house could first lie in PostgreSQL when there were thirty-one. A
// migration that has been released is never changed: a new one follows it.
var migrations = []*gormigrate.Migration{
	{ID: "0031-kept-elsewhere", Migrate: func(tx *gorm.DB) error {
		for _, statements := range []string{functions, schema} {
			if err := tx.Exec(statements).Error; err != nil {
				return err
			}
		}
		return nil
	}},
	{ID: "0032-compared", Migrate: relational.Statements(
		`CREATE TABLE former_compared (former_site_id bigint PRIMARY KEY REFERENCES former_sites(id) ON DELETE CASCADE, hash text COLLATE "C" NOT NULL, at timestamptz NOT NULL, pages text COLLATE "C" NOT NULL)`,
	)},
	{ID: "0033-decoded", Migrate: relational.Statements(
		`CREATE TABLE decoded (day text COLLATE "C" PRIMARY KEY, millis bigint NOT NULL)`,
	)},
	{ID: "0034-jobs-left", Migrate: relational.Statements(
		`ALTER TABLE jobs ADD COLUMN within bigint NOT NULL DEFAULT 0`,
	)},
	{ID: "0035-jobs-about", Migrate: relational.Statements(
		`ALTER TABLE jobs ADD COLUMN about bigint NOT NULL DEFAULT 0`,
		`CREATE UNIQUE INDEX jobs_about ON jobs(kind, about) WHERE ended_at IS NULL AND about <> 0`,
		`CREATE INDEX jobs_last ON jobs(kind, about, id) WHERE about <> 0`,
	)},
}

// migrate makes the schema of a house and brings it up to date. Of several programs that begin at the same
// moment one does so, and the others wait.
func migrate(ctx context.Context, write *gorm.DB, house string) error {
	return write.WithContext(ctx).Transaction(func(tx *gorm.DB) error {
		if err := tx.Exec(`CREATE SCHEMA IF NOT EXISTS "` + house + `"`).Error; err != nil {
			return err
		}
		options := *gormigrate.DefaultOptions
		options.ValidateUnknownMigrations = true
		return gormigrate.New(tx, &options, migrations).Migrate()
	})
}
