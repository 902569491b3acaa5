package servertest

import (
	"crypto/sha1" //nolint:gosec // in this form the password file of a test server holds it
	"encoding/base64"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"testing"
	"time"

	"github.com/stretchr/testify/require"
)

// Login and Password are what the servers that [NewWebDAV] and [NewS3] start are signed in to with.
const (
	Login    = "mivlet"
	Password = "four words"
)

// NewWebDAV starts Apache's HTTP server with its own WebDAV (mod_dav_fs). It ends with the test; dir is
// where it keeps files.
func NewWebDAV(t testing.TB) (at, dir string) {
	t.Helper()
	dir = t.TempDir()
	own := t.TempDir()
	for _, d := range []string{filepath.Dir(own), own, dir} {
		require.NoError(t, os.Chmod(d, 0o777)) //nolint:gosec // its workers are another user's
	}
	sum := sha1.Sum([]byte(Password))                                                                                                                        //nolint:gosec // in this form the password file holds it
	require.NoError(t, os.WriteFile(filepath.Join(own, "users"), fmt.Appendf(nil, "%s:{SHA}%s\n", Login, base64.StdEncoding.EncodeToString(sum[:])), 0o644)) //nolint:gosec // its workers read it
	address := FreeAddress(t)
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
	Answers(t, "http://"+address+"/", 20*time.Second)
	return "http://" + address + "/site", dir
}
