package postgres_test

import (
	"fmt"
	"path/filepath"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/internal/servertest"
	"mivlet/store"
	"mivlet/store/postgres"
	"mivlet/store/relational"
	"mivlet/store/sqlite"
)

// Both databases have the same tables with the same columns: what one of them requires, the other does, too.
func TestBothDatabasesHaveTheSameTables(t *testing.T) {
	t.Parallel()
	here, there := openBoth(t, servertest.NewPostgres(t))
	for _, table := range relational.Tables() {
		ours, err := here.Columns(table)
		require.NoError(t, err)
		theirs, err := there.Columns(table)
		require.NoError(t, err)
		require.NotEmpty(t, ours, table)
		name := func(a, b relational.Column) int { return strings.Compare(a.Name, b.Name) }
		slices.SortFunc(ours, name)
		slices.SortFunc(theirs, name)
		for i, c := range theirs {
			if c.Kind == relational.Boolean { // SQLite has numbers for them
				theirs[i].Kind = relational.Integer
			}
		}
		assert.Equal(t, ours, theirs, table)
	}
}

func openBoth(t *testing.T, server *servertest.Postgres) (*sqlite.DB, *postgres.DB) {
	t.Helper()
	here, err := sqlite.Open(filepath.Join(t.TempDir(), "mivlet.db"))
	require.NoError(t, err)
	t.Cleanup(func() { assert.NoError(t, here.Close()) })
	there, err := postgres.Open(t.Context(), postgres.Address{URL: server.URL, House: "paddle"})
	require.NoError(t, err)
	t.Cleanup(func() { assert.NoError(t, there.Close()) })
	return here, there
}

// A house that is carried from SQLite to PostgreSQL and back is the same row for row, its trail is whole to
// the last nanosecond, its pictures are found by the same words, and what is added gets new numbers.
func TestRecordsAreCarriedOverAndBack(t *testing.T) {
	t.Parallel()
	here, there := openBoth(t, servertest.NewPostgres(t))
	at := time.Date(2026, 11, 2, 12, 0, 0, 123456789, time.UTC)
	for i := range 450 {
		p := store.Picture{Section: "juniors", OriginalHash: fmt.Sprintf("%064d", i), OriginalName: "a\x00b.JPG", Station: store.Shelf, Work: store.Work{Name: fmt.Sprint("juniors-", i), Alt: "A quiet lake"}, CreatedAt: at, UpdatedAt: at}
		require.NoError(t, here.AddPicture(&p))
	}
	require.NoError(t, here.SetTags(1, []string{"pier"}))
	// An entry of earlier days, when moments were kept down to the nanosecond.
	earlier := store.Trace{At: at, Person: "Ines", What: "Signed in"}
	earlier.Digest = earlier.Says()
	earlier.Chain = store.Link("", earlier.Digest)
	require.NoError(t, here.Exec(`INSERT INTO trail (id, at, person_id, person, section, what, digest, chain) VALUES (1, ?, 0, 'Ines', '', 'Signed in', ?, ?)`, at, earlier.Digest, earlier.Chain))
	require.NoError(t, here.Exec(`UPDATE trail_head SET n = 1, chain = ?`, earlier.Chain))
	require.NoError(t, here.AddTrace(store.Trace{At: at.Add(time.Hour), Person: "Ines", What: "Framed a picture"}))
	faults, err := here.CheckTrail()
	require.NoError(t, err)
	require.Empty(t, faults)

	var told int64
	require.NoError(t, here.CopyTo(there.Records, func(rows int64) { told = rows }))
	assert.ErrorIs(t, here.CopyTo(there.Records, nil), relational.ErrNotEmpty)
	back, err := sqlite.Open(filepath.Join(t.TempDir(), "mivlet.db"))
	require.NoError(t, err)
	t.Cleanup(func() { assert.NoError(t, back.Close()) })
	require.NoError(t, there.CopyTo(back.Records, nil))

	first, err := here.Numbers()
	require.NoError(t, err)
	sum := int64(0)
	for _, n := range first {
		sum += n
	}
	assert.Equal(t, sum, told)
	for name, kept := range map[string]*relational.Records{"PostgreSQL": there.Records, "SQLite again": back.Records} {
		n, err := kept.Numbers()
		require.NoError(t, err)
		assert.Equal(t, first, n, name)
		faults, err := kept.CheckTrail()
		require.NoError(t, err)
		assert.Empty(t, faults, name)
		for _, words := range []string{"quiet", "pier", "LÄKE", "juniors 44"} {
			want, all, err := here.Shelf(store.ShelfQuery{Text: words, Most: 1000, Now: at})
			require.NoError(t, err)
			got, n, err := kept.Shelf(store.ShelfQuery{Text: words, Most: 1000, Now: at})
			require.NoError(t, err)
			assert.Equal(t, all, n, "%s: %s", name, words)
			assert.Len(t, got, len(want))
		}
		p, err := kept.Picture(1)
		require.NoError(t, err)
		assert.Equal(t, at.Truncate(time.Microsecond), p.CreatedAt.UTC())
		require.NoError(t, kept.AddTrace(store.Trace{At: at.Add(2 * time.Hour), What: "afterwards"}))
		faults, err = kept.CheckTrail()
		require.NoError(t, err)
		assert.Empty(t, faults, name)
		more := store.Picture{Section: "juniors", OriginalHash: "x", Station: store.Bench, Work: store.Work{Name: "juniors-more"}, CreatedAt: at, UpdatedAt: at}
		require.NoError(t, kept.AddPicture(&more))
		assert.EqualValues(t, 451, more.ID, name)
	}
}
