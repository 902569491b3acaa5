// Package postgres keeps records in PostgreSQL, through GORM and pgx. A house has a schema of its own, so
// that many houses can lie in one database, and many programs can work on one house: whoever writes has the
// house alone until the end of the transaction, on whichever machine.
package postgres

import (
	"context"
	"crypto/rand"
	"errors"
	"fmt"
	"regexp"
	"strings"
	"time"

	"github.com/go-gormigrate/gormigrate/v2"
	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgtype"
	"github.com/jackc/pgx/v5/stdlib"
	driver "gorm.io/driver/postgres"
	"gorm.io/gorm"
	"gorm.io/gorm/logger"

	"mivlet/store"
	"mivlet/store/relational"
)

// DB is an open house in a database. It implements [store.Records].
type DB struct {
	*relational.Records
	at   Address
	read *gorm.DB
}

var _ store.Records = (*DB)(nil)

// Address is where the records of a house are.
type Address struct {
	// URL says where the database is and who signs in there, such as
	// postgres://mivlet@db.club.example/mivlet?sslmode=verify-full (PostgreSQL, 34.1.1.2). What it leaves
	// out comes from the environment or from the password file, as for PostgreSQL's own programs.
	URL string
	// House is the schema of the house.
	House string
}

// houseForm is what a house may be called: PostgreSQL takes up to 63 bytes, also with a moment behind it.
var houseForm = regexp.MustCompile(`^[a-z][a-z0-9_]{0,39}$`)

// Check fails where an address cannot be one.
func (a Address) Check() error {
	if !houseForm.MatchString(a.House) {
		return fmt.Errorf("invalid house %q: use small letters, digits and _, such as paddle_club", a.House)
	}
	if _, err := pgx.ParseConfig(a.URL); err != nil {
		return fmt.Errorf("invalid address of PostgreSQL: %w", err)
	}
	return nil
}

const (
	// waitToWrite is how long one waits for others who write; publishing may take a while.
	waitToWrite = time.Minute
	// mostReading and mostWriting bound the connections of one program to one house. Only one
	// writes at a time in any case; the others wait where they cost little.
	mostReading, mostWriting = 8, 2
	// idleFor is how long an unused connection stays open.
	idleFor = time.Minute
)

// Open opens the records of a house, makes their schema where there is none, and brings them to the
// current version.
func Open(ctx context.Context, at Address) (*DB, error) {
	write, read, err := connectBoth(at)
	if err != nil {
		return nil, err
	}
	open := &DB{relational.New(write, read, engine{}), at, read}
	err = migrate(ctx, write, at.House)
	if errors.Is(err, gormigrate.ErrUnknownPastMigration) {
		err = fmt.Errorf("the records of %s were written by a newer Mivlet: use that one", at.House)
	} else if err != nil {
		err = fmt.Errorf("the records of %s cannot be opened: %w", at.House, err)
	}
	if err != nil {
		return nil, errors.Join(err, open.Close())
	}
	return open, nil
}

// OpenForReading opens the records of a house without changing anything in them. They must be of the
// current version.
func OpenForReading(ctx context.Context, at Address) (*DB, error) {
	write, read, err := connectBoth(at)
	if err != nil {
		return nil, err
	}
	open := &DB{relational.New(write, read, engine{}), at, read}
	var n int64
	err = read.WithContext(ctx).Raw("SELECT COUNT(*) FROM migrations WHERE id = ?", migrations[len(migrations)-1].ID).Scan(&n).Error
	if err != nil {
		err = fmt.Errorf("the records of %s cannot be opened: %w", at.House, err)
	} else if n == 0 {
		err = fmt.Errorf("the records of %s are of another version of Mivlet: start this version on them once", at.House)
	}
	if err != nil {
		return nil, errors.Join(err, open.Close())
	}
	return open, nil
}

func connectBoth(at Address) (write, read *gorm.DB, err error) {
	if err := at.Check(); err != nil {
		return nil, nil, err
	}
	if write, err = connect(at, mostWriting, true); err != nil {
		return nil, nil, err
	}
	if read, err = connect(at, mostReading, false); err != nil {
		return nil, nil, errors.Join(err, relational.New(write, nil, engine{}).Close())
	}
	return write, read, nil
}

// configOf says how a connection to a house is made: nothing of another house is found by its name alone.
func configOf(at Address) (*pgx.ConnConfig, error) {
	config, err := pgx.ParseConfig(at.URL)
	if err != nil {
		return nil, err
	}
	config.RuntimeParams["search_path"] = at.House // none is the hub's, which reads no table
	config.RuntimeParams["timezone"] = "UTC"
	config.RuntimeParams["application_name"] = programOf(at.House, program)
	config.RuntimeParams["lock_timeout"] = fmt.Sprint(waitToWrite.Milliseconds())
	return config, nil
}

// connect opens a pool of at most so many connections. None is made before it is needed.
func connect(at Address, most int, writes bool) (*gorm.DB, error) {
	config, err := configOf(at)
	if err != nil {
		return nil, err
	}
	db := stdlib.OpenDB(*config, stdlib.OptionAfterConnect(func(_ context.Context, c *pgx.Conn) error {
		c.TypeMap().RegisterType(&pgtype.Type{Name: "timestamptz", OID: pgtype.TimestamptzOID, Codec: &pgtype.TimestamptzCodec{ScanLocation: time.UTC}})
		return nil
	}))
	db.SetMaxOpenConns(most)
	db.SetMaxIdleConns(most)
	db.SetConnMaxIdleTime(idleFor)
	pool := &pool{db: db, most: most}
	if writes {
		pool.house = at.House
	}
	open, err := gorm.Open(dialect{driver.New(driver.Config{Conn: pool}).(*driver.Dialector)}, &gorm.Config{TranslateError: true, DisableAutomaticPing: true, SkipDefaultTransaction: !writes, QueryFields: true, Logger: logger.Discard})
	if err != nil {
		return nil, errors.Join(err, db.Close())
	}
	return open, nil
}

// program tells the connections of this program from those of others.
var program = strings.ToLower(rand.Text()[:8])

// programOf is what the database knows a program by that works on a house.
func programOf(house, program string) string {
	return strings.TrimSpace("mivlet " + program + " " + house)
}
