package sqlite

import (
	"os"
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

// While one program after another is brought to a later version, those that are not yet go on with what is there by then.
func TestALaterVersionIsAtWorkBeside(t *testing.T) {
	t.Parallel()
	changed := filepath.Join(t.TempDir(), "mivlet.db") // once: it takes a while
	later, err := Open(changed)
	require.NoError(t, err)
	suite.Later(t, later)
	require.NoError(t, later.Close())
	data, err := os.ReadFile(changed)
	require.NoError(t, err)
	suite.Records(t, func(t *testing.T) store.Records {
		file := filepath.Join(t.TempDir(), "mivlet.db")
		require.NoError(t, os.WriteFile(file, data, 0o600))
		db, err := Open(file)
		require.NoError(t, err)
		t.Cleanup(func() { assert.NoError(t, db.Close()) })
		return db
	})
}
