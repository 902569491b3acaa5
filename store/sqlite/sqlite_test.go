package sqlite

import (
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/store"
	"mivlet/store/suite"
)

func TestSQLiteKeepsRecords(t *testing.T) {
	t.Parallel()
	suite.Records(t, func(t *testing.T) store.Records {
		db, err := Open(filepath.Join(t.TempDir(), "mivlet.db"))
		require.NoError(t, err)
		t.Cleanup(func() { assert.NoError(t, db.Close()) })
		return db
	})
}
