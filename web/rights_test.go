package web_test

import (
	"bytes"
	"fmt"
	"io"
	"net/http"
	"net/http/httptest"
	"net/url"
	"strings"
	"testing"
	"time"

	"github.com/go-chi/chi/v5"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/demo"
	"mivlet/desk"
	"mivlet/store"
	"mivlet/store/datafolder"
	"mivlet/web"
)

// open are the routes that answer whoever asks: the door, and what every screen is drawn
// with.
var openRoutes = []string{"/static/*", "/content.css", "/enlarge.js", "/sign-in", "/sign-in/demo", "/sign-in/code", "/sign-in/passkey", "/sign-in/passkey/question", "/sign-in/provider", "/sign-in/provider/back", "/sign-out", "/first", "/join"}

// bytesOf are the routes that give the bytes of a picture which is its section's own: as
// it arrived, as it lies on the stage, and what is made of it there.
var ownBytes = []string{"/previews/{id}", "/bench/{id}/stage", "/bench/{id}/tiles/{level}/{col}/{row}", "/bench/{id}/frames/{frame}", "/bench/{id}/plain", "/bench/{id}/trial", "/bench/{id}/veil/look",
	"/bench/{id}/lines", "/bench/{id}/faces", "/bench/{id}/telling", "/pictures/{id}/original", "/thumbs/{id}", "/looks/{id}", "/pictures/{id}", "/pictures/{id}/cuts/{hash}"}

// Every route there is refuses those who are not signed in, and every one that gives a
// picture's bytes refuses those of other sections where it has only arrived; nothing of
// it is in the answer.
func TestEveryRouteAsksWhoItIs(t *testing.T) {
	s, err := datafolder.Open(t.TempDir())
	require.NoError(t, err)
	t.Cleanup(func() { _ = s.Close() })
	_, err = demo.Fill(&s.Store, time.Now())
	require.NoError(t, err)
	require.NoError(t, s.SavePerson(&store.Person{Name: "Elsewhere", Login: "elsewhere", CreatedAt: time.Now(), Roles: []store.Role{{Section: "socials", Role: "publisher"}}}))
	elsewhere, err := s.PersonByLogin("elsewhere")
	require.NoError(t, err)
	arrived, err := s.PicturesOf(store.Arrivals, []string{"juniors"}, 1)
	require.NoError(t, err)
	h, d := interfaceTo(t, s, nil)
	t.Cleanup(d.Jobs.End)
	srv := httptest.NewServer(h)
	t.Cleanup(srv.Close)
	client := newClient(t)
	ask := func(method, at string) (*http.Response, []byte) {
		req, err := http.NewRequest(method, srv.URL+at, strings.NewReader(""))
		require.NoError(t, err)
		req.Header.Set("Content-Type", "application/x-www-form-urlencoded")
		res, err := client.Do(req)
		require.NoError(t, err)
		defer res.Body.Close()
		body, err := io.ReadAll(res.Body)
		require.NoError(t, err)
		return res, body
	}
	fill := strings.NewReplacer("{id}", fmt.Sprint(arrived[0].ID), "{hash}", strings.Repeat("a", 64), "{level}", "0", "{col}", "0", "{row}", "0", "{frame}", "0", "{section}", "juniors", "{reading}", "1", "{version}", "1", "*", "")
	type route struct{ method, pattern string }
	var all []route
	require.NoError(t, chi.Walk(h.(chi.Routes), func(method, pattern string, _ http.Handler, _ ...func(http.Handler) http.Handler) error {
		all = append(all, route{method, strings.TrimSuffix(pattern, "/")})
		return nil
	}))
	require.Greater(t, len(all), 80)
	open := map[string]bool{}
	for _, p := range openRoutes {
		open[p] = true
	}
	seen := map[string]bool{}
	for _, r := range all {
		seen[r.pattern] = true
		if open[strings.TrimSuffix(r.pattern, "/")] {
			continue
		}
		res, _ := ask(r.method, fill.Replace(r.pattern))
		if r.method == http.MethodGet {
			assert.Equal(t, http.StatusSeeOther, res.StatusCode, "%s %s leads to the door", r.method, r.pattern)
			assert.Contains(t, res.Header.Get("Location"), "/sign-in", r.pattern)
		} else {
			assert.Equal(t, http.StatusUnauthorized, res.StatusCode, "%s %s", r.method, r.pattern)
		}
	}
	res, err := client.PostForm(srv.URL+"/sign-in/demo", url.Values{"person": {fmt.Sprint(elsewhere.ID)}})
	require.NoError(t, err)
	res.Body.Close()
	for _, p := range ownBytes {
		require.True(t, seen[p], "there is no route %s any more", p)
		res, body := ask(http.MethodGet, fill.Replace(p))
		assert.Equal(t, http.StatusForbidden, res.StatusCode, p)
		for _, magic := range []string{"\xff\xd8\xff", "\x89PNG", "RIFF", "GIF8"} {
			assert.False(t, bytes.HasPrefix(body, []byte(magic)), "%s gives a picture", p)
		}
		assert.NotContains(t, string(body), arrived[0].OriginalName, p)
	}
}

// HEAD answers like GET, without the body (RFC 9110, 9.3.2).
func TestHeadAnswersLikeGet(t *testing.T) {
	srv := app(t)
	for _, at := range append([]string{"/thumbs/1", "/content.css", "/static/mark.svg", "/nowhere"}, screens[:6]...) {
		got, _ := get(t, srv.URL+at)
		req, err := http.NewRequest(http.MethodHead, srv.URL+at, nil)
		require.NoError(t, err)
		res, err := client.Do(req)
		require.NoError(t, err)
		res.Body.Close()
		assert.Equal(t, got.StatusCode, res.StatusCode, at)
		assert.Equal(t, got.Header.Get("Content-Type"), res.Header.Get("Content-Type"), at)
	}
}

// Where it is served over TLS, the cookie goes over nothing else and belongs to this very
// host (RFC 6265bis, 4.1.3.2, memory).
func TestTheCookieOverTLS(t *testing.T) {
	s, err := datafolder.Open(t.TempDir())
	require.NoError(t, err)
	defer s.Close()
	require.NoError(t, s.SavePerson(&store.Person{Name: "Ines", Login: "ines", Keeper: true, CreatedAt: time.Now()}))
	d, err := desk.New(&s.Store, desk.Options{Demo: true})
	require.NoError(t, err)
	for tls, name := range map[bool]string{true: "__Host-mivlet", false: "mivlet"} {
		w := httptest.NewRecorder()
		r := httptest.NewRequest(http.MethodPost, "http://127.0.0.1/sign-in/demo", strings.NewReader("person=1"))
		r.Header.Set("Content-Type", "application/x-www-form-urlencoded")
		web.Handler(d, web.Options{TLS: tls, ContentCSS: func() []byte { return nil }, Sessions: s.Sessions()}).ServeHTTP(w, r)
		cookies := w.Result().Cookies()
		require.NotEmpty(t, cookies)
		c := cookies[0]
		assert.Equal(t, name, c.Name)
		assert.Equal(t, tls, c.Secure)
		assert.True(t, c.HttpOnly)
		assert.Equal(t, "/", c.Path)
		assert.Empty(t, c.Domain)
	}
}
