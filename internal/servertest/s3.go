package servertest

import (
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"
)

// gateway is object storage over a folder, from the Go proxy (Apache-2.0).
const gateway = "github.com/versity/versitygw/cmd/versitygw@v1.8.0"

// StoredIn is the bucket that [NewS3] makes.
const StoredIn = "paddle"

// Region is where that storage says that it is.
const Region = "north-9"

// NewS3 starts object storage that ends with the test; dir is where it keeps what lies in the bucket.
func NewS3(t testing.TB) (at, dir string) {
	t.Helper()
	own := Installed(t, gateway)
	dir = filepath.Join(own, "files", StoredIn)
	beside := filepath.Join(own, "beside")
	for _, d := range []string{dir, beside} {
		require.NoError(t, os.MkdirAll(d, 0o750))
	}
	address := FreeAddress(t)
	cmd := exec.Command(filepath.Join(own, "versitygw"), "--port", address, "--region", Region, "--access", Login, "--secret", Password, "--quiet", "posix", "--sidecar", beside, filepath.Join(own, "files"))
	log := &strings.Builder{}
	cmd.Stdout, cmd.Stderr = log, log
	require.NoError(t, cmd.Start())
	t.Cleanup(func() {
		_ = cmd.Process.Kill()
		_ = cmd.Wait()
		if t.Failed() {
			t.Log(log.String())
		}
	})
	at = "http://" + address
	Answers(t, at, time.Minute)
	return at, dir
}
