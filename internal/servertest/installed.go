package servertest

import (
	"os"
	"os/exec"
	"testing"

	"github.com/stretchr/testify/require"
)

// Installed builds programs from the Go proxy, named with their versions, and returns the folder that they
// lie in. They are built quickly, and are not quick.
func Installed(t testing.TB, programs ...string) string {
	t.Helper()
	dir := t.TempDir()
	install := exec.Command("go", append([]string{"install", "-gcflags=all=-N -l"}, programs...)...)
	install.Dir = dir
	install.Env = append(os.Environ(), "GOBIN="+dir, "GOFLAGS=-trimpath", "CGO_ENABLED=0")
	out, err := install.CombinedOutput()
	require.NoError(t, err, "%s", out)
	return dir
}
