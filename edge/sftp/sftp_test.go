package sftp_test

import (
	"context"
	"crypto/ed25519"
	"crypto/rand"
	"encoding/pem"
	"errors"
	"fmt"
	"net"
	"os"
	"os/exec"
	"os/user"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"golang.org/x/crypto/ssh"

	"mivlet/desk/destinations"
	"mivlet/edge/placetest"
	"mivlet/edge/sftp"
)

// server starts OpenSSH's server for whoever runs the tests.
func server(t *testing.T) (s sftp.Server, dir string) {
	t.Helper()
	dir = t.TempDir()
	own := t.TempDir()
	out, err := exec.Command("ssh-keygen", "-q", "-t", "ed25519", "-N", "", "-f", filepath.Join(own, "host")).CombinedOutput()
	require.NoError(t, err, "%s", out)
	public, private, err := ed25519.GenerateKey(rand.Reader)
	require.NoError(t, err)
	block, err := ssh.MarshalPrivateKey(private, "")
	require.NoError(t, err)
	key, err := ssh.NewPublicKey(public)
	require.NoError(t, err)
	require.NoError(t, os.WriteFile(filepath.Join(own, "allowed"), ssh.MarshalAuthorizedKey(key), 0o600))
	l, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	at := l.Addr().String()
	_, port, err := net.SplitHostPort(at)
	require.NoError(t, err)
	require.NoError(t, l.Close())
	conf := fmt.Sprintf("Port %s\nListenAddress 127.0.0.1\nHostKey %[2]s/host\nAuthorizedKeysFile %[2]s/allowed\nPidFile none\nStrictModes no\nUsePAM no\nPasswordAuthentication no\nPermitRootLogin yes\nSubsystem sftp internal-sftp\n", port, own)
	require.NoError(t, os.WriteFile(filepath.Join(own, "conf"), []byte(conf), 0o600))
	if os.Getuid() == 0 {
		require.NoError(t, os.MkdirAll("/run/sshd", 0o755))
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
		c, err := net.Dial("tcp", at)
		if err == nil {
			_ = c.Close()
		}
		return err == nil
	}, 20*time.Second, 10*time.Millisecond)
	who, err := user.Current()
	require.NoError(t, err)
	hostKey, err := os.ReadFile(filepath.Join(own, "host.pub"))
	require.NoError(t, err)
	parsed, _, _, _, err := ssh.ParseAuthorizedKey(hostKey)
	require.NoError(t, err)
	return sftp.Server{Host: at, Login: who.Username, Folder: dir, Key: string(pem.EncodeToMemory(block)), HostKey: string(ssh.MarshalAuthorizedKey(parsed))}, dir
}

// All that a place must do, with OpenSSH's own server.
func TestAFolderOverSSH(t *testing.T) {
	t.Parallel()
	s, dir := server(t)
	placetest.Run(t, dir, func(ctx context.Context) (destinations.Place, error) { return sftp.Open(ctx, s) })
	assert.NoDirExists(t, filepath.Join(dir, "a", "b"), "empty folders go")
}

// Nothing secret is sent to a machine whose key is not the one that it is known by, and its
// fingerprint is as ssh-keygen shows it.
func TestOtherMachinesAreNotTrusted(t *testing.T) {
	t.Parallel()
	s, _ := server(t)
	ctx := context.Background()
	is := s.HostKey
	s.HostKey, s.Password = "", "four words in a row"
	_, err := sftp.Open(ctx, s)
	var unknown *sftp.UnknownHostError
	require.True(t, errors.As(err, &unknown), "%v", err)
	assert.Equal(t, is, unknown.Key)
	file := filepath.Join(t.TempDir(), "key.pub")
	require.NoError(t, os.WriteFile(file, []byte(is), 0o600))
	out, err := exec.Command("ssh-keygen", "-l", "-f", file).Output()
	require.NoError(t, err)
	assert.Contains(t, string(out), unknown.Fingerprint)

	public, _, err := ed25519.GenerateKey(rand.Reader)
	require.NoError(t, err)
	other, err := ssh.NewPublicKey(public)
	require.NoError(t, err)
	s.HostKey = string(ssh.MarshalAuthorizedKey(other))
	_, err = sftp.Open(ctx, s)
	var changed *sftp.OtherHostError
	require.True(t, errors.As(err, &changed), "%v", err)
	assert.ErrorContains(t, err, unknown.Fingerprint)

	s.HostKey = is
	_, err = sftp.Open(ctx, s) // its server takes no passwords
	require.ErrorContains(t, err, "unable to authenticate")
	s.Password, s.Key = "", "no key"
	_, err = sftp.Open(ctx, s)
	assert.ErrorContains(t, err, "its key cannot be read")
}

func TestAFolderThatIsNotThere(t *testing.T) {
	t.Parallel()
	s, dir := server(t)
	s.Folder = filepath.Join(dir, "nothing")
	_, err := sftp.Open(context.Background(), s)
	require.ErrorContains(t, err, "there is no folder")
	s.Host = "127.0.0.1:1"
	_, err = sftp.Open(context.Background(), s)
	assert.ErrorContains(t, err, "refused")
}
