package postgres_test

import (
	"fmt"
	"sync/atomic"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/internal/servertest"
	"mivlet/store"
	"mivlet/store/postgres"
	"mivlet/store/suite"
)

func TestPostgreSQLKeepsRecords(t *testing.T) {
	t.Parallel()
	server := servertest.NewPostgres(t)
	var houses atomic.Int64
	suite.Records(t, func(t *testing.T) store.Records {
		db, err := postgres.Open(t.Context(), postgres.Address{URL: server.URL, House: fmt.Sprintf("house_%d", houses.Add(1))})
		require.NoError(t, err)
		t.Cleanup(func() { assert.NoError(t, db.Close()) })
		return db
	})
}

// While one program after another is brought to a later version, those that are not yet go on with what is there by then:
// what they prepared before, too.
func TestALaterVersionIsAtWorkBeside(t *testing.T) {
	t.Parallel()
	server := servertest.NewPostgres(t)
	var houses atomic.Int64
	suite.Records(t, func(t *testing.T) store.Records {
		at := postgres.Address{URL: server.URL, House: fmt.Sprintf("house_%d", houses.Add(1))}
		db, err := postgres.Open(t.Context(), at)
		require.NoError(t, err)
		t.Cleanup(func() { assert.NoError(t, db.Close()) })
		for range 3 { // statements are prepared by now
			_, err = db.PicturesAfter(0, 1)
			require.NoError(t, err)
			_, err = db.Pages()
			require.NoError(t, err)
			_, _, err = db.Rules()
			require.NoError(t, err)
		}
		later, err := postgres.Open(t.Context(), at)
		require.NoError(t, err)
		suite.Later(t, later)
		require.NoError(t, later.Close())
		return db
	})
}
