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
	"sync"
	"time"

	"github.com/go-gormigrate/gormigrate/v2"
	"github.com/jackc/pgx/v5/pgxpool"
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
	end  func()
}

var _ store.Records = (*DB)(nil)

// Address is where the records of a house are.
type Address struct {
	// URL says where the database is and who signs in there, such as
	// postgres://mivlet@db.club.example/mivlet?sslmode=verify-full (PostgreSQL, 34.1.1.2). What it leaves
	// out comes from the environment or from the password file, as for PostgreSQL's own programs.
	URL string
	// It may say pool_max_conns as well: how many connections a program has at most, for all houses there.
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
	if _, err := pgxpool.ParseConfig(a.URL); err != nil {
		return fmt.Errorf("invalid address of PostgreSQL: %w", err)
	}
	return nil
}

const (
	// waitToWrite is how long one waits for others who write; publishing may take a while.
	waitToWrite = time.Minute
	// mostReading and mostWriting bound the connections that one house has of its program's at a time. Only one
	// writes at a time in any case; the others wait where they cost little.
	mostReading, mostWriting = 8, 2
	// idleFor is how long an unused connection stays open.
	idleFor = time.Minute
)

// Open opens the records of a house, makes their schema where there is none, and brings them to the
// current version.
func Open(ctx context.Context, at Address) (*DB, error) {
	open, write, err := connectBoth(ctx, at)
	if err != nil {
		return nil, err
	}
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
	open, _, err := connectBoth(ctx, at)
	if err != nil {
		return nil, err
	}
	var n int64
	err = open.read.WithContext(ctx).Raw("SELECT COUNT(*) FROM migrations WHERE id = ?", migrations[len(migrations)-1].ID).Scan(&n).Error
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

// connectBoth opens a house to read and to write, and has the program be seen there.
func connectBoth(ctx context.Context, at Address) (*DB, *gorm.DB, error) {
	if err := at.Check(); err != nil {
		return nil, nil, err
	}
	write, endWrite, err := connect(at, mostWriting, true)
	if err != nil {
		return nil, nil, err
	}
	read, endRead, err := connect(at, mostReading, false)
	if err != nil {
		endWrite()
		return nil, nil, errors.Join(err, relational.New(write, nil, engine{}).Close())
	}
	leave := come(ctx, at)
	return &DB{relational.New(write, read, engine{}), at, read, sync.OnceFunc(func() { leave(); endWrite(); endRead() })}, write, nil
}

// Close implements [store.Records].
func (db *DB) Close() error {
	defer db.end()
	return db.Records.Close()
}

// connect lends at most so many connections at a time for a house, until end is called. None is made before it is
// needed.
func connect(at Address, most int, writes bool) (db *gorm.DB, end func(), err error) {
	s, err := share(at.URL, writes)
	if err != nil {
		return nil, nil, err
	}
	pool := &pool{db: s.of(at.House, most), reset: s.Reset}
	if writes {
		pool.house = at.House
	}
	db, err = gorm.Open(dialect{driver.New(driver.Config{Conn: pool}).(*driver.Dialector)}, &gorm.Config{TranslateError: true, DisableAutomaticPing: true, SkipDefaultTransaction: !writes, QueryFields: true, Logger: logger.Discard})
	if err != nil {
		s.giveBack()
		return nil, nil, errors.Join(err, pool.db.Close())
	}
	return db, s.giveBack, nil
}

// program tells the connections of this program from those of others.
var program = strings.ToLower(rand.Text()[:8])

// programName is what the database knows the connections of a program by that are for no house.
var programName = "mivlet " + program

// lentTo is what it knows a connection by that is lent for a house. Programs of an earlier version, whose connections
// are for one house each, take it for one of those; the last word tells it from them.
func lentTo(house string) string { return programName + " " + house + " lent" }

func milliseconds(d time.Duration) string { return fmt.Sprint(d.Milliseconds()) }
