package sftp_test

import (
	"context"
	"crypto/ed25519"
	"crypto/rand"
	"errors"
	"os"
	"os/exec"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"golang.org/x/crypto/ssh"

	"mivlet/desk/destinations"
	"mivlet/edge/placetest"
	"mivlet/edge/sftp"
	"mivlet/internal/servertest"
)

// server is OpenSSH's, with a key that may sign in.
func server(t *testing.T) (s sftp.Server, dir string) {
	t.Helper()
	dir = t.TempDir()
	ssh := servertest.NewSSH(t)
	return sftp.Server{Host: ssh.Host, Login: ssh.Login, Folder: dir, Key: ssh.Key(t), HostKey: ssh.HostKey}, dir
}

// All that a place must do, with OpenSSH's own server.
func TestAFolderOverSSH(t *testing.T) {
	t.Parallel()
	s, dir := server(t)
	open := func(ctx context.Context) (destinations.Place, error) { return sftp.Open(ctx, s) }
	placetest.Run(t, dir, open)
	assert.NoDirExists(t, filepath.Join(dir, "a", "b"), "empty folders go")
	placetest.Swept(t, dir, open)
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
