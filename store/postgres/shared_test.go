package postgres_test

import (
	"context"
	"fmt"
	"math/rand/v2"
	"sync"
	"testing"
	"time"

	"github.com/jackc/pgx/v5"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/internal/servertest"
	"mivlet/store"
	"mivlet/store/postgres"
)

// Houses that share two connections to read and two to write never meet each other's records: while all read and write
// at once, while transactions are broken off, and while connections are ended under them.
func TestHousesShareConnectionsAndNothingElse(t *testing.T) {
	t.Parallel()
	server := servertest.NewPostgres(t)
	url := server.URL + "&pool_max_conns=2"
	const houses, rounds = 6, 60
	var all []*postgres.DB
	for i := range houses {
		db, err := postgres.Open(t.Context(), postgres.Address{URL: url, House: fmt.Sprintf("house_%d", i)})
		require.NoError(t, err)
		t.Cleanup(func() { assert.NoError(t, db.Close()) })
		all = append(all, db)
	}
	outside, err := pgx.Connect(t.Context(), server.URL)
	require.NoError(t, err)
	t.Cleanup(func() { _ = outside.Close(context.WithoutCancel(t.Context())) })

	own := func(house int) string { return fmt.Sprintf("tag of %d", house) }
	var work sync.WaitGroup
	written := make([]int, houses)
	for i, db := range all {
		work.Go(func() {
			r := rand.New(rand.NewPCG(uint64(i), 77))
			for n := range rounds {
				switch r.IntN(4) {
				case 0: // broken off
					err := db.Tx(func(s store.Records) error {
						if err := s.SavePerson(&store.Person{Name: "lost", Login: fmt.Sprintf("lost %d", n)}); err != nil {
							return err
						}
						return assert.AnError
					})
					assert.Error(t, err)
				default:
					err := db.Tx(func(s store.Records) error {
						return s.SavePerson(&store.Person{Name: own(i), Login: fmt.Sprintf("person %d", n)})
					})
					if err == nil {
						written[i]++
					}
				}
				people, err := db.People()
				if err != nil {
					continue // its connection was ended
				}
				for _, p := range people {
					assert.Equal(t, own(i), p.Name)
				}
			}
		})
	}
	ended := 0
	done := make(chan struct{})
	go func() { work.Wait(); close(done) }()
	for going := true; going; {
		select {
		case <-done:
			going = false
		case <-time.After(20 * time.Millisecond): // an attack now and then, and no wait for anything
			tag, err := outside.Exec(t.Context(), "SELECT pg_terminate_backend(pid) FROM pg_stat_activity WHERE application_name LIKE 'mivlet % house_% lent' AND state = 'idle' LIMIT 1")
			if assert.NoError(t, err) {
				ended += int(tag.RowsAffected())
			}
		}
	}
	for i, db := range all {
		people, err := db.People()
		require.NoError(t, err)
		assert.GreaterOrEqual(t, len(people), written[i], "nothing that was acknowledged is lost")
		assert.Greater(t, len(people), rounds/3)
		for _, p := range people {
			assert.Equal(t, own(i), p.Name)
		}
	}
	assert.Positive(t, ended)
	var n int
	require.NoError(t, outside.QueryRow(t.Context(), "SELECT COUNT(*) FROM pg_stat_activity WHERE application_name LIKE 'mivlet % lent'").Scan(&n))
	assert.LessOrEqual(t, n, 4)
}

// Without the house for which it is lent, a connection finds no table, and none of another house.
func TestAConnectionIsForAHouse(t *testing.T) {
	t.Parallel()
	server := servertest.NewPostgres(t)
	db, err := postgres.Open(t.Context(), postgres.Address{URL: server.URL, House: "paddle"})
	require.NoError(t, err)
	t.Cleanup(func() { assert.NoError(t, db.Close()) })
	other, err := postgres.Open(t.Context(), postgres.Address{URL: server.URL, House: "rowing"})
	require.NoError(t, err)
	require.NoError(t, other.Tx(func(s store.Records) error { return s.SavePerson(&store.Person{Name: "Io", Login: "io"}) }))
	require.NoError(t, other.Close())
	people, err := db.People()
	require.NoError(t, err)
	assert.Empty(t, people, "the connections that rowing had are lent to paddle now")
	_, err = other.People()
	assert.Error(t, err, "a house that was closed")
}
