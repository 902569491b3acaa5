package backups_test

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/rules"
	"mivlet/edge/folder"
	"mivlet/store"
	"mivlet/store/backups"
	"mivlet/store/datafolder"
)

var noon = time.Date(2026, 11, 2, 12, 0, 0, 0, time.UTC)

// safe is a house, and a folder for its backups.
type safe struct {
	t     *testing.T
	house *datafolder.Folder
	data  string
	dir   string
	to    backups.Place
}

func newSafe(t *testing.T) *safe {
	t.Helper()
	s := &safe{t: t, data: t.TempDir(), dir: t.TempDir()}
	var err error
	s.house, err = datafolder.Open(s.data)
	require.NoError(t, err)
	t.Cleanup(func() { _ = s.house.Close() })
	r := rules.Default()
	r.House = "Brindlemere Paddle Club"
	require.NoError(t, s.house.SaveRules(r, "Ines", "to begin with", noon))
	s.to, err = folder.OpenPrivate(s.dir)
	require.NoError(t, err)
	t.Cleanup(func() { _ = s.to.Close() })
	return s
}

// picture takes a picture in whose original is some text, and returns what it is named.
func (s *safe) picture(text string) string {
	s.t.Helper()
	hash, err := s.house.Files.Put(strings.NewReader(text), "image/x-own")
	require.NoError(s.t, err)
	require.NoError(s.t, s.house.AddPicture(&store.Picture{Section: "juniors", OriginalHash: hash, OriginalName: "a.jpg", Station: store.Bench, CreatedAt: noon, UpdatedAt: noon}))
	return hash
}

func (s *safe) write(at time.Time) backups.Backup {
	s.t.Helper()
	b, err := backups.Write(context.Background(), s.house, s.to, "", at)
	require.NoError(s.t, err)
	return b
}

func (s *safe) list() []backups.Backup {
	s.t.Helper()
	all, err := backups.List(context.Background(), s.to)
	require.NoError(s.t, err)
	return all
}

func (s *safe) try(b backups.Backup) backups.Trial {
	s.t.Helper()
	trial, err := backups.Try(context.Background(), s.to, b, s.house.Files, noon)
	require.NoError(s.t, err)
	return trial
}

// restored restores a backup, and returns the originals that come back.
func (s *safe) restored(b backups.Backup) map[string]string {
	s.t.Helper()
	dir := filepath.Join(s.t.TempDir(), "back")
	_, err := backups.Restore(context.Background(), s.to, b, dir)
	require.NoError(s.t, err)
	report, err := datafolder.Verify(dir, time.Hour)
	require.NoError(s.t, err)
	require.Empty(s.t, report.Faults)
	back, err := datafolder.Open(dir)
	require.NoError(s.t, err)
	defer back.Close()
	named, err := back.NamedFiles()
	require.NoError(s.t, err)
	all := map[string]string{}
	for hash := range named {
		f, err := back.Files.Open(hash)
		require.NoError(s.t, err)
		data, err := io.ReadAll(f)
		require.NoError(s.t, err)
		assert.Equal(s.t, "image/x-own", f.MediaType())
		require.NoError(s.t, f.Close())
		all[hash] = string(data)
	}
	return all
}

// Each backup comes back as the house was then, and takes along only what is new.
func TestEachBackupComesBack(t *testing.T) {
	t.Parallel()
	s := newSafe(t)
	one := s.picture("the first original")
	first := s.write(noon)
	two := s.picture("the second one")
	second := s.write(noon.Add(time.Hour))
	assert.Equal(t, "Brindlemere Paddle Club", second.House)
	assert.EqualValues(t, len("the second one"), second.New)
	assert.EqualValues(t, len("the first original")+len("the second one"), second.Bytes)
	same := s.write(noon.Add(2 * time.Hour))
	assert.Zero(t, same.New)
	assert.Len(t, s.list(), 3)
	assert.Equal(t, "20261102T140000Z", s.list()[0].ID(), "the newest first")

	assert.Equal(t, map[string]string{one: "the first original"}, s.restored(first))
	assert.Equal(t, map[string]string{one: "the first original", two: "the second one"}, s.restored(second))
	trial := s.try(same)
	assert.Empty(t, trial.Faults)
	assert.Equal(t, 2, trial.Files)
	assert.Equal(t, &trial, s.list()[0].Tried)

	_, err := backups.Write(context.Background(), s.house, s.to, "", noon)
	require.ErrorContains(t, err, "one of this second already")
	assert.Len(t, s.list(), 3)
	_, err = backups.Restore(context.Background(), s.to, first, s.data)
	require.ErrorContains(t, err, "is not empty", "what is there is not overwritten")

	// Nobody else on the machine reads it.
	require.NoError(t, filepath.Walk(s.dir, func(at string, info os.FileInfo, err error) error {
		if at != s.dir {
			assert.Zero(t, info.Mode().Perm()&0o077, at)
		}
		return err
	}))
	_, told, err := s.house.BackupsSince(noon)
	require.NoError(t, err)
	assert.Len(t, told, 3, "the trail tells of each")
}

// What is damaged, missing or exchanged in a backup is told, restoring it is refused, and the house
// mends the files that it has.
func TestTryingFindsWhatIsWrong(t *testing.T) {
	t.Parallel()
	s := newSafe(t)
	damaged, missing, lost := s.picture("will be damaged"), s.picture("will be missing"), s.picture("will be lost")
	b := s.write(noon)
	require.Empty(t, s.try(b).Faults)
	spoil := func(hash string, text *string) {
		at := filepath.Join(s.dir, "files", hash)
		if text == nil {
			require.NoError(t, os.Remove(at))
			return
		}
		require.NoError(t, os.WriteFile(at, []byte(*text), 0o600))
	}
	other := "Will be damaged" // as long, and one bit away
	spoil(damaged, &other)
	spoil(missing, nil)
	spoil(lost, nil)
	require.NoError(t, s.house.Files.Delete(lost))
	_, err := backups.Restore(context.Background(), s.to, b, filepath.Join(t.TempDir(), "back"))
	require.Error(t, err)

	faults := strings.Join(s.try(b).Faults, "\n")
	assert.Contains(t, faults, damaged+": its content is not what it is named by; it was written again")
	assert.Contains(t, faults, missing+": it is missing; it was written again")
	assert.Contains(t, faults, lost+": it is missing")
	assert.NotContains(t, faults, lost+": it is missing; it was written")
	assert.Len(t, s.try(b).Faults, 1, "the others are mended")
	dir := filepath.Join(t.TempDir(), "back")
	_, err = backups.Restore(context.Background(), s.to, b, dir)
	require.ErrorContains(t, err, lost)
	assert.NoDirExists(t, dir, "nothing half")

	// The records.
	at := filepath.Join(s.dir, b.ID(), "mivlet.db")
	was, err := os.ReadFile(at)
	require.NoError(t, err)
	require.NoError(t, os.WriteFile(at, was[:len(was)/2], 0o600))
	assert.Contains(t, strings.Join(s.try(b).Faults, "\n"), "records")
	require.NoError(t, os.WriteFile(at, was, 0o600))
	require.NoError(t, os.WriteFile(filepath.Join(s.dir, b.ID(), "files.json"), []byte("[]"), 0o600))
	assert.Contains(t, strings.Join(s.try(b).Faults, "\n"), "the records name it, and the backup does not")
}

// breaking is a place that fails at one of its writes.
type breaking struct {
	backups.Place
	left int
}

func (b *breaking) Put(ctx context.Context, at string, data io.Reader) (string, error) {
	if b.left--; b.left < 0 {
		return "", errors.New("no space left")
	}
	return b.Place.Put(ctx, at, data)
}

func (b *breaking) Remove(ctx context.Context, at string) error {
	if b.left < 0 {
		return errors.New("it is gone") // as after a power failure nobody cleans up
	}
	return b.Place.Remove(ctx, at)
}

// Broken off before any of its writes, a backup is none, those before are as they were, and the next one
// goes on and cleans up.
func TestABackupBrokenOffIsNone(t *testing.T) {
	t.Parallel()
	s := newSafe(t)
	one := s.picture("the first original")
	first := s.write(noon)
	two := s.picture("the second one")
	for writes := 0; ; writes++ {
		_, err := backups.Write(context.Background(), s.house, &breaking{s.to, writes}, "", noon.Add(time.Hour))
		if err == nil {
			require.Equal(t, 3, writes, "the records, what they name, and that it is whole: the file is there from a try before")
			break
		}
		require.Len(t, s.list(), 1, "%d writes", writes)
		require.Empty(t, s.try(first).Faults)
		if writes > 1 {
			assert.DirExists(t, filepath.Join(s.dir, "20261102T130000Z"), "it is left")
		}
	}
	_, err := backups.Write(context.Background(), s.house, &breaking{s.to, 1}, "", noon.Add(2*time.Hour))
	require.Error(t, err)
	gone, err := backups.Prune(context.Background(), s.to, backups.Usual, time.UTC)
	require.NoError(t, err)
	assert.NoDirExists(t, filepath.Join(s.dir, "20261102T140000Z"))
	assert.Equal(t, 2, gone, "of one day the newest stays, and what is no backup goes")
	assert.Equal(t, map[string]string{one: "the first original", two: "the second one"}, s.restored(s.list()[0]))
}

// Of a year of backups a few stay, and each of those comes back: with the others go only the files that
// none of them names.
func TestOldBackupsGo(t *testing.T) {
	t.Parallel()
	s := newSafe(t)
	var kept []string
	begin := time.Date(2025, 11, 28, 3, 0, 0, 0, time.UTC)
	for day := range 366 {
		at := begin.AddDate(0, 0, day)
		if day%30 == 0 {
			kept = append(kept, s.picture(fmt.Sprint("original of day ", day)))
		}
		if day%7 == 0 || day > 350 { // quicker than each day
			s.write(at)
		}
	}
	_, err := backups.Prune(context.Background(), s.to, backups.Keep{Days: 3, Weeks: 2, Months: 4}, time.UTC)
	require.NoError(t, err)
	var days []string
	for _, b := range s.list() {
		days = append(days, b.At.Format(time.DateOnly))
		require.Empty(t, s.try(b).Faults)
	}
	// 2026-11-28 is a Saturday; its week begins on the 23rd, the one before ends on the 22nd.
	assert.Equal(t, []string{"2026-11-28", "2026-11-27", "2026-11-26", "2026-11-22", "2026-10-30", "2026-09-25", "2026-08-28"}, days)
	assert.Len(t, s.restored(s.list()[0]), len(kept))

	before, err := os.ReadDir(filepath.Join(s.dir, "files"))
	require.NoError(t, err)
	assert.Len(t, before, len(kept))
	again, err := backups.Prune(context.Background(), s.to, backups.Keep{Days: 3, Weeks: 2, Months: 4}, time.UTC)
	require.NoError(t, err)
	assert.Zero(t, again, "once is enough")
	_, err = backups.Prune(context.Background(), s.to, backups.Keep{}, time.UTC)
	require.NoError(t, err)
	assert.Len(t, s.list(), 1, "the newest stays whatever is said")
}

// A file whose content is not what it is named by is not taken along: the backup fails and says so.
func TestADamagedHouseIsTold(t *testing.T) {
	t.Parallel()
	s := newSafe(t)
	hash := s.picture("the original")
	at := ""
	require.NoError(t, filepath.Walk(filepath.Join(s.data, "files"), func(p string, _ os.FileInfo, err error) error {
		if strings.HasSuffix(p, hash) {
			at = p
		}
		return err
	}))
	require.NoError(t, os.Chmod(at, 0o600))
	require.NoError(t, os.WriteFile(at, []byte("The original"), 0o600))
	_, err := backups.Write(context.Background(), s.house, s.to, "", noon)
	require.ErrorContains(t, err, "is damaged")
	assert.Empty(t, s.list())
}

// A newer program's backups are left alone.
func TestANewerBackupIsRefused(t *testing.T) {
	t.Parallel()
	s := newSafe(t)
	b := s.write(noon)
	at := filepath.Join(s.dir, b.ID(), "backup.json")
	was, err := os.ReadFile(at)
	require.NoError(t, err)
	require.NoError(t, os.WriteFile(at, bytes.Replace(was, []byte(`"version":1`), []byte(`"version":2`), 1), 0o600))
	_, err = backups.List(context.Background(), s.to)
	require.ErrorContains(t, err, "newer Mivlet")
	_, err = backups.Prune(context.Background(), s.to, backups.Keep{}, time.UTC)
	require.ErrorContains(t, err, "newer Mivlet", "and takes nothing away")
}

// What others keep in the same place stays, and a house does not take another one's place: it would take
// its old backups away.
func TestOthersKeepWhatIsTheirs(t *testing.T) {
	t.Parallel()
	s := newSafe(t)
	require.NoError(t, s.house.AddTrace(store.Trace{At: noon, Person: "Ines", What: "began"}))
	theirs := []string{"letter.txt", "files/photo.jpg", "20261102T110000Z/diary.txt", "files/deep/" + strings.Repeat("0", 64)}
	for _, at := range theirs {
		require.NoError(t, os.MkdirAll(filepath.Join(s.dir, filepath.Dir(at)), 0o700))
		require.NoError(t, os.WriteFile(filepath.Join(s.dir, at), []byte("theirs"), 0o600))
	}
	for day := range 3 {
		s.picture(fmt.Sprint("original ", day))
		s.write(noon.AddDate(0, 0, day))
	}
	gone, err := backups.Prune(context.Background(), s.to, backups.Keep{Days: 1}, time.UTC)
	require.NoError(t, err)
	assert.Equal(t, 2, gone)
	for _, at := range theirs {
		assert.FileExists(t, filepath.Join(s.dir, at))
	}

	other := newSafe(t)
	require.NoError(t, other.house.AddTrace(store.Trace{At: noon, Person: "Noa", What: "began elsewhere"}))
	_, err = backups.Write(context.Background(), other.house, s.to, "", noon.AddDate(0, 0, 9))
	require.ErrorContains(t, err, "backups of another house are there, Brindlemere Paddle Club")
	assert.Len(t, s.list(), 1)

	// What was restored is the same house, and goes on.
	back := filepath.Join(t.TempDir(), "back")
	_, err = backups.Restore(context.Background(), s.to, s.list()[0], back)
	require.NoError(t, err)
	again, err := datafolder.Open(back)
	require.NoError(t, err)
	defer again.Close()
	_, err = backups.Write(context.Background(), again, s.to, "", noon.AddDate(0, 0, 9))
	require.NoError(t, err)
}
