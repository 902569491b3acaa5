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
