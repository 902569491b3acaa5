package folder_test

import (
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/store"
	"mivlet/store/folder"
	"mivlet/store/suite"
)

func TestAFolderKeepsFiles(t *testing.T) {
	t.Parallel()
	suite.Files(t, func(t *testing.T) store.Files {
		f, err := folder.Open(t.TempDir())
		require.NoError(t, err)
		return f
	})
}

// on returns the names of the files in a folder, with the folders that they are in.
func on(t *testing.T, dir string) []string {
	t.Helper()
	var all []string
	require.NoError(t, filepath.WalkDir(dir, func(at string, d os.DirEntry, err error) error {
		if err == nil && !d.IsDir() {
			name, err := filepath.Rel(dir, at)
			require.NoError(t, err)
			all = append(all, filepath.ToSlash(name))
		}
		return err
	}))
	return all
}

// A kept file is its content and nothing else, under its hash, so that any program can read
// it; there is a note only where the content does not tell its type.
func TestWhatLiesInTheFolder(t *testing.T) {
	t.Parallel()
	dir := t.TempDir()
	f, err := folder.Open(dir)
	require.NoError(t, err)
	_, err = f.Put(strings.NewReader("abc"), "text/plain; charset=utf-8")
	require.NoError(t, err)
	at := "ba/" + suite.ABC
	assert.Equal(t, []string{at}, on(t, dir))
	data, err := os.ReadFile(filepath.Join(dir, at))
	require.NoError(t, err)
	assert.Equal(t, "abc", string(data))
	require.NoError(t, f.Delete(suite.ABC))
	_, err = f.Put(strings.NewReader("abc"), "text/csv")
	require.NoError(t, err)
	assert.Equal(t, []string{at, at + ".type"}, on(t, dir))
	for _, name := range on(t, dir) {
		info, err := os.Stat(filepath.Join(dir, name))
		require.NoError(t, err)
		assert.Zero(t, info.Mode().Perm()&0o077, "nobody else reads it")
	}
	require.NoError(t, f.Delete(suite.ABC))
	assert.Empty(t, on(t, dir), "nothing is left of what was deleted")
}

// What a program that was killed has left is swept; what is kept stays.
func TestBrokenOffWritesAreDropped(t *testing.T) {
	t.Parallel()
	dir := t.TempDir()
	f, err := folder.Open(dir)
	require.NoError(t, err)
	_, err = f.Put(strings.NewReader("abc"), "")
	require.NoError(t, err)
	for _, name := range []string{"in-1", "type-1"} {
		require.NoError(t, os.WriteFile(filepath.Join(dir, "tmp", name), []byte("x"), 0o600))
	}
	require.NoError(t, f.DropBroken())
	assert.Equal(t, []string{"ba/" + suite.ABC}, on(t, dir))
}

// A file that somebody put there by hand is listed, so that checking finds it.
func TestStrangersAreListed(t *testing.T) {
	t.Parallel()
	dir := t.TempDir()
	f, err := folder.Open(dir)
	require.NoError(t, err)
	require.NoError(t, os.WriteFile(filepath.Join(dir, "notes.txt"), []byte("x"), 0o600))
	var names []string
	require.NoError(t, f.List(func(info store.FileInfo) error { names = append(names, info.Hash); return nil }))
	assert.Equal(t, []string{"notes.txt"}, names)
}
