package sqlite

import (
	"path/filepath"
	"slices"
	"testing"
	"time"

	"github.com/go-gormigrate/gormigrate/v2"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gorm.io/gorm"

	"mivlet/core/consent"
	"mivlet/core/veil"
	"mivlet/store"
)

// upTo are the migrations as far as one.
func upTo(id string) []*gormigrate.Migration {
	at := slices.IndexFunc(migrations, func(m *gormigrate.Migration) bool { return m.ID == id })
	return migrations[:at+1]
}

// A house of an earlier version is brought up to date: the one note about consent becomes
// an entry that no veil covers until somebody says so, veils get names, what is live stays
// live and is traced, the trail becomes a chain, and everybody signs in once more.
func TestAHouseOfEarlierDays(t *testing.T) {
	t.Parallel()
	file := filepath.Join(t.TempDir(), "mivlet.db")
	db, err := connect(file+writing, 1)
	require.NoError(t, err)
	before := upTo("0007-card-remembers-nothing")
	options := *gormigrate.DefaultOptions
	options.UseTransaction = true
	require.NoError(t, gormigrate.New(db, &options, before).Migrate())
	work := `{"recipe":{"version":1,"edits":[{"op":"turn","degrees":90},{"op":"veil","veil":{"shape":"rect","bounds":{"Min":{"X":0,"Y":0},"Max":{"X":90,"Y":90}},"style":"soft","cells":1}}]},"slot":"column","name":"juniors-boat","alt":"A boat","consent":"refused","consent_until":"2027-01-01","consent_note":"by letter"}`
	for _, statement := range []string{
		`INSERT INTO pictures (id, section, original_hash, original_name, facts, station, step, work, name, created_at, updated_at, consent) VALUES (1, 'juniors', 'o', 'a.jpg', '{}', 'bench', 0, '` + work + `', 'juniors-boat', '2026-11-02 12:00:00', '2026-11-02 12:00:00', 'refused')`,
		`INSERT INTO steps (picture_id, seq, text, work, created_at) VALUES (1, 0, 'As it arrived', '` + work + `', '2026-11-02 12:00:00')`,
		`INSERT INTO cuts (picture_id, key, density, effective, css_width, width, height, hash, media_type, bytes, quality, why) VALUES (1, 'k', 1, 1, 640, 640, 400, 'c', 'image/jpeg', 1, 80, '')`,
		`INSERT INTO pages (id, section, slug, doc, version, step, live_version, updated_at) VALUES (1, 'juniors', 'autumn', '{"version":2,"title":"Autumn","blocks":[]}', 1, 0, 1, '2026-11-02 12:00:00')`,
		`INSERT INTO published (path, page_id, hash, media_type, published_at) VALUES ('/juniors/a.jpg', 1, 'c', 'image/jpeg', '2026-11-02 12:00:00')`,
		`INSERT INTO live_versions (page_id, at, person, path, doc, files, print) VALUES (1, '2026-11-02 12:00:00', 'Ines', '/juniors/autumn', '{"version":2,"title":"Autumn","blocks":[]}', '[{"Path":"/juniors/a.jpg","PageID":1,"Hash":"c","MediaType":"image/jpeg"}]', 'p')`,
		`INSERT INTO trail (at, person_id, person, what) VALUES ('2026-11-02 12:00:00.123456789+00:00', 1, 'Ines', 'Published Autumn'), ('2026-11-02 13:00:00+00:00', 1, 'Ines', 'Signed in')`,
		`INSERT INTO sessions (token, data, expiry) VALUES ('plain', 'x', 9999999999)`,
	} {
		require.NoError(t, db.Exec(statement).Error, statement)
	}
	pool, err := db.DB()
	require.NoError(t, err)
	require.NoError(t, pool.Close())

	s, err := Open(file)
	require.NoError(t, err)
	defer s.Close()
	p, err := s.Picture(1)
	require.NoError(t, err)
	require.Len(t, p.Consents, 1)
	assert.Equal(t, consent.Refused, p.Consents[0].State)
	assert.Equal(t, "by letter", p.Consents[0].Note)
	assert.Equal(t, []string{"veil1"}, p.Work.Recipe.VeilIDs())
	assert.Len(t, p.Work.Recipe.Edits, 2)
	assert.Equal(t, "A boat", p.Work.Alt)
	assert.Len(t, consent.Binding(p.Consents, p.Work.Recipe.VeilIDs(), "2026-11-02"), 1)
	step, err := s.Step(1, 0)
	require.NoError(t, err)
	assert.Equal(t, []string{"veil1"}, step.Work.Recipe.VeilIDs())
	f, err := s.PublishedAt("/juniors/a.jpg", "")
	require.NoError(t, err)
	assert.Equal(t, "k", f.CutKey)
	assert.EqualValues(t, 1, f.PictureID)
	assert.Nil(t, f.Veils, "nobody knows what it hides")
	assert.True(t, f.Averaged, "its veil may be an average")
	assert.NotEmpty(t, p.Secret)
	first, err := s.AveragedPages()
	require.NoError(t, err)
	require.Len(t, first, 1)
	assert.Equal(t, "Autumn", first[0].Title)
	drawn := p.Work.Recipe.Veils()[0]
	assert.Equal(t, veil.Cover, drawn.Style, "what was averaged is filled from around it")
	assert.NoError(t, drawn.Check())
	v, err := s.NewestLive(1)
	require.NoError(t, err)
	assert.EqualValues(t, 1, v.Files[0].PictureID)
	require.NoError(t, s.AddTrace(store.Trace{At: time.Now(), What: "afterwards"}))
	faults, err := s.CheckTrail()
	require.NoError(t, err)
	assert.Empty(t, faults)
	_, err = s.Session("plain", time.Now())
	assert.ErrorIs(t, err, store.ErrNotFound)
	found, _, err := s.Shelf(store.ShelfQuery{Text: "boat", Most: 9, Now: time.Now()})
	require.NoError(t, err)
	assert.Empty(t, found, "it is on no shelf")
	require.NoError(t, s.SavePicture(&p))
}

// A picture of earlier days is found by its words without their accents, whatever the script.
func TestWordsOfEarlierDaysAreFolded(t *testing.T) {
	t.Parallel()
	file := filepath.Join(t.TempDir(), "mivlet.db")
	s, err := Open(file)
	require.NoError(t, err)
	p := store.Picture{Section: "juniors", OriginalHash: "o", Station: store.Shelf, Work: store.Work{Name: "juniors-lake", Alt: "Μια ήρεμη λίμνη"}, CreatedAt: time.Now(), UpdatedAt: time.Now()}
	require.NoError(t, s.AddPicture(&p))
	for _, statement := range []string{"DELETE FROM pictures_fts", "INSERT INTO pictures_fts (rowid, name, words, credit, tags, folder, former) VALUES (1, 'juniors-lake', 'Μια ήρεμη λίμνη', '', '', '', '')",
		"DELETE FROM migrations WHERE id = '0031-kept-elsewhere'", "ALTER TABLE trail DROP COLUMN nanos", "ALTER TABLE jobs DROP COLUMN program"} {
		require.NoError(t, s.Exec(statement), statement)
	}
	require.NoError(t, s.Close())
	s, err = Open(file)
	require.NoError(t, err)
	defer s.Close()
	for _, text := range []string{"λίμνη", "λιμνη", "ΛΊΜΝΗ", "ήρεμ"} {
		_, n, err := s.Shelf(store.ShelfQuery{Text: text, Most: 9, Now: time.Now()})
		require.NoError(t, err)
		assert.EqualValues(t, 1, n, text)
	}
}

// Since several programs may work on one house, a migration only adds: what a version before knows stays as it was, and what
// comes needs no value from it. So programs can be brought to a new version one after the other.
func TestMigrationsOnlyAdd(t *testing.T) {
	t.Parallel()
	const since = "0031-kept-elsewhere"
	db, err := gorm.Open(dialectOf(filepath.Join(t.TempDir(), "mivlet.db")), &gorm.Config{})
	require.NoError(t, err)
	steps := gormigrate.New(db, gormigrate.DefaultOptions, migrations)
	require.NoError(t, steps.MigrateTo(since))
	type column struct {
		Name, Type string
		Notnull    bool
		DfltValue  *string
	}
	columns := func() map[string]map[string]column {
		var tables []string
		require.NoError(t, db.Raw("SELECT name FROM sqlite_master WHERE type = 'table' AND name NOT LIKE 'sqlite_%'").Scan(&tables).Error)
		all := map[string]map[string]column{}
		for _, table := range tables {
			var its []column
			require.NoError(t, db.Raw("SELECT name, type, \"notnull\", dflt_value FROM pragma_table_info(?)", table).Scan(&its).Error)
			all[table] = map[string]column{}
			for _, c := range its {
				all[table][c.Name] = c
			}
		}
		return all
	}
	before := columns()
	require.Contains(t, before, "pictures")
	require.NoError(t, steps.Migrate())
	after := columns()
	for table, its := range before {
		for name, c := range its {
			assert.Equal(t, c, after[table][name], "%s of %s", name, table)
		}
		for name, c := range after[table] {
			if _, known := its[name]; !known {
				assert.True(t, !c.Notnull || c.DfltValue != nil, "%s of %s needs a value that a version before does not give", name, table)
			}
		}
	}
}
