package datafolder_test

import (
	"compress/gzip"
	"database/sql"
	"io"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	_ "modernc.org/sqlite"

	"mivlet/store"
	"mivlet/store/datafolder"
)

// past is a data folder with the records of a house as an earlier Mivlet left them. The files are not kept
// along: they have had the same form from the beginning.
func past(t *testing.T, records string) string {
	t.Helper()
	in, err := os.Open(records)
	require.NoError(t, err)
	defer in.Close()
	plain, err := gzip.NewReader(in)
	require.NoError(t, err)
	dir := t.TempDir()
	out, err := os.Create(filepath.Join(dir, "mivlet.db"))
	require.NoError(t, err)
	_, err = io.Copy(out, plain)
	require.NoError(t, err)
	require.NoError(t, out.Close())
	return dir
}

// counted is how many there are of what a house cannot do without, as any reader of the database sees it.
func counted(t *testing.T, dir string) map[string]int {
	t.Helper()
	db, err := sql.Open("sqlite", "file:"+filepath.Join(dir, "mivlet.db")+"?mode=ro")
	require.NoError(t, err)
	defer db.Close()
	all := map[string]int{}
	for _, table := range []string{"pictures", "pages", "people", "roles", "steps", "trail", "house_rules"} {
		var n int
		require.NoError(t, db.QueryRow("SELECT count(*) FROM sqlite_master WHERE name = ?", table).Scan(&n))
		if n == 0 {
			continue // it came later
		}
		require.NoError(t, db.QueryRow("SELECT count(*) FROM "+table).Scan(&n), table)
		all[table] = n
	}
	return all
}

// Records of every form that there ever was are opened, brought to the form of today and found whole: what
// was in them is in them still. They were written by the demo of that day; each is named after the last step
// that had brought it there.
func TestRecordsOfThePastOpen(t *testing.T) {
	t.Parallel()
	all, err := filepath.Glob("testdata/past/*.db.gz")
	require.NoError(t, err)
	require.NotEmpty(t, all)
	for _, records := range all {
		t.Run(strings.TrimSuffix(filepath.Base(records), ".db.gz"), func(t *testing.T) {
			t.Parallel()
			dir := past(t, records)
			before := counted(t, dir)
			require.Positive(t, before["pictures"])
			f, err := datafolder.Open(dir)
			require.NoError(t, err)
			faults, _, err := f.Check()
			require.NoError(t, err)
			if strings.Compare(filepath.Base(records), "0005") < 0 { // what went live was not written down yet
				faults = slices.DeleteFunc(faults, func(f string) bool {
					return strings.HasSuffix(f, "no record says what of it") || strings.HasSuffix(f, "published for a page that is not live")
				})
			}
			assert.Empty(t, faults)
			pages, err := f.Pages()
			require.NoError(t, err)
			for _, p := range pages {
				assert.NoError(t, p.Doc.Check(), p.Slug)
			}
			shelf, n, err := f.Shelf(store.ShelfQuery{Most: 500})
			require.NoError(t, err)
			assert.EqualValues(t, n, len(shelf))
			for _, p := range shelf {
				steps, err := f.Steps(p.ID)
				require.NoError(t, err)
				assert.NotEmpty(t, steps, p.Name)
			}
			require.NoError(t, f.Close())
			after := counted(t, dir)
			for table, n := range before {
				assert.Equal(t, n, after[table], table)
			}
			again, err := datafolder.Open(dir)
			require.NoError(t, err)
			require.NoError(t, again.Close())
		})
	}
}

// A data folder that a newer Mivlet has worked on is refused, and stays as it is.
func TestRecordsOfTheFutureAreRefused(t *testing.T) {
	t.Parallel()
	dir := t.TempDir()
	f, err := datafolder.Open(dir)
	require.NoError(t, err)
	require.NoError(t, f.Close())
	at := filepath.Join(dir, "mivlet.db")
	db, err := sql.Open("sqlite", "file:"+at)
	require.NoError(t, err)
	_, err = db.Exec("INSERT INTO migrations (id) VALUES ('9999-of-tomorrow')")
	require.NoError(t, err)
	require.NoError(t, db.Close())
	before, err := os.ReadFile(at)
	require.NoError(t, err)
	_, err = datafolder.Open(dir)
	require.ErrorContains(t, err, "a newer Mivlet")
	after, err := os.ReadFile(at)
	require.NoError(t, err)
	assert.Equal(t, before, after)
}
