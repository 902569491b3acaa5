package main

import (
	"context"
	"crypto/ecdsa"
	"crypto/elliptic"
	"crypto/rand"
	"crypto/tls"
	"crypto/x509"
	"crypto/x509/pkix"
	"encoding/json"
	"encoding/pem"
	"fmt"
	"io"
	"math/big"
	"net"
	"net/http"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/internal/servertest"
)

// A small authority for tests, made by those who run a large one, and a server of names beside it (MPL-2.0).
const pebble = "github.com/letsencrypt/pebble/v2/cmd/"

// authority makes certificates for whoever proves that a name leads to them at a port (RFC 8555, RFC 8737).
func authority(t *testing.T, port string) (directory, roots, management string) {
	t.Helper()
	dir := t.TempDir()
	programs := servertest.Installed(t, pebble+"pebble@v2.10.3", pebble+"pebble-challtestsrv@v2.10.3")
	listens, manages, names, tells := servertest.FreeAddress(t), servertest.FreeAddress(t), servertest.FreeAddress(t), servertest.FreeAddress(t)

	key, err := ecdsa.GenerateKey(elliptic.P256(), rand.Reader)
	require.NoError(t, err)
	own := &x509.Certificate{SerialNumber: big.NewInt(1), Subject: pkix.Name{CommonName: "authority"}, NotBefore: time.Now().Add(-time.Hour), NotAfter: time.Now().Add(time.Hour),
		IPAddresses: []net.IP{net.IPv4(127, 0, 0, 1)}, IsCA: true, BasicConstraintsValid: true, KeyUsage: x509.KeyUsageCertSign | x509.KeyUsageDigitalSignature}
	der, err := x509.CreateCertificate(rand.Reader, own, own, &key.PublicKey, key)
	require.NoError(t, err)
	private, err := x509.MarshalECPrivateKey(key)
	require.NoError(t, err)
	roots = filepath.Join(dir, "own.pem")
	require.NoError(t, os.WriteFile(roots, pem.EncodeToMemory(&pem.Block{Type: "CERTIFICATE", Bytes: der}), 0o600))
	require.NoError(t, os.WriteFile(filepath.Join(dir, "own.key"), pem.EncodeToMemory(&pem.Block{Type: "EC PRIVATE KEY", Bytes: private}), 0o600))
	settings, err := json.Marshal(map[string]any{"pebble": map[string]any{"listenAddress": listens, "managementListenAddress": manages,
		"certificate": roots, "privateKey": filepath.Join(dir, "own.key"), "tlsPort": json.Number(port), "httpPort": 1,
		"profiles": map[string]any{"default": map[string]any{"description": "usual", "validityPeriod": 7776000}}}})
	require.NoError(t, err)
	config := filepath.Join(dir, "config.json")
	require.NoError(t, os.WriteFile(config, settings, 0o600))
	for _, line := range [][]string{
		{"pebble-challtestsrv", "-dnsserver", names, "-defaultIPv4", "127.0.0.1", "-defaultIPv6", "", "-http01", "", "-https01", "", "-tlsalpn01", "", "-doh", "", "-management", tells},
		{"pebble", "-config", config, "-dnsserver", names},
	} {
		log := &told{}
		cmd := exec.Command(filepath.Join(programs, line[0]), line[1:]...)
		cmd.Stdout, cmd.Stderr = log, log
		cmd.Env = append(os.Environ(), "PEBBLE_VA_NOSLEEP=1", "PEBBLE_WFE_NONCEREJECT=0")
		require.NoError(t, cmd.Start())
		t.Cleanup(func() {
			_ = cmd.Process.Kill()
			_ = cmd.Wait()
			if t.Failed() {
				t.Log(log.String())
			}
		})
	}
	require.Eventually(t, func() bool {
		c, err := net.Dial("tcp", listens)
		if err == nil {
			c.Close()
		}
		return err == nil
	}, time.Minute, 20*time.Millisecond)
	return "https://" + listens + "/dir", roots, "https://" + manages
}

// A certificate is made at the first visit, by an authority that looks whether the name leads here, and kept
// for the next start. Names that nobody has set get none.
func TestCertificatesAreMadeAndKept(t *testing.T) {
	t.Parallel()
	addr := servertest.FreeAddress(t)
	_, port, _ := net.SplitHostPort(addr)
	directory, roots, management := authority(t, port)
	data := t.TempDir()

	// The authority's own root signs what it makes.
	trust := x509.NewCertPool()
	own, err := os.ReadFile(roots)
	require.NoError(t, err)
	trust.AppendCertsFromPEM(own)
	through := &http.Transport{TLSClientConfig: &tls.Config{RootCAs: trust, MinVersion: tls.VersionTLS12}}
	res, err := (&http.Client{Transport: through}).Get(management + "/roots/0")
	require.NoError(t, err)
	root, err := io.ReadAll(res.Body)
	require.NoError(t, err)
	res.Body.Close()
	signed := x509.NewCertPool()
	require.True(t, signed.AppendCertsFromPEM(root))
	visit := func(name string) (*x509.Certificate, error) {
		c, err := tls.Dial("tcp", addr, &tls.Config{ServerName: name, RootCAs: signed, MinVersion: tls.VersionTLS12})
		if err != nil {
			return nil, err
		}
		defer c.Close()
		return c.ConnectionState().PeerCertificates[0], nil
	}

	var first *x509.Certificate
	for range 2 {
		var out told
		ctx, stop := context.WithCancel(context.Background())
		ended := make(chan error, 1)
		o := serving{data: data, addr: addr, siteAddr: "127.0.0.1:0", previewerAddr: "127.0.0.1:0", hosts: []string{"mivlet.club.example"}, certified: certified{on: true, mail: "ines@club.example", directory: directory, roots: roots}}
		go func() { ended <- o.run(ctx, &out, false) }()
		require.Eventually(t, func() bool { return strings.Contains(out.String(), "Ctrl-C ends it.") }, time.Minute, 20*time.Millisecond)
		assert.Contains(t, out.String(), fmt.Sprintf("https://mivlet.club.example:%s/first?code=", port))
		made, err := visit("mivlet.club.example")
		require.NoError(t, err)
		assert.Equal(t, []string{"mivlet.club.example"}, made.DNSNames)
		if first == nil {
			first = made
		}
		assert.Equal(t, first.SerialNumber, made.SerialNumber, "it is kept")
		_, err = visit("another.example")
		assert.Error(t, err)
		stop()
		require.NoError(t, <-ended)
	}
	info, err := os.Stat(filepath.Join(data, certificatesIn))
	require.NoError(t, err)
	assert.Zero(t, info.Mode().Perm()&0o077, "nobody else reads the keys")
}

func TestCertificatesThatCannotBe(t *testing.T) {
	t.Parallel()
	none := filepath.Join(t.TempDir(), "none.pem")
	require.NoError(t, os.WriteFile(none, []byte("no certificate"), 0o600))
	for says, o := range map[string]*serving{
		"needs --host":             {certified: certified{on: true}},
		"goes with neither --cert": {certified: certified{on: true}, hosts: []string{"a.example"}, cert: "a", key: "b"},
		"nor --behind-tls":         {certified: certified{on: true}, hosts: []string{"a.example"}, behindTLS: true},
		`invalid host "10.0.0.1"`:  {certified: certified{on: true}, hosts: []string{"10.0.0.1"}},
		`invalid host "mivlet"`:    {certified: certified{on: true}, hosts: []string{"mivlet"}},
		"no certificate in it":     {certified: certified{on: true, roots: none}, hosts: []string{"a.example"}},
		"no such file":             {certified: certified{on: true, roots: none + "x"}, hosts: []string{"a.example"}},
		"go together":              {cert: "a"},
	} {
		assert.ErrorContains(t, o.checkTLS(), says)
	}
}
