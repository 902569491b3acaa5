package postgres

import (
	"context"
	"database/sql"
	"errors"

	"gorm.io/gorm"
)

// lockOf is the number of the lock that whoever writes in a house holds (PostgreSQL, 9.27.10): the two
// numbers tell it from locks of other programs in the same database, and from other houses.
const lockOf = "SELECT pg_advisory_xact_lock(hashtext('mivlet'), hashtext($1))"

// pool is the connections to a house. Where house is set, whoever writes holds its lock.
type pool struct {
	db    *sql.DB
	reset func() // lets go of all connections that are not in use
	house string
}

// anew reports whether something is to be tried once more that has failed before anything was changed: the database was
// away, and connections to it that are left over from before are no good any more.
func (p *pool) anew(err error) bool {
	if err == nil || !isAway(err) {
		return false
	}
	p.reset()
	return true
}

// BeginTx begins a transaction; one that writes waits until it has the house alone.
func (p *pool) BeginTx(ctx context.Context, o *sql.TxOptions) (gorm.ConnPool, error) {
	tx, err := p.begin(ctx, o)
	if p.anew(err) {
		tx, err = p.begin(ctx, o)
	}
	return tx, err
}

func (p *pool) begin(ctx context.Context, o *sql.TxOptions) (gorm.ConnPool, error) {
	tx, err := p.db.BeginTx(ctx, o)
	if err != nil {
		return nil, err
	}
	if p.house != "" {
		if _, err := tx.ExecContext(ctx, lockOf, p.house); err != nil {
			return nil, errors.Join(err, tx.Rollback())
		}
	}
	return &transaction{tx}, nil
}

// GetDBConn is the pool itself.
func (p *pool) GetDBConn() (*sql.DB, error) { return p.db, nil }

// PrepareContext implements [gorm.ConnPool]; pgx prepares statements by itself.
func (p *pool) PrepareContext(ctx context.Context, query string) (*sql.Stmt, error) {
	return p.db.PrepareContext(ctx, query)
}

// ExecContext runs a statement, in a transaction of its own where others must not write meanwhile.
func (p *pool) ExecContext(ctx context.Context, query string, args ...any) (sql.Result, error) {
	if p.house == "" || alone(query) {
		return p.db.ExecContext(ctx, query, plain(args)...)
	}
	tx, err := p.BeginTx(ctx, nil)
	if err != nil {
		return nil, err
	}
	within := tx.(*transaction)
	done, err := within.ExecContext(ctx, query, args...)
	if err != nil {
		return nil, errors.Join(err, within.Rollback())
	}
	return done, within.Commit()
}

// QueryContext implements [gorm.ConnPool].
func (p *pool) QueryContext(ctx context.Context, query string, args ...any) (*sql.Rows, error) {
	rows, err := p.db.QueryContext(ctx, query, plain(args)...)
	if p.house == "" && p.anew(err) { // it only reads
		return p.db.QueryContext(ctx, query, plain(args)...)
	}
	return rows, err
}

// QueryRowContext implements [gorm.ConnPool].
func (p *pool) QueryRowContext(ctx context.Context, query string, args ...any) *sql.Row {
	return p.db.QueryRowContext(ctx, query, plain(args)...)
}

// transaction is a transaction that has begun.
type transaction struct{ *sql.Tx }

// ExecContext implements [gorm.ConnPool].
func (t *transaction) ExecContext(ctx context.Context, query string, args ...any) (sql.Result, error) {
	return t.Tx.ExecContext(ctx, query, plain(args)...)
}

// QueryContext implements [gorm.ConnPool].
func (t *transaction) QueryContext(ctx context.Context, query string, args ...any) (*sql.Rows, error) {
	return t.Tx.QueryContext(ctx, query, plain(args)...)
}

// QueryRowContext implements [gorm.ConnPool].
func (t *transaction) QueryRowContext(ctx context.Context, query string, args ...any) *sql.Row {
	return t.Tx.QueryRowContext(ctx, query, plain(args)...)
}
