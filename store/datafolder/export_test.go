package datafolder_test

import (
	"archive/zip"
	"bytes"
	"encoding/json"
	"io"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/store"
	"mivlet/store/datafolder"
)

// entry reads a file of an archive.
func entry(t *testing.T, at, name string) []byte {
	t.Helper()
	z, err := zip.OpenReader(at)
	require.NoError(t, err)
	defer z.Close()
	r, err := z.Open(name)
	require.NoError(t, err, name)
	data, err := io.ReadAll(r)
	require.NoError(t, err)
	return data
}

// An export of a house holds all of it in open forms, the same from either database, and becomes the same house
// elsewhere. Who is signed in is not in it.
func TestAHouseIsExportedWhole(t *testing.T) {
	t.Parallel()
	s, dir := house(t)
	require.NoError(t, s.SaveSession(store.Session{Token: "token", Data: []byte("x"), Ends: noon.Add(time.Hour)}))
	out := t.TempDir()
	first := filepath.Join(out, "first.zip")
	told, err := s.Export(first, noon, nil)
	require.NoError(t, err)
	assert.Equal(t, 3, told.Files)
	_, err = s.Export(first, noon, nil)
	assert.ErrorContains(t, err, "already")
	require.NoError(t, s.Close())

	var picture map[string]any
	require.NoError(t, json.Unmarshal(bytes.TrimSpace(entry(t, first, "records/pictures.jsonl")), &picture))
	assert.Equal(t, "juniors", picture["section"])
	assert.Equal(t, "2026-11-02T12:00:00Z", picture["created_at"])
	assert.EqualValues(t, 0, picture["heavy"])
	assert.Equal(t, "an original", string(entry(t, first, "files/"+picture["original_hash"].(string))))
	z, err := zip.OpenReader(first)
	require.NoError(t, err)
	for _, f := range z.File {
		assert.NotContains(t, f.Name, "sessions")
	}
	require.NoError(t, z.Close())

	there, _ := elsewhere(t)
	_, err = datafolder.Move(t.Context(), dir, there, noon, nil)
	require.NoError(t, err)
	moved, err := datafolder.Open(dir)
	require.NoError(t, err)
	second := filepath.Join(out, "second.zip")
	_, err = moved.Export(second, noon, nil)
	require.NoError(t, err)
	require.NoError(t, moved.Close())
	for _, table := range []string{"pictures", "pages", "published", "trail", "trail_head", "cuts", "live_versions"} {
		name := "records/" + table + ".jsonl"
		assert.Equal(t, string(entry(t, first, name)), string(entry(t, second, name)), name)
	}

	to := filepath.Join(out, "house")
	told, err = datafolder.Import(second, to)
	require.NoError(t, err)
	assert.Equal(t, 3, told.Files)
	report, err := datafolder.Verify(to, time.Hour)
	require.NoError(t, err)
	assert.Empty(t, report.Faults)
	assert.Equal(t, 3, report.Files)
	_, err = datafolder.Import(second, to)
	assert.ErrorContains(t, err, "not empty")
}

// An export that is damaged, incomplete or of another form makes no house.
func TestABrokenExportIsRefused(t *testing.T) {
	t.Parallel()
	s, _ := house(t)
	whole := filepath.Join(t.TempDir(), "whole.zip")
	_, err := s.Export(whole, noon, nil)
	require.NoError(t, err)
	for name, change := range map[string]func(name string, data []byte) []byte{
		"another form":   func(name string, d []byte) []byte { return instead(name == "house.json", d, []byte(`{"version":9}`)) },
		"no house":       func(name string, d []byte) []byte { return instead(name == "house.json", d, nil) },
		"a damaged file": func(name string, d []byte) []byte { return instead(strings.HasPrefix(name, "files/"), d, []byte("x")) },
		"a missing file": func(name string, d []byte) []byte { return instead(strings.HasPrefix(name, "files"), d, nil) },
		"a missing row":  func(name string, d []byte) []byte { return instead(name == "records/steps.jsonl", d, nil) },
		"a changed trail": func(name string, d []byte) []byte {
			return bytes.ReplaceAll(d, []byte("act number 3"), []byte("act number 4"))
		},
		"a broken row": func(name string, d []byte) []byte { return instead(name == "records/pages.jsonl", d, []byte("{\n")) },
	} {
		t.Run(name, func(t *testing.T) {
			t.Parallel()
			at := filepath.Join(t.TempDir(), "broken.zip")
			w, err := os.Create(at)
			require.NoError(t, err)
			out := zip.NewWriter(w)
			in, err := zip.OpenReader(whole)
			require.NoError(t, err)
			for _, f := range in.File {
				if data := change(f.Name, entry(t, whole, f.Name)); data != nil {
					to, err := out.Create(f.Name)
					require.NoError(t, err)
					_, err = to.Write(data)
					require.NoError(t, err)
				}
			}
			require.NoError(t, in.Close())
			require.NoError(t, out.Close())
			require.NoError(t, w.Close())
			to := filepath.Join(t.TempDir(), "house")
			_, err = datafolder.Import(at, to)
			assert.Error(t, err)
			assert.NoDirExists(t, to)
		})
	}
}

// instead is data, or something else where that is meant.
func instead(meant bool, data, other []byte) []byte {
	if meant {
		return other
	}
	return data
}

// A house that is erased is gone wherever it was, with a receipt; who mistakes the house, or while it is open, erases
// nothing.
func TestAHouseIsErased(t *testing.T) {
	t.Parallel()
	for _, onServers := range []bool{false, true} {
		s, dir := house(t)
		rules, _, err := s.Rules()
		require.NoError(t, err)
		_, err = datafolder.Erase(t.Context(), dir, rules.House, noon)
		assert.ErrorIs(t, err, datafolder.ErrInUse)
		require.NoError(t, s.Close())
		var beside string
		if onServers {
			there, _ := elsewhere(t)
			_, err = datafolder.Move(t.Context(), dir, there, noon, nil)
			require.NoError(t, err)
			beside = t.TempDir()
			require.NoError(t, there.Write(beside))
		}
		_, err = datafolder.Erase(t.Context(), dir, "Another house", noon)
		assert.ErrorIs(t, err, datafolder.ErrOtherHouse)
		report, err := datafolder.Verify(dir, time.Hour)
		require.NoError(t, err)
		assert.Empty(t, report.Faults)

		r, err := datafolder.Erase(t.Context(), dir, rules.House, noon)
		require.NoError(t, err)
		assert.Equal(t, 3, r.Files)
		assert.EqualValues(t, 1, r.Records["pictures"])
		assert.Len(t, r.Trail, 64)
		assert.NotEmpty(t, r.Left)
		assert.NoDirExists(t, dir)
		if onServers {
			again, err := datafolder.Open(beside)
			require.NoError(t, err)
			empty, err := again.Empty()
			require.NoError(t, err)
			assert.True(t, empty)
			n := 0
			require.NoError(t, again.Files.List(func(store.FileInfo) error { n++; return nil }))
			assert.Zero(t, n)
			require.NoError(t, again.Close())
		}
	}
}
