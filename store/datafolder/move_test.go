package datafolder_test

import (
	"context"
	"os"
	"path/filepath"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/internal/servertest"
	"mivlet/store/datafolder"
)

// elsewhere is a place of its own for a house, on real servers.
func elsewhere(t *testing.T) (datafolder.Storage, *servertest.Postgres) {
	t.Helper()
	server := servertest.NewPostgres(t)
	bucket, _ := servertest.NewS3(t)
	secret := filepath.Join(t.TempDir(), "secret")
	require.NoError(t, os.WriteFile(secret, []byte(servertest.Password+"\n"), 0o600))
	return datafolder.Storage{Records: datafolder.RecordsStorage{Postgres: server.URL, House: "paddle"},
		Files: datafolder.FilesStorage{S3: bucket + "/" + servertest.StoredIn + "/paddle", Login: servertest.Login, SecretFile: secret}}, server
}

// A house is carried to PostgreSQL and object storage and back. Everything is whole on each side, the
// folder tells where it is, and what lay there before is out of the way.
func TestAHouseMovesAndComesBack(t *testing.T) {
	t.Parallel()
	s, dir := house(t)
	require.NoError(t, s.Close())
	before, err := datafolder.Verify(dir, time.Hour)
	require.NoError(t, err)
	require.Empty(t, before.Faults)
	there, _ := elsewhere(t)

	moved, err := datafolder.Move(t.Context(), dir, there, noon, nil)
	require.NoError(t, err)
	assert.Equal(t, before.Files, moved.Files)
	assert.Equal(t, before.Bytes, moved.Bytes)
	assert.Len(t, moved.Left, 2)
	assert.NoFileExists(t, filepath.Join(dir, datafolder.DatabaseName))
	assert.NoDirExists(t, filepath.Join(dir, "files"))
	is, err := datafolder.ReadStorage(dir)
	require.NoError(t, err)
	assert.Equal(t, there, is)
	info, err := os.Stat(filepath.Join(dir, datafolder.StorageName))
	require.NoError(t, err)
	assert.Zero(t, info.Mode().Perm()&0o077, "an address may hold a password")
	now, err := datafolder.Verify(dir, time.Hour)
	require.NoError(t, err)
	assert.Equal(t, before, now)
	_, err = datafolder.Move(t.Context(), dir, there, noon, nil)
	assert.ErrorContains(t, err, "already")

	// Backups are as those of any house.
	copied, err := datafolder.Backup(dir, filepath.Join(t.TempDir(), "backup"), "Ines", noon)
	require.NoError(t, err)
	assert.Equal(t, before.Files, copied.Files)

	// A second program on the same house keeps it where it is.
	beside := t.TempDir()
	require.NoError(t, there.Write(beside))
	other, err := datafolder.Open(beside)
	require.NoError(t, err)
	n, err := other.CountTrail()
	require.NoError(t, err)
	assert.EqualValues(t, 6, n)
	require.NoError(t, other.Ready(t.Context()))
	require.NoError(t, other.Close())

	moved, err = datafolder.Move(t.Context(), dir, datafolder.Storage{}, noon.Add(time.Hour), nil)
	require.NoError(t, err)
	assert.Len(t, moved.Left, 2)
	assert.NoFileExists(t, filepath.Join(dir, datafolder.StorageName))
	now, err = datafolder.Verify(dir, time.Hour)
	require.NoError(t, err)
	assert.Equal(t, before.Files, now.Files)
	assert.Empty(t, now.Faults)
	_, err = datafolder.Move(t.Context(), dir, there, noon.Add(2*time.Hour), nil)
	require.NoError(t, err, "the name of the house is free again")
}

// A move that cannot be finished leaves the house where it was.
func TestAMoveThatFailsLeavesTheHouse(t *testing.T) {
	t.Parallel()
	s, dir := house(t)
	require.NoError(t, s.Close())
	there, server := elsewhere(t)
	same := func() {
		t.Helper()
		assert.NoFileExists(t, filepath.Join(dir, datafolder.StorageName))
		report, err := datafolder.Verify(dir, time.Hour)
		require.NoError(t, err)
		assert.Empty(t, report.Faults)
	}
	open, err := datafolder.Open(dir)
	require.NoError(t, err)
	_, err = datafolder.Move(t.Context(), dir, there, noon, nil)
	assert.ErrorIs(t, err, datafolder.ErrInUse)
	require.NoError(t, open.Close())
	same()

	ctx, stop := context.WithCancel(t.Context())
	_, err = datafolder.Move(ctx, dir, there, noon, func(string, int64) { stop() })
	assert.ErrorIs(t, err, context.Canceled)
	same()

	_, err = datafolder.Move(t.Context(), dir, there, noon, func(step string, _ int64) {
		if step == "records" {
			server.Kill()
		}
	})
	require.Error(t, err)
	same()
	server.Start()

	wrong := there
	wrong.Files.S3 = "https://s3.example"
	_, err = datafolder.Move(t.Context(), dir, wrong, noon, nil)
	assert.ErrorContains(t, err, `invalid address of files "https://s3.example"`)
	wrong = there
	wrong.Records.House = "Paddle Club"
	_, err = datafolder.Move(t.Context(), dir, wrong, noon, nil)
	assert.ErrorContains(t, err, `invalid house "Paddle Club"`)
	same()

	_, err = datafolder.Move(t.Context(), dir, there, noon, nil)
	require.NoError(t, err)
	second, dir2 := house(t)
	require.NoError(t, second.Close())
	_, err = datafolder.Move(t.Context(), dir2, there, noon, nil)
	assert.ErrorContains(t, err, "there is a house")
	report, err := datafolder.Verify(dir2, time.Hour)
	require.NoError(t, err)
	assert.Empty(t, report.Faults)
}
