package postgres

import (
	"database/sql/driver"
	"errors"
	"fmt"
	"io"
	"net"
	"strings"

	"github.com/jackc/pgx/v5/pgconn"
	gormpg "gorm.io/driver/postgres"
	"gorm.io/gorm"

	"mivlet/store"
)

// dialect is GORM's PostgreSQL with errors of store.
type dialect struct{ *gormpg.Dialector }

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
	if err != nil && !errors.Is(err, store.ErrAway) && isAway(err) {
		return fmt.Errorf("%w: %w", store.ErrAway, err)
	}
	return err
}

// isAway reports whether an error says that the database cannot be reached, or is about to end or to begin.
func isAway(err error) bool {
	var said *pgconn.PgError
	if errors.As(err, &said) {
		// connection exceptions; too many connections; shutdowns, and one that has not begun yet
		return strings.HasPrefix(said.Code, "08") || said.Code == "53300" || strings.HasPrefix(said.Code, "57P0")
	}
	var connecting *pgconn.ConnectError
	var network net.Error
	return errors.As(err, &connecting) || errors.As(err, &network) || errors.Is(err, io.ErrUnexpectedEOF) || errors.Is(err, driver.ErrBadConn) || errors.Is(err, net.ErrClosed) || strings.Contains(err.Error(), "conn closed")
}
