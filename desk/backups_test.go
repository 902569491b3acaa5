package desk_test

import (
	"bytes"
	"context"
	"errors"
	"io"
	"io/fs"
	"os"
	"path/filepath"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/desk"
	"mivlet/desk/access"
	"mivlet/desk/desktest"
	"mivlet/desk/pictures"
	"mivlet/desk/withdraw"
	"mivlet/edge/folder"
	"mivlet/store"
	"mivlet/store/backups"
	"mivlet/store/datafolder"
)

// backedUp is a house of which several backups were written while a picture came, was named, described
// and went live, and another one stayed beside it.
type backedUp struct {
	*desktest.Fixture
	picture, other uint
	dir            string // the place of its backups
	place          backups.Place
}

const (
	erasedAlt  = "Xantippe paddles past the pier"
	erasedName = "juniors-xantippe"
	erasedFile = "Xantippe 0417.JPG"
)

func newBackedUp(t *testing.T) *backedUp {
	t.Helper()
	b := &backedUp{Fixture: desktest.FreshWith(t, func(o *desk.Options) { o.BackupsTo = "/srv/backups" }), dir: t.TempDir()}
	var err error
	b.place, err = folder.OpenPrivate(b.dir)
	require.NoError(t, err)
	t.Cleanup(func() { _ = b.place.Close() })
	b.other = b.Ready("juniors-other", 2)
	b.write(0)
	b.picture = b.Ready("juniors-boat", 1)
	b.write(1)
	require.NoError(t, b.Pictures.SetName(b.picture, erasedName))
	require.NoError(t, b.Pictures.SetWords(b.picture, pictures.Newest, pictures.Words{Alt: erasedAlt}))
	b.Place(b.picture)
	b.Place(b.other)
	b.GoLive()
	b.write(2)
	require.NoError(t, b.Pages.SetText(b.PageID, "a", b.MarkOf("a"), "Other words."))
	b.GoLive()
	b.write(3)
	return b
}

func (b *backedUp) write(day int) {
	b.T.Helper()
	_, err := backups.Write(b.T.Context(), b.Kept, b.place, "", b.Time().Add(time.Duration(day)*24*time.Hour))
	require.NoError(b.T, err)
}

func (b *backedUp) original(picture uint) string { return b.PictureOf(picture).OriginalHash }

func (b *backedUp) eraseInBackups(in backups.Place) error {
	return b.EraseInBackups(func(do func(*store.Store) (bool, error)) (int, error) {
		return backups.Change(b.T.Context(), in, do)
	})
}

// allComeBack tries every backup and restores it.
func (b *backedUp) allComeBack() (houses []*datafolder.Folder) {
	b.T.Helper()
	all, err := backups.List(b.T.Context(), b.place)
	require.NoError(b.T, err)
	for _, one := range all {
		trial, err := backups.Try(b.T.Context(), b.place, one, b.Kept.Files, b.Time())
		require.NoError(b.T, err)
		require.Empty(b.T, trial.Faults, one.ID())
		back := filepath.Join(b.T.TempDir(), "back")
		_, err = backups.Restore(b.T.Context(), b.place, one, back)
		require.NoError(b.T, err)
		report, err := datafolder.Verify(back, time.Hour)
		require.NoError(b.T, err)
		assert.Empty(b.T, report.Faults, one.ID())
		house, err := datafolder.Open(back)
		require.NoError(b.T, err)
		b.T.Cleanup(func() { _ = house.Close() })
		houses = append(houses, house)
	}
	return houses
}

func holds(t *testing.T, dir string, what []byte) (found []string) {
	t.Helper()
	require.NoError(t, filepath.WalkDir(dir, func(at string, d fs.DirEntry, err error) error {
		if err != nil || d.IsDir() {
			return err
		}
		data, err := os.ReadFile(at)
		if bytes.Contains(data, what) {
			found = append(found, at)
		}
		return err
	}))
	return found
}

// What is erased in the house is erased in its backups: neither its bytes nor its words are in any file of
// the place. All backups come back whole, with all else that was in them.
func TestWhatIsErasedIsErasedInBackups(t *testing.T) {
	t.Parallel()
	b := newBackedUp(t)
	hash, otherHash := b.original(b.picture), b.original(b.other)
	pixels, err := store.Content(b.Kept.Files, hash)
	require.NoError(t, err)
	require.NotEmpty(t, holds(t, b.dir, []byte(erasedAlt)), "or this would test nothing")
	require.NotEmpty(t, holds(t, b.dir, pixels[2000:2100]))

	receipt, err := b.Withdraw.Erase(t.Context(), b.picture, withdraw.Erasing{Why: "The family asked for it", Names: true})
	require.NoError(t, err)
	assert.Contains(t, receipt.Left, "the backups in /srv/backups, out of which it is taken within minutes: the trail will tell")
	require.NoError(t, b.eraseInBackups(b.place))

	for _, words := range []string{erasedAlt, erasedName, erasedFile, "Xantippe", "xantippe", string(pixels[2000:2100]), hash} {
		assert.Empty(t, holds(t, b.dir, []byte(words)), "%.40q", words)
	}
	assert.NoFileExists(t, filepath.Join(b.dir, "files", hash))
	houses := b.allComeBack()
	require.Len(t, houses, 4)
	for i, house := range houses { // the newest first
		_, err := house.Picture(b.picture)
		assert.ErrorIs(t, err, store.ErrNotFound)
		other, err := house.Picture(b.other)
		require.NoError(t, err)
		assert.Equal(t, otherHash, other.OriginalHash)
		page, err := house.Page(b.PageID)
		require.NoError(t, err)
		assert.Equal(t, i < 2, page.Live(), "its page is live, without it")
	}
	trail, err := b.People.Trail(store.TrailFilter{Most: 1})
	require.NoError(t, err)
	assert.Equal(t, "Erased picture number 2 in 3 backups, too", trail[0].What, "the first was written before it came")
	left, err := b.Kept.ErasuresLeft()
	require.NoError(t, err)
	assert.Empty(t, left)
	require.NoError(t, b.eraseInBackups(nil), "nothing is left to be done")
}

// failing is a place that fails once some writes are over.
type failing struct {
	backups.Place
	left int
}

func (f *failing) may() error {
	if f.left--; f.left < 0 {
		return errors.New("the wire was pulled")
	}
	return nil
}

func (f *failing) Put(ctx context.Context, at string, data io.Reader) (string, error) {
	if err := f.may(); err != nil {
		return "", err
	}
	return f.Place.Put(ctx, at, data)
}

func (f *failing) Remove(ctx context.Context, at string) error {
	if err := f.may(); err != nil {
		return err
	}
	return f.Place.Remove(ctx, at)
}

// Erasing in backups may be broken off before any of its writes: every backup comes back whole then, and
// the next time it is brought to its end.
func TestErasingInBackupsIsBrokenOff(t *testing.T) {
	t.Parallel()
	b := newBackedUp(t)
	_, err := b.Withdraw.Erase(t.Context(), b.picture, withdraw.Erasing{Why: "The family asked for it", Names: true})
	require.NoError(t, err)
	left, err := b.Kept.ErasuresLeft()
	require.NoError(t, err)
	require.Len(t, left, 1)
	whole := b.dir
	broken := 0
	for writes := 0; ; writes++ {
		b.dir = t.TempDir()
		require.NoError(t, os.CopyFS(b.dir, os.DirFS(whole)))
		b.place, err = folder.OpenPrivate(b.dir)
		require.NoError(t, err)
		if err := b.eraseInBackups(&failing{b.place, writes}); err == nil {
			require.NoError(t, b.place.Close())
			break
		}
		broken++
		all, err := backups.List(t.Context(), b.place)
		require.NoError(t, err)
		require.Len(t, all, 4)
		for _, one := range all {
			trial, err := backups.Try(t.Context(), b.place, one, b.Kept.Files, b.Time())
			require.NoError(t, err)
			require.Empty(t, trial.Faults, "after %d writes", writes)
		}
		require.NoError(t, b.eraseInBackups(b.place), "after %d writes", writes)
		require.Empty(t, holds(t, b.dir, []byte(erasedAlt)), "after %d writes", writes)
		require.NoError(t, b.place.Close())
		require.NoError(t, b.Kept.AddErasure(&store.Erasure{Picture: left[0].Picture, CameAt: left[0].CameAt, Names: true, Why: left[0].Why, ErasedAt: left[0].ErasedAt}))
	}
	assert.Greater(t, broken, 15, "it was broken off before each of its writes")
}

// Another picture that has its number in a backup is another picture, and stays.
func TestAnotherPictureWithItsNumberStays(t *testing.T) {
	t.Parallel()
	b := newBackedUp(t)
	p := b.PictureOf(b.picture)
	require.NoError(t, b.Kept.AddErasure(&store.Erasure{Picture: p.ID, CameAt: p.CreatedAt.Add(-time.Second), Why: "The family asked for it", ErasedAt: b.Time()}))
	require.NoError(t, b.eraseInBackups(b.place))
	trail, err := b.People.Trail(store.TrailFilter{Most: 1})
	require.NoError(t, err)
	assert.Equal(t, "No backup has picture number 2 any more, which was erased", trail[0].What)
	_, err = b.allComeBack()[0].Picture(b.picture)
	assert.NoError(t, err)
}

// What was written by hand is beyond reach, and told.
func TestBackupsByHandAreTold(t *testing.T) {
	t.Parallel()
	b := newBackedUp(t)
	require.NoError(t, b.Kept.AddTrace(store.Trace{At: b.Time(), Person: "on the machine: ines", What: store.BackupText + ": 7 files"}))
	receipt, err := b.Withdraw.Erase(t.Context(), b.picture, withdraw.Erasing{Why: "The family asked for it"})
	require.NoError(t, err)
	assert.Contains(t, receipt.Left, "the backup of "+b.Time().Format("2 Jan 2006, 15:04"))
}

// Only the house itself, and its keepers, erase in backups.
func TestWhoErasesInBackups(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	_, odo := b.TwoPeople()
	desktest.Refusal(t, odo.EraseInBackups(nil), access.Forbidden, "")
}
