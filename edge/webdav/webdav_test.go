package webdav_test

import (
	"context"
	"crypto/sha1" //nolint:gosec // in this form the password file of a test server holds it
	"encoding/base64"
	"fmt"
	"net"
	"net/http"
	"os"
	"os/exec"
	"path/filepath"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/desk/destinations"
	"mivlet/edge/placetest"
	"mivlet/edge/webdav"
)

// server starts Apache's HTTP server with its own WebDAV (mod_dav_fs).
func server(t *testing.T) (at, dir string) {
	t.Helper()
	dir = t.TempDir()
	own := t.TempDir()
	for _, d := range []string{filepath.Dir(own), own, dir} {
		require.NoError(t, os.Chmod(d, 0o777)) //nolint:gosec // its workers are another user's
	}
	sum := sha1.Sum([]byte("four words"))                                                                                                                 //nolint:gosec // in this form the password file holds it
	require.NoError(t, os.WriteFile(filepath.Join(own, "users"), fmt.Appendf(nil, "mivlet:{SHA}%s\n", base64.StdEncoding.EncodeToString(sum[:])), 0o644)) //nolint:gosec // its workers read it
	l, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	address := l.Addr().String()
	require.NoError(t, l.Close())
	conf := "ServerName localhost\nListen " + address + "\nServerRoot " + own + "\nPidFile pid\nErrorLog error.log\nMutex file:" + own + "\nDefaultRuntimeDir " + own + "\n"
	for _, m := range []string{"mpm_event", "authn_core", "authn_file", "authz_core", "authz_user", "auth_basic", "dav", "dav_fs"} {
		conf += fmt.Sprintf("LoadModule %s_module /usr/lib/apache2/modules/mod_%[1]s.so\n", m)
	}
	if os.Getuid() == 0 {
		conf += "User nobody\nGroup nogroup\n"
	}
	conf += fmt.Sprintf("DavLockDB %s/locks\nAlias /site %[2]s\n<Directory %[2]s>\nDav On\nAllowOverride None\nAuthType Basic\nAuthName site\nAuthUserFile %[1]s/users\nRequire valid-user\n</Directory>\n", own, dir)
	conf = "LoadModule alias_module /usr/lib/apache2/modules/mod_alias.so\n" + conf
	require.NoError(t, os.WriteFile(filepath.Join(own, "conf"), []byte(conf), 0o600))
	cmd := exec.Command("/usr/sbin/apache2", "-X", "-f", filepath.Join(own, "conf"))
	require.NoError(t, cmd.Start())
	t.Cleanup(func() {
		_ = cmd.Process.Kill()
		_ = cmd.Wait()
		if t.Failed() {
			log, _ := os.ReadFile(filepath.Join(own, "error.log"))
			t.Log(string(log))
		}
	})
	require.Eventually(t, func() bool {
		res, err := http.Get("http://" + address + "/")
		if err == nil {
			_ = res.Body.Close()
		}
		return err == nil
	}, 20*time.Second, 20*time.Millisecond)
	return "http://" + address + "/site", dir
}

// All that a place must do, with Apache's own WebDAV.
func TestAFolderOverWebDAV(t *testing.T) {
	t.Parallel()
	at, dir := server(t)
	placetest.Run(t, dir, func(ctx context.Context) (destinations.Place, error) {
		return webdav.Open(ctx, at, "mivlet", "four words")
	})
	_, err := webdav.Open(context.Background(), at, "mivlet", "other words")
	require.ErrorContains(t, err, "401")
	_, err = webdav.Open(context.Background(), at+"/nothing", "mivlet", "four words")
	require.ErrorIs(t, err, os.ErrNotExist)
}

// Passwords do not go where others can read them.
func TestPasswordsAreSentWithTLSOnly(t *testing.T) {
	t.Parallel()
	for at, says := range map[string]string{"http://dav.example/site": "use https://", "ftp://dav.example": "begins with https://", "dav.example": "begins with https://"} {
		_, err := webdav.Open(context.Background(), at, "a", "b")
		assert.ErrorContains(t, err, says, at)
	}
}
