package servertest

import (
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
)

// Installed builds programs from the Go proxy, named with their versions, and returns the folder that they lie in. They are
// built quickly, and are not quick; what was built once stays in the user's cache.
func Installed(t testing.TB, programs ...string) string {
	t.Helper()
	cache, err := os.UserCacheDir()
	require.NoError(t, err)
	names := make([]string, len(programs))
	for i, program := range programs {
		names[i] = filepath.Base(program)
	}
	dir := filepath.Join(cache, "mivlet", "programs", strings.Join(names, "+"))
	if _, err := os.Stat(dir); err == nil {
		return dir
	}
	require.NoError(t, os.MkdirAll(filepath.Dir(dir), 0o700))
	part, err := os.MkdirTemp(filepath.Dir(dir), ".part-")
	require.NoError(t, err)
	defer os.RemoveAll(part)
	install := exec.Command("go", append([]string{"install", "-gcflags=all=-N -l"}, programs...)...)
	install.Dir = part
	install.Env = append(os.Environ(), "GOBIN="+part, "GOFLAGS=-trimpath", "CGO_ENABLED=0")
	out, err := install.CombinedOutput()
	require.NoError(t, err, "%s", out)
	if err := os.Rename(part, dir); err != nil { // another test was quicker
		require.DirExists(t, dir)
	}
	return dir
}
