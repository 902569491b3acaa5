//go:build unix

package servertest

import (
	"fmt"
	"net"
	"os"
	"os/exec"
	"os/user"
	"path/filepath"
	"strconv"
	"strings"
	"syscall"
	"testing"
	"time"

	"github.com/stretchr/testify/require"
)

// binaries is where Debian keeps the programs of PostgreSQL, by version.
const binaries = "/usr/lib/postgresql/*/bin"

// Postgres is a PostgreSQL server of its own.
type Postgres struct {
	URL string // of its database, which is empty
	t   testing.TB
	dir string
	bin string
	as  *syscall.SysProcAttr
	cmd *exec.Cmd
}

// NewPostgres starts a PostgreSQL server that ends with the test. It keeps what was acknowledged only as
// long as the machine runs.
func NewPostgres(t testing.TB) *Postgres {
	t.Helper()
	found, err := filepath.Glob(binaries)
	require.NoError(t, err)
	require.NotEmpty(t, found, "PostgreSQL is not installed")
	p := &Postgres{t: t, dir: t.TempDir(), bin: found[len(found)-1]}
	if os.Getuid() == 0 { // as root it refuses to run
		p.as = asNobody(t)
		require.NoError(t, os.Chown(p.dir, int(p.as.Credential.Uid), int(p.as.Credential.Gid)))
		for above := filepath.Dir(p.dir); above != filepath.Dir(above); above = filepath.Dir(above) {
			info, err := os.Stat(above)
			require.NoError(t, err)
			if info.Mode().Perm()&0o001 == 0 {
				require.NoError(t, os.Chmod(above, info.Mode().Perm()|0o011))
			}
		}
	}
	out, err := p.command("initdb", "--pgdata", filepath.Join(p.dir, "data"), "--username", Login, "--auth", "trust", "--encoding", "UTF8", "--no-locale", "--no-sync").CombinedOutput()
	require.NoError(t, err, "%s", out)
	address := FreeAddress(t)
	p.URL = fmt.Sprintf("postgres://%s@%s/postgres?sslmode=disable", Login, address)
	p.Start()
	t.Cleanup(p.Kill)
	return p
}

// asNobody is another account of this machine: that of the database, or one of nobody.
func asNobody(t testing.TB) *syscall.SysProcAttr {
	t.Helper()
	who, err := user.Lookup("postgres")
	if err != nil {
		who, err = user.Lookup("nobody")
	}
	require.NoError(t, err)
	uid, err := strconv.ParseUint(who.Uid, 10, 32)
	require.NoError(t, err)
	gid, err := strconv.ParseUint(who.Gid, 10, 32)
	require.NoError(t, err)
	return &syscall.SysProcAttr{Credential: &syscall.Credential{Uid: uint32(uid), Gid: uint32(gid)}}
}

func (p *Postgres) command(name string, args ...string) *exec.Cmd {
	cmd := exec.Command(filepath.Join(p.bin, name), args...)
	cmd.Dir, cmd.SysProcAttr = p.dir, p.as
	return cmd
}

// address is where it listens.
func (p *Postgres) address() string {
	_, rest, _ := strings.Cut(p.URL, "@")
	at, _, _ := strings.Cut(rest, "/")
	return at
}

// Start starts it, or starts it again, and waits until it listens.
func (p *Postgres) Start() {
	p.t.Helper()
	_, port, err := net.SplitHostPort(p.address())
	require.NoError(p.t, err)
	log, err := os.Create(filepath.Join(p.t.TempDir(), "postgres.log"))
	require.NoError(p.t, err)
	defer log.Close()
	p.cmd = p.command("postgres", "-D", filepath.Join(p.dir, "data"), "-p", port, "-c", "listen_addresses=127.0.0.1", "-c", "unix_socket_directories=", "-c", "fsync=off", "-c", "max_connections=300", "-c", "shared_buffers=64MB")
	p.cmd.Stdout, p.cmd.Stderr = log, log
	require.NoError(p.t, p.cmd.Start())
	require.Eventually(p.t, func() bool {
		return p.command("pg_isready", "-q", "-h", "127.0.0.1", "-p", port).Run() == nil
	}, time.Minute, 20*time.Millisecond, "%s", log.Name())
}

// Kill ends it at once, and all who are connected.
func (p *Postgres) Kill() {
	if p.cmd == nil {
		return
	}
	_ = p.cmd.Process.Signal(syscall.SIGQUIT) // "immediate shutdown" (PostgreSQL, 19.5)
	_ = p.cmd.Wait()
	p.cmd = nil
}
