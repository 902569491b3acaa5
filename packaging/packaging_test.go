// Package packaging has what Mivlet is released as.
package packaging

import (
	"debug/elf"
	"encoding/json"
	"io"
	"net/http"
	"os"
	"os/exec"
	"path/filepath"
	"runtime"
	"strings"
	"syscall"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/internal/servertest"
)

// released is what scripts/release makes for this machine, once.
func released(t *testing.T) string {
	t.Helper()
	for _, made := range []string{"../scripts/release", "nfpm.yaml", "Containerfile", "mivlet.service", "default", "postinst", "prerm"} { // so that Go knows what this stands on
		in, err := os.Open(made)
		require.NoError(t, err)
		_, err = io.Copy(io.Discard, in)
		require.NoError(t, err)
		in.Close()
	}
	dir := filepath.Join(t.TempDir(), "dist")
	cmd := exec.Command("../scripts/release", "0.9.1", "linux/"+runtime.GOARCH)
	cmd.Env = append(os.Environ(), "OUT="+dir)
	out, err := cmd.CombinedOutput()
	require.NoError(t, err, "%s", out)
	return dir
}

func run(t *testing.T, name string, args ...string) string {
	t.Helper()
	out, err := exec.Command(name, args...).CombinedOutput()
	require.NoError(t, err, "%s %v: %s", name, args, out)
	return string(out)
}

// What is released is one file that needs nothing of the machine, says which version it is, and is taken by
// Debian and by those who build images; checksums and the list of components tell what is in it.
func TestWhatIsReleased(t *testing.T) {
	if testing.Short() {
		t.Skip("it builds all of Mivlet")
	}
	t.Parallel()
	dir := released(t)
	program := filepath.Join(dir, "image-"+runtime.GOARCH, "mivlet")

	file, err := elf.Open(program)
	require.NoError(t, err)
	defer file.Close()
	libraries, _ := file.ImportedLibraries()
	assert.Empty(t, libraries, "it loads nothing of the machine")
	for _, p := range file.Progs {
		assert.NotEqual(t, elf.PT_INTERP, p.Type, "it is static")
	}
	assert.Contains(t, run(t, program, "--version"), "0.9.1")
	out, err := exec.Command(program, "demo").CombinedOutput()
	require.Error(t, err)
	assert.Contains(t, string(out), "comes without the demo's pictures")

	// Checksums as coreutils checks them.
	sums := exec.Command("sha256sum", "--check", "--strict", "SHA256SUMS")
	sums.Dir = dir
	text, err := sums.CombinedOutput()
	require.NoError(t, err, "%s", text)

	// Debian's own tools read the package; what it holds is where Debian has such things (Debian Policy 4.7, 9 and 10).
	deb := filepath.Join(dir, "mivlet_0.9.1_"+runtime.GOARCH+".deb")
	into := t.TempDir()
	run(t, "dpkg-deb", "--extract", deb, into)
	run(t, "dpkg-deb", "--control", deb, filepath.Join(into, "DEBIAN"))
	for _, at := range []string{"usr/bin/mivlet", "lib/systemd/system/mivlet.service", "etc/default/mivlet", "usr/share/doc/mivlet/copyright"} {
		assert.FileExists(t, filepath.Join(into, at))
	}
	unit, err := os.ReadFile(filepath.Join(into, "lib/systemd/system/mivlet.service"))
	require.NoError(t, err)
	assert.Contains(t, string(unit), "ExecStart=/usr/bin/mivlet serve")
	conf, err := os.ReadFile(filepath.Join(into, "DEBIAN/conffiles"))
	require.NoError(t, err)
	assert.Equal(t, "/etc/default/mivlet", strings.TrimSpace(string(conf)), "settings stay when it is brought up to date")
	for _, script := range []string{"postinst", "prerm"} {
		run(t, "sh", "-n", filepath.Join(into, "DEBIAN", script))
	}

	// Every module that the program was built of is in the list (CycloneDX 1.6).
	var list struct {
		BomFormat  string
		Components []struct{ Name string }
	}
	data, err := os.ReadFile(filepath.Join(dir, "mivlet_0.9.1.cdx.json"))
	require.NoError(t, err)
	require.NoError(t, json.Unmarshal(data, &list))
	assert.Equal(t, "CycloneDX", list.BomFormat)
	listed := map[string]bool{}
	for _, c := range list.Components {
		listed[c.Name] = true
	}
	for line := range strings.Lines(run(t, "go", "version", "-m", program)) {
		if fields := strings.Fields(line); len(fields) > 2 && fields[0] == "dep" {
			assert.True(t, listed[fields[1]], fields[1])
		}
	}

	// An image of it answers, as somebody who may do nothing on the machine.
	image(t, dir)
}

// image builds one with buildah, and runs what is in it as the image says.
func image(t *testing.T, dir string) {
	t.Helper()
	if os.Getuid() != 0 {
		t.Log("only root can look into an image here")
		return
	}
	store := []string{"--root", t.TempDir(), "--runroot", t.TempDir(), "--storage-driver", "vfs"}
	buildah := func(args ...string) string {
		t.Helper()
		return strings.TrimSpace(run(t, "buildah", append(store[:len(store):len(store)], args...)...))
	}
	buildah("build", "--isolation", "chroot", "-f", "Containerfile", "-t", "mivlet", filepath.Join(dir, "image-"+runtime.GOARCH))
	made := buildah("from", "--pull-never", "localhost/mivlet")
	root := buildah("mount", made)
	t.Cleanup(func() { buildah("rm", made) })
	var config struct {
		OCIv1 struct{ Config struct{ User string } }
	}
	require.NoError(t, json.Unmarshal([]byte(buildah("inspect", made)), &config))
	assert.Equal(t, "65532:65532", config.OCIv1.Config.User)
	at := servertest.FreeAddress(t)
	cmd := exec.Command("/mivlet", "serve")
	cmd.Dir = "/"
	cmd.SysProcAttr = &syscall.SysProcAttr{Chroot: root, Credential: &syscall.Credential{Uid: 65532, Gid: 65532}}
	cmd.Env = []string{"MIVLET_DATA=/data", "MIVLET_ADDR=" + at, "MIVLET_SITE_ADDR=127.0.0.1:0", "MIVLET_PREVIEWER_ADDR=127.0.0.1:0", "MIVLET_LOG=json"}
	require.NoError(t, cmd.Start())
	ended := make(chan error, 1)
	go func() { ended <- cmd.Wait() }()
	require.Eventually(t, func() bool {
		res, err := http.Get("http://" + at + "/readyz")
		if err != nil {
			return false
		}
		res.Body.Close()
		return res.StatusCode == http.StatusOK
	}, time.Minute, 20*time.Millisecond)
	require.NoError(t, cmd.Process.Signal(syscall.SIGTERM))
	require.NoError(t, <-ended, "it ends when it is asked to")
	assert.FileExists(t, filepath.Join(root, "data", "mivlet.db"))
}
