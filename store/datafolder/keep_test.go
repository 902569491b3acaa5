package datafolder_test

import (
	"database/sql"
	"fmt"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/page"
	"mivlet/store"
	"mivlet/store/datafolder"
)

var noon = time.Date(2026, 11, 2, 12, 0, 0, 0, time.UTC)

// house is a small house with a picture, a live page and a trail.
func house(t *testing.T) (s *datafolder.Folder, dir string) {
	t.Helper()
	dir = t.TempDir()
	s, err := datafolder.Open(dir)
	require.NoError(t, err)
	t.Cleanup(func() { _ = s.Close() })
	put := func(text string) string {
		hash, err := s.Files.Put(strings.NewReader(text), "text/plain")
		require.NoError(t, err)
		return hash
	}
	original, cut, html := put("an original"), put("a cut"), put("<p>a page")
	require.NoError(t, s.Tx(func(s store.Records) error {
		pic := store.Picture{Section: "juniors", OriginalHash: original, OriginalName: "a.jpg", Station: store.Bench, CreatedAt: noon, UpdatedAt: noon}
		if err := s.AddPicture(&pic); err != nil {
			return err
		}
		p := store.Page{Section: "juniors", Slug: "autumn", Version: 1, UpdatedAt: noon, Doc: page.Doc{Version: page.Version, Title: "Autumn", Blocks: []page.Block{}}}
		if err := s.AddPage(&p); err != nil {
			return err
		}
		files := []store.Published{{Path: "/juniors/autumn", Hash: html, MediaType: "text/html"}, {Path: "/juniors/a-640.jpg", Hash: cut, MediaType: "image/jpeg", PictureID: pic.ID, CutKey: "key"}}
		if err := s.Publish(&p, files, "print", noon); err != nil {
			return err
		}
		if err := s.AddCuts([]store.Cut{{PictureID: pic.ID, Key: "key", Hash: cut, MediaType: "image/jpeg"}}, false); err != nil {
			return err
		}
		return s.AddLiveVersion(&store.LiveVersion{PageID: p.ID, At: noon, Path: p.Path(), Doc: `{"version":2,"title":"Autumn","blocks":[]}`, Files: files})
	}))
	for n := range 5 {
		require.NoError(t, s.AddTrace(store.Trace{At: noon, Person: "Ines", What: fmt.Sprint("act number ", n)}))
	}
	return s, dir
}

func faults(t *testing.T, dir string) []string {
	t.Helper()
	r, err := datafolder.Verify(dir, time.Hour)
	require.NoError(t, err)
	return r.Faults
}

// Everything that can go wrong in a data folder is found by looking at it.
func TestVerifyFindsWhatIsWrong(t *testing.T) {
	t.Parallel()
	blob := func(dir, text string) string {
		names, err := filepath.Glob(filepath.Join(dir, "files", "??", "*"))
		require.NoError(t, err)
		i := slices.IndexFunc(names, func(n string) bool { data, err := os.ReadFile(n); return err == nil && string(data) == text })
		require.GreaterOrEqual(t, i, 0)
		return names[i]
	}
	harm := func(dir, statement string) { // as somebody with another program would
		db, err := sql.Open("sqlite", filepath.Join(dir, datafolder.DatabaseName))
		require.NoError(t, err)
		_, err = db.Exec(statement)
		require.NoError(t, err)
		require.NoError(t, db.Close())
	}
	for name, c := range map[string]struct {
		harm func(s *datafolder.Folder, dir string)
		want string
	}{
		"nothing": {func(*datafolder.Folder, string) {}, ""},
		"a byte of a file": {func(_ *datafolder.Folder, dir string) {
			require.NoError(t, os.WriteFile(blob(dir, "a cut"), []byte("a cat"), 0o600))
		}, "its content is not what it is named by"},
		"a file that is gone": {func(_ *datafolder.Folder, dir string) { require.NoError(t, os.Remove(blob(dir, "an original"))) }, "it is missing"},
		"a file of nobody": {func(s *datafolder.Folder, dir string) {
			_, err := s.Files.Put(strings.NewReader("left over"), "")
			require.NoError(t, err)
			old := time.Now().Add(-2 * time.Hour)
			require.NoError(t, os.Chtimes(blob(dir, "left over"), old, old))
		}, "no record names it"},
		"an untraceable file": {func(_ *datafolder.Folder, dir string) {
			harm(dir, "UPDATE published SET picture_id = 0 WHERE cut_key = 'key'")
		}, "cannot be traced"},
		"a picture that is gone": {func(_ *datafolder.Folder, dir string) {
			harm(dir, "UPDATE published SET picture_id = 99 WHERE cut_key = 'key'")
		}, "shows picture 99, which is not there"},
		"a file nobody signed": {func(_ *datafolder.Folder, dir string) { harm(dir, "UPDATE live_versions SET files = '[]'") }, "not among the files that went live"},
		"a changed line": {func(_ *datafolder.Folder, dir string) {
			harm(dir, "UPDATE trail SET what = 'nothing at all' WHERE id = 3")
		}, "entry 3 was changed"},
		"another person":   {func(_ *datafolder.Folder, dir string) { harm(dir, "UPDATE trail SET person = 'Odo' WHERE id = 3") }, "entry 3 was changed"},
		"a line taken out": {func(_ *datafolder.Folder, dir string) { harm(dir, "DELETE FROM trail WHERE id = 3") }, "an entry before number 4 is missing"},
		"the last line":    {func(_ *datafolder.Folder, dir string) { harm(dir, "DELETE FROM trail WHERE id = 5") }, "it has 4 entries and should have 5"},
		"a broken page":    {func(_ *datafolder.Folder, dir string) { harm(dir, `UPDATE pages SET doc = '{"version":9}'`) }, "page version 9 is not known"},
		"a broken history": {func(_ *datafolder.Folder, dir string) { harm(dir, "DELETE FROM steps") }, "the step of its history that is shown is missing"},
	} {
		s, dir := house(t)
		c.harm(s, dir)
		found := strings.Join(faults(t, dir), "\n")
		if c.want == "" {
			assert.Empty(t, found, name)
		} else {
			assert.Contains(t, found, c.want, name)
		}
	}
}

// Words are taken out of the trail without breaking its chain, and cannot be guessed from
// what stays.
func TestTheTrailForgetsWordsAndStaysWhole(t *testing.T) {
	t.Parallel()
	s, dir := house(t)
	require.NoError(t, s.Redact([]uint{2, 3}, "erased"))
	require.NoError(t, s.AddTrace(store.Trace{At: noon, Person: "Ines", What: "afterwards"}))
	assert.Empty(t, faults(t, dir))
	all, err := s.Trail(store.TrailFilter{})
	require.NoError(t, err)
	for _, one := range all {
		assert.Equal(t, one.ID == 2 || one.ID == 3, one.Salt == "", "entry %d", one.ID)
	}
}

// A backup taken while others write is whole, and gives the house back as it was at one
// moment.
func TestBackupsAreWholeAndComeBack(t *testing.T) {
	t.Parallel()
	s, dir := house(t)
	stop := make(chan struct{})
	var busy sync.WaitGroup
	busy.Go(func() {
		for n := 0; ; n++ {
			select {
			case <-stop:
				return
			default:
			}
			hash, err := s.Files.Put(strings.NewReader(fmt.Sprint("original number ", n)), "")
			assert.NoError(t, err)
			pic := store.Picture{Section: "juniors", OriginalHash: hash, Station: store.Bench, CreatedAt: noon}
			assert.NoError(t, s.Tx(func(s store.Records) error { return s.AddPicture(&pic) }))
			if n%3 == 0 { // and takes away again what a backup may just be copying
				assert.NoError(t, s.Tx(func(s store.Records) error { return s.RemovePicture(pic.ID) }))
				_, err = s.RemoveUnnamed([]string{hash})
				assert.NoError(t, err)
			}
		}
	})
	var made []string
	for n := range 5 {
		to := filepath.Join(t.TempDir(), fmt.Sprint("backup", n))
		copied, err := datafolder.Backup(dir, to, "on the machine", noon)
		require.NoError(t, err)
		assert.GreaterOrEqual(t, copied.Files, 3)
		assert.Empty(t, faults(t, to))
		made = append(made, to)
	}
	close(stop)
	busy.Wait()
	times, _, err := s.BackupsSince(noon.Add(-time.Hour))
	require.NoError(t, err)
	assert.Len(t, times, 5, "the trail knows of them")
	assert.Empty(t, faults(t, dir))

	back := filepath.Join(t.TempDir(), "back")
	_, err = datafolder.Restore(made[0], back)
	require.NoError(t, err)
	assert.Empty(t, faults(t, back))
	again, err := datafolder.Open(back)
	require.NoError(t, err)
	defer again.Close()
	f, err := again.PublishedAt("/juniors/autumn", "")
	require.NoError(t, err)
	assert.True(t, again.Files.Has(f.Hash))
	for name, bad := range map[string]func() error{
		"into a folder that holds something": func() error { _, err := datafolder.Restore(made[0], back); return err },
		"over a house":                       func() error { _, err := datafolder.Backup(dir, back, "", noon); return err },
		"of no house": func() error {
			_, err := datafolder.Backup(t.TempDir(), filepath.Join(t.TempDir(), "x"), "", noon)
			return err
		},
		"from no backup": func() error { _, err := datafolder.Restore(t.TempDir(), filepath.Join(t.TempDir(), "x")); return err },
	} {
		assert.Error(t, bad(), name)
	}
	require.NoError(t, os.WriteFile(filepath.Join(made[1], "files", "00-not-a-file"), nil, 0o600))
	names, err := filepath.Glob(filepath.Join(made[1], "files", "??", "*"))
	require.NoError(t, err)
	require.NoError(t, os.WriteFile(names[0], []byte("damaged"), 0o600))
	to := filepath.Join(t.TempDir(), "never")
	_, err = datafolder.Restore(made[1], to)
	assert.ErrorContains(t, err, "not whole")
	assert.NoDirExists(t, to)
}

// A second server cannot use the same folder; a single act beside it can.
func TestTheFolderIsLocked(t *testing.T) {
	t.Parallel()
	_, dir := house(t)
	_, err := datafolder.Open(dir)
	assert.ErrorIs(t, err, datafolder.ErrInUse)
	beside, err := datafolder.OpenBeside(dir)
	require.NoError(t, err)
	require.NoError(t, beside.Close())
	_, err = datafolder.OpenBeside(t.TempDir())
	assert.ErrorContains(t, err, "no data folder")
}

// Records and files are readable by their owner only.
func TestNobodyElseReadsTheFolder(t *testing.T) {
	t.Parallel()
	_, dir := house(t)
	require.NoError(t, filepath.WalkDir(dir, func(at string, d os.DirEntry, err error) error {
		if err != nil {
			return err
		}
		info, err := d.Info()
		if err == nil && at != dir {
			assert.Zero(t, info.Mode().Perm()&0o077, at)
		}
		return err
	}))
}

// A session's token is not kept: who reads the records cannot sign in with it.
func TestTokensAreKeptHashed(t *testing.T) {
	t.Parallel()
	s, dir := house(t)
	const token = "averysecrettokenofasession"
	require.NoError(t, s.Sessions().Commit(token, []byte("data"), time.Now().Add(time.Hour)))
	for _, name := range []string{"mivlet.db", "mivlet.db-wal"} {
		data, err := os.ReadFile(filepath.Join(dir, name))
		require.NoError(t, err)
		assert.NotContains(t, string(data), token)
	}
	_, ok, err := s.Sessions().Find(token)
	require.NoError(t, err)
	assert.True(t, ok)
}

// Who is signed in stays so when Mivlet is started anew.
func TestSessionsOutlastARestart(t *testing.T) {
	t.Parallel()
	dir := t.TempDir()
	s, err := datafolder.Open(dir)
	require.NoError(t, err)
	require.NoError(t, s.Sessions().Commit("a", []byte("one"), time.Now().Add(time.Hour)))
	require.NoError(t, s.Sessions().Commit("a", []byte("two"), time.Now().Add(time.Hour)))
	require.NoError(t, s.Sessions().Commit("old", []byte("x"), time.Now().Add(-time.Second)))
	require.NoError(t, s.Close())
	s, err = datafolder.Open(dir)
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

// What a killed program leaves on its way in is swept at the next start.
func TestABrokenOffFileIsSwept(t *testing.T) {
	t.Parallel()
	_, dir := house(t)
	left := filepath.Join(dir, "files", "tmp", "in-1")
	require.NoError(t, os.WriteFile(left, []byte("x"), 0o600))
	beside, err := datafolder.OpenBeside(dir)
	require.NoError(t, err)
	require.NoError(t, beside.Close())
	assert.FileExists(t, left, "the one that runs may just be writing it")
	again := t.TempDir()
	require.NoError(t, os.MkdirAll(filepath.Join(again, "files", "tmp"), 0o700))
	left = filepath.Join(again, "files", "tmp", "in-1")
	require.NoError(t, os.WriteFile(left, []byte("x"), 0o600))
	s, err := datafolder.Open(again)
	require.NoError(t, err)
	defer s.Close()
	assert.NoFileExists(t, left)
}
