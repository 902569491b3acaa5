package main

import (
	"context"
	"os"
	"path/filepath"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/demo"
	"mivlet/desk"
	"mivlet/desk/withdraw"
	"mivlet/internal/servertest"
	"mivlet/store"
	"mivlet/store/datafolder"
)

// A house writes backups of itself every so often, tries whether they would come back, and each can be
// restored: from a folder and from a bucket.
func TestBackupsByThemselves(t *testing.T) {
	t.Parallel()
	data := t.TempDir()
	kept, err := datafolder.Open(data)
	require.NoError(t, err)
	t.Cleanup(func() { _ = kept.Close() })
	_, err = demo.Fill(&kept.Store, time.Now())
	require.NoError(t, err)
	secret := filepath.Join(t.TempDir(), "secret")
	require.NoError(t, os.WriteFile(secret, []byte(servertest.Password+"\n"), 0o600))
	bucket, _ := servertest.NewS3(t)

	for name, b := range map[string]*backing{
		"folder": {to: filepath.Join(t.TempDir(), "new", "backups"), every: 24 * time.Hour},
		"bucket": {to: bucket + "/" + servertest.StoredIn + "/backups", login: servertest.Login, secretFile: secret, every: 24 * time.Hour},
	} {
		t.Run(name, func(t *testing.T) { // one after the other: both write into one trail
			require.NoError(t, b.check(data))
			ctx := context.Background()
			flags := []string{"--backup-login", b.login, "--backup-secret-file", b.secretFile}
			list := func() []string {
				t.Helper()
				code, out, errs := shell(append([]string{"backups", b.to}, flags...)...)
				require.Zero(t, code, errs)
				return strings.Split(strings.TrimSpace(out), "\n")
			}
			noon := time.Now().UTC().Truncate(24 * time.Hour).Add(12 * time.Hour)
			once := func(at time.Time) {
				t.Helper()
				next, err := b.once(ctx, kept, at)
				require.NoError(t, err)
				assert.Equal(t, noon.Add((at.Sub(noon)/(24*time.Hour)+1)*24*time.Hour), next, "the next one is due a day after the last")
			}
			once(noon)
			require.Len(t, list(), 1)
			assert.Contains(t, list()[0], "Brindlemere Paddle Club")
			assert.Contains(t, list()[0], "would come back whole")
			once(noon.Add(23 * time.Hour))
			require.Len(t, list(), 1, "none is due")
			hash, err := kept.Files.Put(strings.NewReader("new in "+name), "text/plain")
			require.NoError(t, err)
			require.NoError(t, kept.AddPicture(&store.Picture{Section: "juniors", OriginalHash: hash, Station: store.Bench, CreatedAt: noon, UpdatedAt: noon}))
			once(noon.Add(24 * time.Hour))
			require.Len(t, list(), 2)
			assert.Contains(t, list()[0], "new 13 bytes; not tried")
			once(noon.Add(8 * 24 * time.Hour))
			assert.Contains(t, list()[0], "would come back whole", "a week later it is tried again")
			told, err := kept.Trail(store.TrailFilter{Most: 20})
			require.NoError(t, err)
			assert.Contains(t, told[0].What, "Tried the newest backup: all of its ")

			has := func(files string, back string) bool {
				t.Helper()
				code, out, errs := shell("verify", "--data", back)
				require.Zero(t, code, "%s%s", out, errs)
				s, err := datafolder.OpenBeside(back)
				require.NoError(t, err)
				defer s.Close()
				return store.SizeOf(s.Files, files) > 0
			}
			restore := func(more ...string) string {
				t.Helper()
				back := filepath.Join(t.TempDir(), "back")
				code, out, errs := shell(append(append([]string{"restore", b.to, "--data", back}, flags...), more...)...)
				require.Zero(t, code, errs)
				assert.Contains(t, out, "erase it once more")
				return back
			}
			assert.True(t, has(hash, restore()), "the newest")
			d, err := desk.New(&kept.Store, desk.Options{BackupsTo: b.to})
			require.NoError(t, err)
			pictures, err := kept.PicturesByOriginal(hash)
			require.NoError(t, err)
			_, err = d.Withdraw.Erase(ctx, pictures[0].ID, withdraw.Erasing{Why: "The family asked for it"})
			require.NoError(t, err)
			require.NoError(t, b.erase(ctx, d))
			assert.False(t, has(hash, restore()), "it is erased there, too")
			assert.Contains(t, list()[0], "not tried", "it is another one now")
			first, _, _ := strings.Cut(list()[len(list())-1], " ")
			assert.False(t, has(hash, restore("--backup", first)), "it was not there yet")
			code, _, errs := shell(append([]string{"restore", b.to, "--data", filepath.Join(t.TempDir(), "x"), "--backup", "19990101T000000Z"}, flags...)...)
			assert.Equal(t, exitFailed, code)
			assert.Contains(t, errs, "holds no backup 19990101T000000Z")
		})
	}
}

// What is erased while Mivlet runs is erased in the backups before long, with no need for anybody to ask; one
// that is damaged keeps neither the others from it nor the next backup from being written.
func TestErasingReachesBackupsByItself(t *testing.T) {
	t.Parallel()
	kept, err := datafolder.Open(t.TempDir())
	require.NoError(t, err)
	t.Cleanup(func() { _ = kept.Close() })
	_, err = demo.Fill(&kept.Store, time.Now())
	require.NoError(t, err)
	b := &backing{to: t.TempDir(), every: time.Hour, lookEvery: 10 * time.Millisecond}
	d, err := desk.New(&kept.Store, desk.Options{BackupsTo: b.to})
	require.NoError(t, err)
	ctx, end := context.WithCancel(t.Context())
	_, err = b.once(ctx, kept, time.Now().Add(-49*time.Hour)) // this one is damaged
	require.NoError(t, err)
	damaged := filepath.Join(b.to, b.known[0].ID(), datafolder.DatabaseName)
	require.NoError(t, os.WriteFile(damaged, []byte("nothing that anybody could read"), 0o600))

	var running sync.WaitGroup
	t.Cleanup(func() { end(); running.Wait() })
	running.Go(func() { b.run(ctx, kept, d) })
	p, err := kept.Picture(1)
	require.NoError(t, err)
	written := func() bool { b.mu.Lock(); defer b.mu.Unlock(); return len(b.known) == 2 }
	require.Eventually(t, written, time.Minute, 10*time.Millisecond)
	_, err = d.Withdraw.Erase(ctx, p.ID, withdraw.Erasing{Why: "The family asked for it", Variants: true})
	require.NoError(t, err)
	told := func() bool {
		b.mu.Lock()
		defer b.mu.Unlock()
		return strings.Contains(b.failed, filepath.Base(filepath.Dir(damaged)))
	}
	require.Eventually(t, told, time.Minute, 10*time.Millisecond, "the one that is damaged is told")
	data := filepath.Join(t.TempDir(), "back")
	_, err = b.restore(ctx, data, "")
	require.NoError(t, err)
	back, err := datafolder.OpenBeside(data)
	require.NoError(t, err)
	defer back.Close()
	_, err = back.Picture(p.ID)
	assert.ErrorIs(t, err, store.ErrNotFound, "the one that is whole does not have it any more")
}

// A place for backups that cannot be is refused before anything starts.
func TestPlacesForBackupsThatCannotBe(t *testing.T) {
	t.Parallel()
	data, file := t.TempDir(), filepath.Join(t.TempDir(), "file")
	require.NoError(t, os.WriteFile(file, nil, 0o600))
	for says, b := range map[string]*backing{
		"must not lie in the data folder": {to: filepath.Join(data, "backups")},
		"nor the data folder in it":       {to: filepath.Dir(data)},
		"it is no folder":                 {to: file},
		"a minute at least":               {to: "/srv/backups", every: time.Second},
		"write it as https://":            {to: "https://s3.example"},
		"needs backup-login":              {to: "https://s3.example/paddle"},
		"no such file":                    {to: "https://s3.example/paddle", login: "a", secretFile: filepath.Join(data, "nothing")},
	} {
		if b.every == 0 {
			b.every = time.Hour
		}
		assert.ErrorContains(t, b.check(data), says)
	}
	code, out, errs := shell("backups", t.TempDir())
	assert.Zero(t, code, errs)
	assert.Contains(t, out, "No backup is there")
	code, _, _ = shell("backups", filepath.Join(data, "nothing"))
	assert.Equal(t, exitFailed, code)
}
