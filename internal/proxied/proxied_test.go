package proxied_test

import (
	"fmt"
	"net/http"
	"net/http/httptest"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/internal/proxied"
)

// What a proxy that is trusted says is taken over; what others say, also through it, is not.
func TestOnlyTrustedProxiesAreBelieved(t *testing.T) {
	t.Parallel()
	proxies, err := proxied.ParseProxies([]string{"10.0.0.2", "10.1.0.0/16", "2001:db8::2"})
	require.NoError(t, err)
	h := proxied.Believe(proxies, true, http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		_, _ = fmt.Fprint(w, r.RemoteAddr, " ", r.Host)
	}))
	for name, c := range map[string]struct {
		from   string
		header http.Header
		want   string
	}{
		"nobody in between":            {"192.0.2.7:5000", http.Header{}, "192.0.2.7:5000 a.example"},
		"a proxy":                      {"10.0.0.2:5000", http.Header{"X-Forwarded-For": {"192.0.2.7"}, "X-Forwarded-Host": {"b.example"}, "X-Forwarded-Proto": {"https"}}, "192.0.2.7:0 b.example"},
		"two of them":                  {"10.0.0.2:5000", http.Header{"X-Forwarded-For": {"192.0.2.7, 10.1.2.3"}}, "192.0.2.7:0 a.example"},
		"a proxy over IPv6":            {"[2001:db8::2]:5000", http.Header{"X-Forwarded-For": {"2001:db8::99"}}, "[2001:db8::99]:0 a.example"},
		"a proxy as IPv4 in IPv6":      {"[::ffff:10.0.0.2]:5000", http.Header{"X-Forwarded-For": {"192.0.2.7"}}, "192.0.2.7:0 a.example"},
		"a visitor who pretends":       {"192.0.2.7:5000", http.Header{"X-Forwarded-For": {"127.0.0.1"}, "X-Forwarded-Host": {"evil.example"}}, "192.0.2.7:5000 a.example"},
		"one who does through a proxy": {"10.0.0.2:5000", http.Header{"X-Forwarded-For": {"127.0.0.1, 192.0.2.7"}, "X-Forwarded-Host": {"evil.example, b.example"}}, "192.0.2.7:0 b.example"},
		"in two lines":                 {"10.0.0.2:5000", http.Header{"X-Forwarded-For": {"127.0.0.1", "192.0.2.7"}, "X-Forwarded-Host": {"evil.example", "b.example"}}, "192.0.2.7:0 b.example"},
		"a proxy that says nothing":    {"10.0.0.2:5000", http.Header{}, "10.0.0.2:5000 a.example"},
		"a proxy that says nonsense":   {"10.0.0.2:5000", http.Header{"X-Forwarded-For": {"nobody"}}, "10.0.0.2:5000 a.example"},
	} {
		r := httptest.NewRequest(http.MethodGet, "http://a.example/pages?x=1", nil)
		r.RemoteAddr, r.Header = c.from, c.header
		w := httptest.NewRecorder()
		h.ServeHTTP(w, r)
		assert.Equal(t, c.want, w.Body.String(), name)
	}
}

// Where cookies go over TLS only, who asked the proxy without is sent there.
func TestTheWayToTLS(t *testing.T) {
	t.Parallel()
	proxies, err := proxied.ParseProxies([]string{"10.0.0.2"})
	require.NoError(t, err)
	for over, status := range map[bool]int{true: http.StatusPermanentRedirect, false: http.StatusNoContent} {
		r := httptest.NewRequest(http.MethodPost, "http://inside:8417/pages?x=1", nil)
		r.RemoteAddr = "10.0.0.2:5000"
		r.Header.Set("X-Forwarded-Proto", "http")
		r.Header.Set("X-Forwarded-Host", "mivlet.club.example")
		w := httptest.NewRecorder()
		proxied.Believe(proxies, over, http.HandlerFunc(func(w http.ResponseWriter, _ *http.Request) { w.WriteHeader(http.StatusNoContent) })).ServeHTTP(w, r)
		assert.Equal(t, status, w.Code)
		if over {
			assert.Equal(t, "https://mivlet.club.example/pages?x=1", w.Header().Get("Location"))
		}
	}
}

func TestProxiesThatCannotBe(t *testing.T) {
	t.Parallel()
	for _, text := range []string{"", "proxy.example", "10.0.0.2:80", "10.0.0.0/33", "10.0.0"} {
		_, err := proxied.ParseProxies([]string{text})
		assert.ErrorContains(t, err, fmt.Sprintf("invalid proxy %q", text))
	}
}
