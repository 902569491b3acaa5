package e2e

import (
	"io"
	"log"
	"net/http"
	"net/http/httptest"
	"net/http/httputil"
	"net/url"
	"strings"
	"sync"
	"testing"

	"github.com/go-rod/rod/lib/proto"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// belowAPath is a Mivlet at /clubs/mivlet of a host whose other paths are somebody else's. It tells what that
// one was asked for.
func belowAPath(t *testing.T) (h house, elsewhere func() []string) {
	t.Helper()
	t.Parallel()
	data := t.TempDir()
	copySeed(t, data)
	h = running(t, "demo", data, false, "--path", "/clubs/mivlet/")
	require.True(t, strings.HasSuffix(h.app, "/clubs/mivlet"), h.app)
	inside, err := url.Parse(strings.TrimSuffix(h.app, "/clubs/mivlet"))
	require.NoError(t, err)
	var mu sync.Mutex
	var asked []string
	passes := httputil.NewSingleHostReverseProxy(inside)
	passes.ErrorLog = log.New(io.Discard, "", 0) // a browser that goes on asks for less
	front := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if strings.HasPrefix(r.URL.Path, "/clubs/mivlet/") {
			passes.ServeHTTP(w, r)
			return
		}
		mu.Lock()
		defer mu.Unlock()
		asked = append(asked, r.URL.Path)
		http.Error(w, "The club's own site has no such page.", http.StatusNotFound)
	}))
	t.Cleanup(front.Close)
	h.app = front.URL + "/clubs/mivlet"
	h.signIn(t, "/sign-in/demo", url.Values{"person": {"1"}})
	h.hosts(t)
	return h, func() []string {
		mu.Lock()
		defer mu.Unlock()
		return asked
	}
}

// On a host that is shared, nothing that Mivlet shows, leads to or asks for lies outside of its path: on no
// screen, in no script, in no answer.
func TestBelowAPathOfASharedHost(t *testing.T) {
	h, elsewhere := belowAPath(t)
	show := leafing(t, browser(t), 1280, 800)
	for _, at := range screens {
		p := show(h.app + at)
		calm(t, p)
		outside := p.MustEval(`() => [...document.querySelectorAll('[href], [src], [srcset], [action], [formaction], [hx-get], [hx-post], [data-image]')].flatMap((e) =>
			['href', 'src', 'srcset', 'action', 'formaction', 'hx-get', 'hx-post', 'data-image'].filter((a) => e.getAttribute(a)?.startsWith('/') && !e.getAttribute(a).startsWith('/clubs/mivlet/') && !e.closest('.words, .caption')).map((a) => e.tagName + ' ' + a + '=' + e.getAttribute(a)))`).Arr()
		assert.Empty(t, outside, at)
		assert.NotContains(t, p.MustElement("h1, main").MustText(), "There is nothing at this address", at)
	}

	p := show(h.app + "/")
	assert.Equal(t, h.app+"/arrivals", p.MustInfo().URL, "redirects lead below the path")
	press(t, p, 'g')
	press(t, p, 'p')
	waitFor(t, p, `location.pathname === '/clubs/mivlet/pages'`)

	// A file is dropped on a page, which scripts send and draw anew; what they ask for later comes, too.
	p = show(h.app + "/pages/4")
	calm(t, p)
	drop(t, p, `.gap[data-gap="1"]`, freshPhoto(t, "IMG_2088.JPG", "IMG_9301"))
	waitFor(t, p, `document.querySelector('#placing') && location.pathname === '/clubs/mivlet/pages/4'`)
	calm(t, p)
	waitFor(t, p, `[...document.querySelectorAll('main img')].every((i) => i.complete && i.naturalWidth > 0)`)
	p = show(h.app + "/bench/8")
	calm(t, p)
	waitText(t, p, "#zoom-told", "all of it")
	press(t, p, '2') // its own pixels come in tiles
	waitFor(t, p, `document.querySelectorAll('#tiles image').length > 2 && document.getElementById('tiles').dataset.waiting === '0'`)

	// Who has no session is led to the door below the path, and back to where they were.
	require.NoError(t, proto.NetworkClearBrowserCookies{}.Call(p))
	p.MustNavigate(h.app + "/shelves?view=rows").MustWaitLoad()
	assert.Equal(t, "/clubs/mivlet/sign-in", p.MustEval(`() => location.pathname`).Str())
	hit(t, p, `form[action$="/sign-in/demo"] button`)
	waitFor(t, p, `location.pathname === '/clubs/mivlet/shelves' && location.search === '?view=rows'`)
	var kept []string
	for _, c := range p.MustCookies(h.app) {
		kept = append(kept, c.Name)
	}
	assert.Contains(t, kept, "mivlet.clubs.mivlet", "another house on the same host keeps its own sessions")
	assert.NotContains(t, kept, "mivlet")

	var odd []string
	for _, at := range elsewhere() {
		if at != "/favicon.ico" { // which browsers ask of a host by themselves
			odd = append(odd, at)
		}
	}
	assert.Empty(t, odd, "nothing is asked of the host's other paths")
}
