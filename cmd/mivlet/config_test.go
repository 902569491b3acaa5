package main

import (
	"bytes"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"

	"github.com/spf13/cobra"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// settled are the settings that hold with some flags, an environment and a file.
func settled(t *testing.T, args []string, env map[string]string, file string) (*serving, map[string]string, error) {
	t.Helper()
	o := &serving{}
	cmd := &cobra.Command{}
	o.flags(cmd)
	if file != "" {
		at := filepath.Join(t.TempDir(), "mivlet.toml")
		require.NoError(t, os.WriteFile(at, []byte(file), 0o600))
		args = append(args, "--config", at)
	}
	require.NoError(t, cmd.ParseFlags(args))
	from, err := settle(cmd.Flags(), func(name string) (string, bool) { v, ok := env[name]; return v, ok })
	return o, from, err
}

// Flags hold before the environment, the environment before the file, the file before what is usual.
func TestSettingsComeFromThreePlaces(t *testing.T) {
	t.Parallel()
	file := "data = \"/file\"\naddr = \"127.0.0.1:1\"\nsite-addr = \"127.0.0.1:2\"\nhost = [\"a.example\", \"b.example\"]\nbehind-tls = true\n"
	env := map[string]string{"MIVLET_ADDR": "127.0.0.1:3", "MIVLET_DATA": "/env", "MIVLET_NONSENSE": "x"}
	o, from, err := settled(t, []string{"--data", "/flag"}, env, file)
	require.NoError(t, err)
	assert.Equal(t, []string{"/flag", "127.0.0.1:3", "127.0.0.1:2", ""}, []string{o.data, o.addr, o.siteAddr, o.previewerAddr})
	assert.Equal(t, []string{"a.example", "b.example"}, o.hosts)
	assert.True(t, o.behindTLS)
	assert.Equal(t, []string{"--data", "MIVLET_ADDR"}, []string{from["data"], from["addr"]})
	assert.Contains(t, from["site-addr"], "mivlet.toml")
	assert.Empty(t, from["previewer-addr"])

	at := filepath.Join(t.TempDir(), "other.toml")
	require.NoError(t, os.WriteFile(at, []byte("data = \"/there\""), 0o600))
	o, _, err = settled(t, nil, map[string]string{"MIVLET_CONFIG": at, "MIVLET_BEHIND_TLS": "true"}, "")
	require.NoError(t, err)
	assert.Equal(t, "/there", o.data)
	assert.True(t, o.behindTLS)
}

func TestSettingsThatCannotBe(t *testing.T) {
	t.Parallel()
	for name, c := range map[string]struct{ env, file, says string }{
		"a name that is none": {"", "adress = \"x\"", `invalid setting "adress"`},
		"no TOML":             {"", "data = ", "invalid settings in"},
		"a table":             {"", "[data]\nx = 1", "must be a text"},
		"a flag of its own":   {"", "config = \"x\"", `invalid setting "config"`},
		"neither yes nor no":  {"perhaps", "", `invalid behind-tls "perhaps" in MIVLET_BEHIND_TLS`},
	} {
		t.Run(name, func(t *testing.T) {
			t.Parallel()
			env := map[string]string{}
			if c.env != "" {
				env["MIVLET_BEHIND_TLS"] = c.env
			}
			_, _, err := settled(t, nil, env, c.file)
			assert.ErrorContains(t, err, c.says)
			var wrong usage
			assert.ErrorAs(t, err, &wrong)
		})
	}
}

// The command tells everything that is wrong at once, and starts and makes nothing.
func TestConfigCheck(t *testing.T) {
	t.Parallel()
	dir := t.TempDir()
	var out, bad bytes.Buffer
	require.Zero(t, run(t.Context(), []string{"config", "check", "--data", filepath.Join(dir, "new", "folder"), "--host", "mivlet.club.example"}, &out, &bad), bad.String())
	assert.Contains(t, out.String(), "--data")
	assert.Contains(t, out.String(), "Nothing is wrong")
	assert.NoDirExists(t, filepath.Join(dir, "new"))

	file := filepath.Join(dir, "file")
	require.NoError(t, os.WriteFile(file, []byte("x"), 0o600))
	out.Reset()
	require.Equal(t, exitUsage, run(t.Context(), []string{"config", "check", "--data", file, "--addr", "nowhere", "--site-addr", "127.0.0.1:7", "--previewer-addr", "127.0.0.1:7", "--cert", file, "--key", file,
		"--memory", "lots", "--backup-to", "https://s3.example", "--key-file", file, "--host", "https://mivlet.club.example"}, &out, &bad))
	for _, says := range []string{`invalid data "` + file, `invalid addr "nowhere"`, `invalid previewer-addr "127.0.0.1:7": site-addr has it`, `invalid cert`, `"lots" is no amount`, `invalid backup-to "https://s3.example"`, "invalid key in", `invalid host "https:`} {
		assert.Contains(t, bad.String(), says)
	}
	require.Equal(t, exitUsage, run(t.Context(), []string{"config", "check"}, &out, &bad))
	assert.Contains(t, bad.String(), "data is missing")
}

// The service for systemd is one that systemd itself takes, and shuts off all that it can judge.
func TestTheServiceForSystemd(t *testing.T) {
	t.Parallel()
	unit, err := os.ReadFile("../../packaging/mivlet.service")
	require.NoError(t, err)
	dir := t.TempDir()
	at := filepath.Join(dir, "mivlet.service")
	self, err := os.Executable()
	require.NoError(t, err)
	require.NoError(t, os.WriteFile(at, []byte(strings.ReplaceAll(string(unit), "/usr/local/bin/mivlet", self)), 0o600))
	out, err := exec.Command("systemd-analyze", "verify", "--man=no", at).CombinedOutput()
	require.NoError(t, err, string(out))
	for line := range strings.Lines(string(out)) {
		assert.NotContains(t, line, "mivlet.service", "what systemd says of it")
	}
	out, err = exec.Command("systemd-analyze", "security", "--offline=yes", "--threshold=20", at).CombinedOutput()
	require.NoError(t, err, string(out))

	// What it is told in the environment is what the program reads.
	assert.Contains(t, string(unit), inEnvironment("data")+"=/var/lib/mivlet")
	for _, name := range []string{"host", "addr"} {
		var o serving
		cmd := &cobra.Command{}
		o.flags(cmd)
		assert.NotNil(t, cmd.Flags().Lookup(name))
		assert.Contains(t, string(unit), inEnvironment(name))
	}
}
