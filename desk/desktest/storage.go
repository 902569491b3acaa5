package desktest

import (
	"context"
	"crypto/rand"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/store/datafolder"
	"mivlet/store/postgres"
)

// StorageVariable names a folder with a note about a database and a bucket. Where it is set, every house of a test
// lies there, under a name of its own, and not in a folder: all that holds for the one holds for the other.
const StorageVariable = "MIVLET_TEST_STORAGE"

// Lay prepares a data folder in which nothing is yet.
func Lay(t testing.TB, dir string) {
	t.Helper()
	at := os.Getenv(StorageVariable)
	if at == "" {
		layInFolder(t, dir)
		return
	}
	s, err := datafolder.ReadStorage(at)
	require.NoError(t, err)
	name := "house_" + strings.ToLower(rand.Text())
	if s.Records.Postgres != "" {
		s.Records.House = name
		t.Cleanup(func() {
			assert.NoError(t, postgres.Drop(context.Background(), postgres.Address{URL: s.Records.Postgres, House: name}))
		})
	}
	if s.Files.S3 != "" {
		s.Files.S3 += "/" + name
	}
	require.NoError(t, s.Write(dir))
}

func layInFolder(t testing.TB, dir string) {
	t.Helper()
	records, err := noRecords()
	require.NoError(t, err)
	require.NoError(t, os.WriteFile(filepath.Join(dir, datafolder.DatabaseName), records, 0o600))
}
