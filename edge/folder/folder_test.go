package folder_test

import (
	"context"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/desk/destinations"
	"mivlet/edge/folder"
	"mivlet/edge/placetest"
)

func TestAFolder(t *testing.T) {
	t.Parallel()
	dir := t.TempDir()
	open := func(context.Context) (destinations.Place, error) { return folder.Open(dir) }
	placetest.Run(t, dir, open)
	assert.NoDirExists(t, filepath.Join(dir, "a", "b"), "empty folders go")
	placetest.Swept(t, dir, open)
	private := t.TempDir()
	placetest.Run(t, private, func(context.Context) (destinations.Place, error) { return folder.OpenPrivate(private) })
}

// Links in the folder lead nowhere outside: whoever may write into it cannot make Mivlet write,
// read or remove elsewhere.
func TestNothingLeadsOutOfAFolder(t *testing.T) {
	t.Parallel()
	dir, outside := t.TempDir(), t.TempDir()
	require.NoError(t, os.WriteFile(filepath.Join(outside, "secret"), []byte("theirs"), 0o600))
	require.NoError(t, os.Symlink(outside, filepath.Join(dir, "out")))
	require.NoError(t, os.Symlink(filepath.Join(outside, "secret"), filepath.Join(dir, "index.html")))
	ctx := context.Background()
	f, err := folder.Open(dir)
	require.NoError(t, err)
	for _, at := range []string{"out/secret", "out/new", "../x", "out/../../x"} {
		_, err := f.Put(ctx, at, strings.NewReader("mine"))
		assert.Error(t, err, at)
		_, err = f.Stamp(ctx, at)
		assert.Error(t, err, at)
		_, err = f.Open(ctx, at)
		assert.Error(t, err, at)
		_ = f.Remove(ctx, at)
	}
	_, err = f.Open(ctx, "index.html")
	require.Error(t, err)
	_, err = f.Put(ctx, "index.html", strings.NewReader("mine"))
	require.NoError(t, err, "the link itself is replaced")
	require.NoError(t, f.Close())
	left, err := os.ReadDir(outside)
	require.NoError(t, err)
	require.Len(t, left, 1)
	data, err := os.ReadFile(filepath.Join(outside, "secret"))
	require.NoError(t, err)
	assert.Equal(t, "theirs", string(data))
	_, err = folder.Open(filepath.Join(dir, "nothing"))
	assert.ErrorIs(t, err, os.ErrNotExist)
}

// Whoever reads a folder takes nothing away that somebody else is writing there.
func TestReadingChangesNothing(t *testing.T) {
	t.Parallel()
	dir := t.TempDir()
	part := filepath.Join(dir, ".mivlet-parts", "1")
	require.NoError(t, os.MkdirAll(filepath.Dir(part), 0o700))
	require.NoError(t, os.WriteFile(part, []byte("half"), 0o600))
	require.NoError(t, os.WriteFile(filepath.Join(dir, "whole"), []byte("all"), 0o600))
	r, err := folder.OpenToRead(dir)
	require.NoError(t, err)
	all, err := r.Stamps(context.Background())
	require.NoError(t, err)
	assert.Len(t, all, 1, "what is half is none")
	require.NoError(t, r.Close())
	assert.FileExists(t, part)
}
