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

// S3 is object storage over a folder.
type S3 struct {
	At  string // its address
	Dir string // where it keeps what lies in the bucket
	t   testing.TB
	bin string
	own string // where it keeps everything
	cmd *exec.Cmd
	log *strings.Builder
}

// NewS3 starts object storage that ends with the test; dir is where it keeps what lies in the bucket.
func NewS3(t testing.TB) (at, dir string) {
	t.Helper()
	s := NewStorage(t)
	return s.At, s.Dir
}

// NewStorage starts object storage that ends with the test, and can be ended and started again before.
func NewStorage(t testing.TB) *S3 {
	t.Helper()
	s := &S3{t: t, bin: Installed(t, gateway), own: t.TempDir(), log: &strings.Builder{}}
	s.Dir = filepath.Join(s.own, "files", StoredIn)
	for _, d := range []string{s.Dir, filepath.Join(s.own, "beside")} {
		require.NoError(t, os.MkdirAll(d, 0o750))
	}
	s.At = "http://" + FreeAddress(t)
	s.Start()
	t.Cleanup(func() {
		s.Kill()
		if t.Failed() {
			t.Log(s.log.String())
		}
	})
	return s
}

// Start starts it, or starts it again, and waits until it answers.
func (s *S3) Start() {
	s.t.Helper()
	s.cmd = exec.Command(filepath.Join(s.bin, "versitygw"), "--port", strings.TrimPrefix(s.At, "http://"), "--region", Region, "--access", Login, "--secret", Password, "--quiet", "posix", "--sidecar", filepath.Join(s.own, "beside"), filepath.Join(s.own, "files"))
	s.cmd.Stdout, s.cmd.Stderr = s.log, s.log
	require.NoError(s.t, s.cmd.Start())
	Answers(s.t, s.At, time.Minute)
}

// Kill ends it at once.
func (s *S3) Kill() {
	if s.cmd == nil {
		return
	}
	_ = s.cmd.Process.Kill()
	_ = s.cmd.Wait()
	s.cmd = nil
}
