package postgres

import (
	"errors"

	"github.com/jackc/pgx/v5/pgconn"
	driver "gorm.io/driver/postgres"
	"gorm.io/gorm"

	"mivlet/store"
)

// dialect is GORM's PostgreSQL with errors of store.
type dialect struct{ *driver.Dialector }

// Translate turns what PostgreSQL says into errors of store (PostgreSQL, Appendix A: error codes).
func (dialect) Translate(err error) error {
	var said *pgconn.PgError
	if errors.As(err, &said) {
		switch said.Code {
		case "23505": // unique_violation
			return store.ErrTaken
		case "23503": // foreign_key_violation
			return gorm.ErrForeignKeyViolated
		}
	}
	return err
}
