package e2e

import (
	"context"
	"crypto/ecdsa"
	"crypto/elliptic"
	"crypto/rand"
	"crypto/tls"
	"crypto/x509"
	"encoding/pem"
	"fmt"
	"math/big"
	"net"
	"net/http"
	"net/http/cookiejar"
	"net/url"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/PuerkitoBio/goquery"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/internal/servertest"
)

// inFront is nginx with a certificate of its own before the program, as a school has it. It asks under
// another name than browsers ask it, and tells which.
func inFront(t *testing.T, app string) (secure, plain string) {
	t.Helper()
	dir := t.TempDir()
	key, err := ecdsa.GenerateKey(elliptic.P256(), rand.Reader)
	require.NoError(t, err)
	own := &x509.Certificate{SerialNumber: big.NewInt(1), NotBefore: time.Now().Add(-time.Hour), NotAfter: time.Now().Add(time.Hour), DNSNames: []string{"club.localhost"}}
	der, err := x509.CreateCertificate(rand.Reader, own, own, &key.PublicKey, key)
	require.NoError(t, err)
	private, err := x509.MarshalECPrivateKey(key)
	require.NoError(t, err)
	require.NoError(t, os.WriteFile(dir+"/own.pem", pem.EncodeToMemory(&pem.Block{Type: "CERTIFICATE", Bytes: der}), 0o600))
	require.NoError(t, os.WriteFile(dir+"/own.key", pem.EncodeToMemory(&pem.Block{Type: "EC PRIVATE KEY", Bytes: private}), 0o600))
	secure, plain = servertest.FreeAddress(t), servertest.FreeAddress(t)
	user := ""
	if os.Getuid() == 0 {
		user = "user root;"
	}
	const passes = `location / { proxy_pass %s; proxy_set_header Host inside.localhost; proxy_set_header X-Forwarded-Host $http_host;
proxy_set_header X-Forwarded-For $proxy_add_x_forwarded_for; proxy_set_header X-Forwarded-Proto $scheme; }`
	conf := filepath.Join(dir, "nginx.conf")
	require.NoError(t, os.WriteFile(conf, fmt.Appendf(nil, `%[1]s daemon off; worker_processes 1; pid %[2]s/pid; error_log %[2]s/error.log;
events {}
http { access_log off; client_body_temp_path %[2]s/b; proxy_temp_path %[2]s/p; fastcgi_temp_path %[2]s/f; uwsgi_temp_path %[2]s/u; scgi_temp_path %[2]s/s;
server { listen %[3]s ssl; ssl_certificate own.pem; ssl_certificate_key own.key; %[5]s }
server { listen %[4]s; %[5]s } }`, user, dir, secure, plain, fmt.Sprintf(passes, app)), 0o600))
	cmd := exec.Command("/usr/sbin/nginx", "-p", dir, "-c", conf, "-e", dir+"/error.log")
	require.NoError(t, cmd.Start())
	t.Cleanup(func() {
		_ = cmd.Process.Signal(os.Interrupt)
		_ = cmd.Wait()
	})
	servertest.Answers(t, "http://"+plain+"/healthz", patience)
	return secure, plain
}

// from is somebody who asks from an address of this machine.
func from(t *testing.T, address string) *http.Client {
	t.Helper()
	jar, err := cookiejar.New(nil)
	require.NoError(t, err)
	dial := &net.Dialer{LocalAddr: &net.TCPAddr{IP: net.ParseIP(address)}}
	here := func(ctx context.Context, network, to string) (net.Conn, error) { // every name is this machine
		_, port, err := net.SplitHostPort(to)
		if err != nil {
			return nil, err
		}
		return dial.DialContext(ctx, network, net.JoinHostPort("127.0.0.1", port))
	}
	return &http.Client{Jar: jar, CheckRedirect: func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse },
		Transport: &http.Transport{DialContext: here, TLSClientConfig: &tls.Config{InsecureSkipVerify: true}}} //nolint:gosec // a certificate of the test's own
}

// Behind a proxy that is trusted, links lead to where browsers asked, cookies go over TLS alone, and who
// guesses passwords is slowed down by the address that they come from, whatever they say of it.
func TestBehindAProxy(t *testing.T) {
	t.Parallel()
	data := t.TempDir()
	copySeed(t, data)
	h := running(t, "demo", data, false, "--proxy", "127.0.0.1", "--behind-tls", "--host", "club.localhost")
	secure, plain := inFront(t, h.app)
	_, port, err := net.SplitHostPort(secure)
	require.NoError(t, err)
	at := "https://club.localhost:" + port

	keeper := from(t, "127.0.0.2")
	res, err := keeper.PostForm(at+"/sign-in/demo", url.Values{"person": {"1"}})
	require.NoError(t, err)
	res.Body.Close()
	require.Equal(t, http.StatusSeeOther, res.StatusCode)
	require.Len(t, res.Cookies(), 1)
	assert.True(t, strings.HasPrefix(res.Cookies()[0].Name, "__Host-") && res.Cookies()[0].Secure, "%v", res.Cookies())
	res, err = keeper.PostForm(at+"/people/2/invite", nil)
	require.NoError(t, err)
	doc, err := goquery.NewDocumentFromReader(res.Body)
	require.NoError(t, err)
	res.Body.Close()
	assert.Contains(t, doc.Text()+doc.Find("input").AttrOr("value", ""), at+"/join?code=")

	// Who asks the proxy without TLS is sent to where there is.
	res, err = from(t, "127.0.0.2").Get("http://" + plain + "/pages")
	require.NoError(t, err)
	res.Body.Close()
	assert.Equal(t, http.StatusPermanentRedirect, res.StatusCode)
	assert.Equal(t, "https://"+plain+"/pages", res.Header.Get("Location"))

	guess := func(c *http.Client, n int, pretends string) string {
		req, err := http.NewRequest(http.MethodPost, at+"/sign-in", strings.NewReader(url.Values{"login": {fmt.Sprintf("login%d", n)}, "password": {"a wrong password"}}.Encode()))
		require.NoError(t, err)
		req.Header.Set("Content-Type", "application/x-www-form-urlencoded")
		if pretends != "" {
			req.Header.Set("X-Forwarded-For", pretends)
			req.Header.Set("X-Forwarded-Host", "evil.example")
		}
		res, err := c.Do(req)
		require.NoError(t, err)
		defer res.Body.Close()
		doc, err := goquery.NewDocumentFromReader(res.Body)
		require.NoError(t, err)
		return doc.Find(".finding").Text()
	}
	guesser, n := from(t, "127.0.0.3"), 0
	for says := ""; !strings.Contains(says, "Too many attempts"); n++ {
		require.Less(t, n, 60, "it is never slowed down: %s", says)
		says = guess(guesser, n, fmt.Sprintf("127.9.9.%d", n))
	}
	assert.Contains(t, guess(from(t, "127.0.0.4"), 99, ""), "is wrong", "others are not")

	// Whoever asks past the proxy is not believed.
	req, err := http.NewRequest(http.MethodGet, h.app+"/sign-in", nil)
	require.NoError(t, err)
	req.Host = "127.0.0.1"
	req.Header.Set("X-Forwarded-Host", "evil.example")
	res, err = from(t, "127.0.0.5").Do(req)
	require.NoError(t, err)
	res.Body.Close()
	assert.Equal(t, http.StatusOK, res.StatusCode)
}
