package servertest

import (
	"crypto/ed25519"
	"crypto/rand"
	"encoding/pem"
	"fmt"
	"net"
	"os"
	"os/exec"
	"os/user"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"
	"golang.org/x/crypto/ssh"
)

// SSH is OpenSSH's server, started for whoever runs the tests.
type SSH struct {
	Host    string // 127.0.0.1:port
	Login   string
	HostKey string // as authorized_keys has it
	allowed string
}

// NewSSH starts a server that ends with the test. Nobody may sign in yet.
func NewSSH(t testing.TB) *SSH {
	t.Helper()
	own := t.TempDir()
	out, err := exec.Command("ssh-keygen", "-q", "-t", "ed25519", "-N", "", "-f", filepath.Join(own, "host")).CombinedOutput()
	require.NoError(t, err, "%s", out)
	s := &SSH{Host: FreeAddress(t), allowed: filepath.Join(own, "allowed")}
	_, port, err := net.SplitHostPort(s.Host)
	require.NoError(t, err)
	conf := fmt.Sprintf("Port %s\nListenAddress 127.0.0.1\nHostKey %[2]s/host\nAuthorizedKeysFile %[3]s\nPidFile none\nStrictModes no\nUsePAM no\nPasswordAuthentication no\nPermitRootLogin yes\nSubsystem sftp internal-sftp\n", port, own, s.allowed)
	require.NoError(t, os.WriteFile(filepath.Join(own, "conf"), []byte(conf), 0o600))
	if os.Getuid() == 0 {
		require.NoError(t, os.MkdirAll("/run/sshd", 0o755)) //nolint:gosec // as the server wants it
	}
	cmd := exec.Command("/usr/sbin/sshd", "-D", "-e", "-f", filepath.Join(own, "conf"))
	log := &strings.Builder{}
	cmd.Stderr = log
	require.NoError(t, cmd.Start())
	t.Cleanup(func() {
		_ = cmd.Process.Kill()
		_ = cmd.Wait()
		if t.Failed() {
			t.Log(log.String())
		}
	})
	require.Eventually(t, func() bool {
		c, err := net.Dial("tcp", s.Host)
		if err == nil {
			_ = c.Close()
		}
		return err == nil
	}, 20*time.Second, 10*time.Millisecond)
	who, err := user.Current()
	require.NoError(t, err)
	s.Login = who.Username
	hostKey, err := os.ReadFile(filepath.Join(own, "host.pub"))
	require.NoError(t, err)
	parsed, _, _, _, err := ssh.ParseAuthorizedKey(hostKey)
	require.NoError(t, err)
	s.HostKey = string(ssh.MarshalAuthorizedKey(parsed))
	return s
}

// Allow lets whoever has the private half of a key sign in.
func (s *SSH) Allow(t testing.TB, public string) {
	t.Helper()
	require.NoError(t, os.WriteFile(s.allowed, []byte(strings.TrimSpace(public)+"\n"), 0o600))
}

// Key makes a key that may sign in, and returns its private half.
func (s *SSH) Key(t testing.TB) string {
	t.Helper()
	public, private, err := ed25519.GenerateKey(rand.Reader)
	require.NoError(t, err)
	block, err := ssh.MarshalPrivateKey(private, "")
	require.NoError(t, err)
	key, err := ssh.NewPublicKey(public)
	require.NoError(t, err)
	s.Allow(t, string(ssh.MarshalAuthorizedKey(key)))
	return string(pem.EncodeToMemory(block))
}
