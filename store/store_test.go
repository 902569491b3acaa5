package store_test

import (
	"errors"
	"io"
	"os"
	"path/filepath"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/page"
	"mivlet/core/rules"
	"mivlet/store"
)

var noon = time.Date(2026, 11, 2, 12, 0, 0, 0, time.UTC)

func fresh(t *testing.T) *store.Store {
	t.Helper()
	s, err := store.Open(t.TempDir())
	require.NoError(t, err)
	t.Cleanup(func() { assert.NoError(t, s.Close()) })
	return s
}

func files(t *testing.T, dir string) int {
	t.Helper()
	n := 0
	require.NoError(t, filepath.WalkDir(dir, func(_ string, d os.DirEntry, err error) error {
		if err == nil && !d.IsDir() {
			n++
		}
		return err
	}))
	return n
}

// The SHA-256 of "abc" (FIPS 180-4, example 1).
const abc = "ba7816bf8f01cfea414140de5dae2223b00361a396177a9cb410ff61f20015ad"

func TestBlobsAreNamedByTheirContentAndKeptOnce(t *testing.T) {
	dir := t.TempDir()
	s, err := store.Open(dir)
	require.NoError(t, err)
	defer s.Close()
	for range 2 {
		hash, err := s.Blobs.Put(strings.NewReader("abc"))
		require.NoError(t, err)
		assert.Equal(t, abc, hash)
	}
	assert.Equal(t, 1, files(t, filepath.Join(dir, "files")))
	f, err := s.Blobs.Open(abc)
	require.NoError(t, err)
	defer f.Close()
	data, _ := io.ReadAll(f)
	assert.Equal(t, "abc", string(data))
	_, err = s.Blobs.Open("../../etc/passwd")
	assert.ErrorIs(t, err, store.ErrNoBlob)
	_, err = s.Blobs.Open(strings.Repeat("0", 64))
	assert.ErrorIs(t, err, store.ErrNoBlob)
}

type broken struct{ io.Reader }

func (b broken) Read(p []byte) (int, error) {
	if n, err := b.Reader.Read(p); err == nil {
		return n, nil
	}
	return 0, errors.New("the line broke")
}

func TestABrokenOffFileLeavesNothing(t *testing.T) {
	dir := t.TempDir()
	s, err := store.Open(dir)
	require.NoError(t, err)
	_, err = s.Blobs.Put(broken{strings.NewReader("half a pict")})
	assert.ErrorContains(t, err, "the line broke")
	assert.Zero(t, files(t, filepath.Join(dir, "files")))

	// What a killed program leaves is swept at the next start.
	require.NoError(t, os.WriteFile(filepath.Join(dir, "files", "tmp", "in-1"), []byte("x"), 0o600))
	require.NoError(t, s.Close())
	s, err = store.Open(dir)
	require.NoError(t, err)
	defer s.Close()
	assert.Zero(t, files(t, filepath.Join(dir, "files")))
}

func TestHistoryOfAPicture(t *testing.T) {
	s := fresh(t)
	p := store.Picture{Section: "juniors", OriginalHash: abc, Station: store.Bench, CreatedAt: noon}
	require.NoError(t, s.AddPicture(&p))
	for _, name := range []string{"juniors-one", "juniors-two"} {
		p.Work.Name = name
		require.NoError(t, s.AddStep(&p, "Named "+name, "Ines", noon))
	}
	p.Step = 1
	require.NoError(t, s.SavePicture(&p))
	p.Work.Name = "juniors-three"
	require.NoError(t, s.AddStep(&p, "Named", "Ines", noon), "a new step after an undo begins a branch")
	steps, err := s.Steps(p.ID)
	require.NoError(t, err)
	require.Len(t, steps, 4, "what was undone is kept")
	assert.Equal(t, []int{-1, 0, 1, 1}, []int{steps[0].Parent, steps[1].Parent, steps[2].Parent, steps[3].Parent})
	assert.Equal(t, "juniors-three", steps[3].Work.Name)

	taken, err := s.NameTaken("juniors", "juniors-three", 0)
	require.NoError(t, err)
	assert.True(t, taken)
	twin := store.Picture{Section: "juniors", OriginalHash: abc, Work: store.Work{Name: "juniors-three"}}
	assert.Error(t, s.AddPicture(&twin), "two pictures of a section never share a name")
}

func TestOfTwoDraftsFromOneVersionTheSecondIsRefused(t *testing.T) {
	s := fresh(t)
	p := store.Page{Section: "juniors", Slug: "autumn", Version: 1, Doc: page.Doc{Version: 1, Title: "Autumn"}}
	require.NoError(t, s.AddPage(&p))
	mine, theirs := p, p
	mine.Doc.Title = "Mine"
	require.NoError(t, s.AddPageStep(&mine, "Renamed", "Ines", noon))
	theirs.Doc.Title = "Theirs"
	assert.ErrorIs(t, s.Tx(func(s *store.Store) error { return s.AddPageStep(&theirs, "Renamed", "Ines", noon) }), store.ErrStale)
	now, err := s.Page(p.ID)
	require.NoError(t, err)
	assert.Equal(t, "Mine", now.Doc.Title)
	steps, err := s.PageSteps(p.ID)
	require.NoError(t, err)
	assert.Len(t, steps, 2, "the refused draft left no step")
}

func TestPublishingIsAllOrNothing(t *testing.T) {
	s := fresh(t)
	p := store.Page{Section: "juniors", Slug: "autumn", Version: 1, Doc: page.Doc{Version: 1}}
	require.NoError(t, s.AddPage(&p))
	old := []store.Published{{Path: "/juniors/autumn", Hash: abc, MediaType: "text/html"}}
	require.NoError(t, s.Tx(func(s *store.Store) error { return s.Publish(&p, old, "print", noon) }))
	err := s.Tx(func(s *store.Store) error {
		if err := s.Publish(&p, []store.Published{{Path: "/juniors/other", Hash: abc}}, "print", noon); err != nil {
			return err
		}
		return errors.New("power cut")
	})
	require.Error(t, err)
	f, err := s.PublishedAt("/juniors/autumn", abc[:8])
	require.NoError(t, err)
	assert.Equal(t, abc, f.Hash)
	_, err = s.PublishedAt("/juniors/other", "")
	assert.ErrorIs(t, err, store.ErrNotFound)
	_, err = s.PublishedAt("/juniors/autumn", "ffffffff")
	assert.ErrorIs(t, err, store.ErrNotFound)
}

func TestWritersWaitForEachOther(t *testing.T) {
	s := fresh(t)
	var wg sync.WaitGroup
	for i := range 8 {
		wg.Go(func() {
			for range 10 {
				p := store.Picture{Section: "touring", OriginalHash: abc, Station: store.Arrivals}
				assert.NoError(t, s.Tx(func(s *store.Store) error { return s.AddPicture(&p) }), "writer %d", i)
			}
		})
	}
	wg.Wait()
	n, err := s.Counts(nil)
	require.NoError(t, err)
	assert.EqualValues(t, 80, n.Arrivals)
}

func TestRulesAreReadyMadeUntilTheHouseHasItsOwn(t *testing.T) {
	s := fresh(t)
	r, version, err := s.Rules()
	require.NoError(t, err)
	assert.Zero(t, version)
	assert.Equal(t, rules.Default(), r)
	r.House = "Brindlemere Paddle Club"
	require.NoError(t, s.SaveRules(r, "Ines", "the house has a name", noon))
	r, version, err = s.Rules()
	require.NoError(t, err)
	assert.Equal(t, "Brindlemere Paddle Club", r.House)
	assert.EqualValues(t, 1, version)
}

func TestSessionsOutlastARestart(t *testing.T) {
	dir := t.TempDir()
	s, err := store.Open(dir)
	require.NoError(t, err)
	require.NoError(t, s.Sessions().Commit("a", []byte("one"), time.Now().Add(time.Hour)))
	require.NoError(t, s.Sessions().Commit("a", []byte("two"), time.Now().Add(time.Hour)))
	require.NoError(t, s.Sessions().Commit("old", []byte("x"), time.Now().Add(-time.Second)))
	require.NoError(t, s.Close())
	s, err = store.Open(dir)
	require.NoError(t, err)
	defer s.Close()
	data, ok, err := s.Sessions().Find("a")
	require.NoError(t, err)
	assert.True(t, ok)
	assert.Equal(t, "two", string(data))
	_, ok, err = s.Sessions().Find("old")
	require.NoError(t, err)
	assert.False(t, ok, "it has ended")
	require.NoError(t, s.Sessions().Sweep())
	require.NoError(t, s.Sessions().Delete("a"))
	_, ok, _ = s.Sessions().Find("a")
	assert.False(t, ok)
}
