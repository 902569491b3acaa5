package postgres

import (
	"context"
	"database/sql"
	"database/sql/driver"
	"errors"
	"strings"
	"sync"
	"time"

	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgtype"
	"github.com/jackc/pgx/v5/pgxpool"
	"github.com/jackc/pgx/v5/stdlib"
)

// shared has the connections of a program to a database, for all houses that it has open there. A connection
// is brought to a house before it is lent for it: nothing of another house is found by its name alone.
type shared struct {
	*pgxpool.Pool
	key   sharedKey
	users int
}

type sharedKey struct {
	url    string
	writes bool // what writes waits for others, and must not keep those from reading who have what it waits for
}

var sharing struct {
	sync.Mutex
	by map[sharedKey]*shared
}

// mostTogether is how many connections a program has to a database at most, for reading; for writing it is a third.
// An address may say pool_max_conns instead.
const mostTogether = 48

// share returns the connections to a database, for one more user.
func share(url string, writes bool) (*shared, error) {
	sharing.Lock()
	defer sharing.Unlock()
	key := sharedKey{url, writes}
	if s := sharing.by[key]; s != nil {
		s.users++
		return s, nil
	}
	config, err := configOf(url)
	if err != nil {
		return nil, err
	}
	if writes {
		config.MaxConns = max(2, config.MaxConns/3)
	}
	config.MaxConnIdleTime = idleFor
	config.AfterConnect = func(_ context.Context, c *pgx.Conn) error {
		c.TypeMap().RegisterType(&pgtype.Type{Name: "timestamptz", OID: pgtype.TimestamptzOID, Codec: &pgtype.TimestamptzCodec{ScanLocation: time.UTC}})
		return nil
	}
	config.PrepareConn = bring
	pool, err := pgxpool.NewWithConfig(context.Background(), config)
	if err != nil {
		return nil, err
	}
	s := &shared{pool, key, 1}
	if sharing.by == nil {
		sharing.by = map[sharedKey]*shared{}
	}
	sharing.by[key] = s
	return s, nil
}

// giveBack is for a user that needs the connections no more. The last one ends them.
func (s *shared) giveBack() {
	sharing.Lock()
	defer sharing.Unlock()
	if s.users--; s.users == 0 {
		delete(sharing.by, s.key)
		go s.Close() // which waits for what is still under way
	}
}

// of are at most so many of the connections at a time, for a house. None is kept: they go back at once.
func (s *shared) of(house string, most int) *sql.DB {
	db := sql.OpenDB(toHouse{stdlib.GetPoolConnector(s.Pool), house})
	db.SetMaxOpenConns(most)
	db.SetMaxIdleConns(0)
	return db
}

// toHouse lends connections for a house.
type toHouse struct {
	driver.Connector
	house string
}

type houseKey struct{}

// Connect implements [driver.Connector].
func (c toHouse) Connect(ctx context.Context) (driver.Conn, error) {
	return c.Connector.Connect(context.WithValue(ctx, houseKey{}, c.house))
}

var errNoHouse = errors.New("a connection is wanted for no house")

// bring brings a connection to the house for which it is lent. One that cannot be brought there is let go, and
// another one tried.
func bring(ctx context.Context, c *pgx.Conn) (bool, error) {
	house, ok := ctx.Value(houseKey{}).(string)
	if !ok {
		return true, errNoHouse
	}
	at := c.PgConn().CustomData()
	if at["house"] == house {
		return true, nil
	}
	delete(at, "house")
	if _, err := c.Exec(ctx, "SELECT set_config('search_path', $1, false), set_config('application_name', $2, false)", pgx.Identifier{house}.Sanitize(), lentTo(house)); err != nil {
		return false, ctx.Err()
	}
	at["house"] = house
	return true, nil
}

// configOf says how connections to a database are made: to no house.
func configOf(url string) (*pgxpool.Config, error) {
	config, err := pgxpool.ParseConfig(url)
	if err != nil {
		return nil, err
	}
	if !strings.Contains(url, "pool_max_conns") {
		config.MaxConns = mostTogether
	}
	params := config.ConnConfig.RuntimeParams
	params["search_path"] = ""
	params["timezone"] = "UTC"
	params["application_name"] = programName
	params["lock_timeout"] = milliseconds(waitToWrite)
	return config, nil
}
