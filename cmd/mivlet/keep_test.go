package main

import (
	"context"
	"os"
	"path/filepath"
	"regexp"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/demo"
	"mivlet/desk"
	"mivlet/desk/people"
	"mivlet/store"
	"mivlet/store/datafolder"
)

// told runs the program as from a shell.
func shell(args ...string) (code int, out, errs string) {
	var o, e strings.Builder
	code = run(context.Background(), args, &o, &e)
	return code, o.String(), e.String()
}

// A house is backed up while it is open, restored into an empty folder, verified, and its
// keeper is let in again.
func TestBackupRestoreVerifyAndRecover(t *testing.T) {
	t.Parallel()
	data, at := t.TempDir(), t.TempDir()
	kept, err := datafolder.Open(data)
	require.NoError(t, err)
	_, err = demo.Fill(&kept.Store, time.Now())
	require.NoError(t, err)
	backup, back := filepath.Join(at, "backup"), filepath.Join(at, "back")
	code, out, errs := shell("backup", "--data", data, backup)
	require.Zero(t, code, errs)
	assert.Contains(t, out, "holds a copy")
	code, _, errs = shell("backup", "--data", data, backup)
	assert.Equal(t, exitFailed, code)
	assert.Contains(t, errs, "is not empty")
	code, out, errs = shell("restore", "--data", back, backup)
	require.Zero(t, code, errs)
	assert.Contains(t, out, "erase it once more")
	for _, dir := range []string{data, backup, back} {
		code, out, errs = shell("verify", "--data", dir)
		assert.Zero(t, code, "%s\n%s", out, errs)
		assert.Contains(t, out, "0 faults")
	}
	code, _, errs = shell("serve", "--data", data, "--addr", "127.0.0.1:0", "--site-addr", "127.0.0.1:0", "--previewer-addr", "127.0.0.1:0")
	assert.Equal(t, exitFailed, code)
	assert.Contains(t, errs, "another Mivlet works on this folder")

	// Somebody who keeps the house has forgotten the password.
	d, err := desk.New(&kept.Store, desk.Options{})
	require.NoError(t, err)
	id, err := d.People.SaveAccount(people.Account{Name: "Keeper", Login: "keeper", Password: "four words in a row", Keeper: true})
	require.NoError(t, err)
	_, err = d.People.SaveAccount(people.Account{Name: "Helper", Login: "helper", Password: "four words in a row"})
	require.NoError(t, err)
	code, out, errs = shell("recover", "--data", data, "KEEPER")
	require.Zero(t, code, errs)
	fresh := regexp.MustCompile(`is (\S+)\n`).FindStringSubmatch(out)
	require.NotNil(t, fresh)
	_, err = d.People.SignIn("keeper", "four words in a row", "here")
	assert.Error(t, err, "the old one is gone")
	_, err = d.People.SignIn("keeper", fresh[1], "here")
	assert.NoError(t, err)
	_, ok, err := d.People.Returning(id, 0)
	require.NoError(t, err)
	assert.False(t, ok, "all sessions have ended")
	trail, err := d.People.Trail(store.TrailFilter{Person: "Mivlet", Most: 1})
	require.NoError(t, err)
	assert.Contains(t, trail[0].What, "Gave Keeper a new password on the machine itself")
	for _, login := range []string{"helper", "nobody"} {
		code, _, errs = shell("recover", "--data", data, login)
		assert.Equal(t, exitFailed, code)
		assert.Contains(t, errs, "No keeper signs in")
	}
	require.NoError(t, kept.Close())

	// What is wrong ends with 1 and is told.
	names, err := filepath.Glob(filepath.Join(back, "files", "??", "*"))
	require.NoError(t, err)
	require.NoError(t, os.Remove(names[0]))
	code, _, errs = shell("verify", "--data", back)
	assert.Equal(t, exitFailed, code)
	assert.Contains(t, errs, "it is missing")
	for _, wrong := range [][]string{{"backup"}, {"verify", "--data", data, "x"}, {"recover", "keeper"}, {"restore", "--data", back}} {
		code, _, _ = shell(wrong...)
		assert.Equal(t, exitUsage, code, wrong)
	}
	code, _, errs = shell("verify", "--data", filepath.Join(at, "nowhere"))
	assert.Equal(t, exitFailed, code)
	assert.Contains(t, errs, "no data folder")
}

func TestAmountsOfMemory(t *testing.T) {
	t.Parallel()
	for text, want := range map[string]int64{"2GB": 2_000_000_000, "800mb": 800_000_000, " 1.5 GB ": 1_500_000_000, "300000000": 300_000_000} {
		got, err := readBytes(text)
		require.NoError(t, err, text)
		assert.Equal(t, want, got)
	}
	for _, bad := range []string{"", "much", "1GB2", "-2GB", "5MB", "NaN", "1e30GB"} {
		_, err := readBytes(bad)
		assert.Error(t, err, bad)
	}
	assert.EqualValues(t, 100<<20, decodingShare(300<<20))
	assert.EqualValues(t, 1<<30, decodingShare(64<<30))
}
