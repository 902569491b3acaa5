package sqlite

import (
	"errors"

	"gorm.io/driver/sqlite"
	"gorm.io/gorm"
	pure "modernc.org/sqlite"
	lib "modernc.org/sqlite/lib"

	"mivlet/store"
)

// dialect is GORM's SQLite over a driver in pure Go, whose errors it knows.
type dialect struct{ *sqlite.Dialector }

func dialectOf(dsn string) dialect {
	return dialect{&sqlite.Dialector{DriverName: "sqlite", DSN: dsn}}
}

// Translate turns what SQLite says into errors of store (SQLite, "Result and Error
// Codes": the extended codes of constraints).
func (dialect) Translate(err error) error {
	var said *pure.Error
	if errors.As(err, &said) {
		switch said.Code() {
		case lib.SQLITE_CONSTRAINT_UNIQUE, lib.SQLITE_CONSTRAINT_PRIMARYKEY:
			return store.ErrTaken
		case lib.SQLITE_CONSTRAINT_FOREIGNKEY:
			return gorm.ErrForeignKeyViolated
		}
	}
	return err
}
