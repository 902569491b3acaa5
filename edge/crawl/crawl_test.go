package crawl

import (
	"context"
	"errors"
	"fmt"
	"maps"
	"net/http"
	"net/http/httptest"
	"net/url"
	"slices"
	"strings"
	"sync"
	"testing"
	"testing/fstest"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/survey"
	"mivlet/demo/tenyears"
)

// The examples of RFC 9309, 5.1 and 5.2 (memory).
func TestRobotsAsTheStandardHasThem(t *testing.T) {
	t.Parallel()
	simple := "User-Agent: *\nDisallow: *.gif$\nDisallow: /example/\nAllow: /publications/\n\nUser-Agent: foobot\nDisallow:/\nAllow:/example/page.html\nAllow:/example/allowed.gif\n\nUser-Agent: barbot\nUser-Agent: bazbot\nDisallow: /example/page.html\n\nUser-Agent: quxbot\n\nEOF"
	longest := "User-Agent: foobot\nAllow: /example/page/\nDisallow: /example/page/disallowed.gif\n"
	for _, c := range []struct {
		text, name, path string
		want             bool
	}{
		{simple, "other", "/a.gif", false}, {simple, "other", "/a.gif?x", true}, {simple, "other", "/example/", false}, {simple, "other", "/publications/x", true}, {simple, "other", "/", true},
		{simple, "foobot", "/", false}, {simple, "FooBot", "/example/page.html", true}, {simple, "foobot", "/example/allowed.gif", true}, {simple, "foobot", "/a", false},
		{simple, "barbot", "/example/page.html", false}, {simple, "bazbot", "/example/page.html", false}, {simple, "bazbot", "/a.gif", true},
		{simple, "quxbot", "/example/", true},
		{longest, "foobot", "/example/page/disallowed.gif", false}, {longest, "foobot", "/example/page/a", true}, {longest, "other", "/example/page/disallowed.gif", true},
		{"User-agent: *\nAllow: /p\nDisallow: /p", "x", "/p", true}, // as long: what allows counts
		{"User-agent: *\nDisallow: /", "x", "/robots.txt", true},
		{"User-agent: a\nDisallow: /a\nUser-agent: *\nDisallow: /\nUser-agent: a\nDisallow: /b", "a", "/b", false}, // groups of one name are one
		{"User-agent: a\nDisallow: /a\nUser-agent: *\nDisallow: /\nUser-agent: a\nDisallow: /b", "a", "/c", true},
		{"Disallow: /", "x", "/a", true}, {"", "x", "/a", true}, {"User-agent: *\nDisallow: # nothing", "x", "/a", true},
	} {
		assert.Equal(t, c.want, readRobots([]byte(c.text), c.name).allows(c.path), "%s, %s: %q", c.name, c.path, c.text)
	}
	assert.Equal(t, 3*time.Second, readRobots([]byte("User-agent: *\nCrawl-delay: 3"), "x").wait)
	assert.Equal(t, longestWait, readRobots([]byte("User-agent: *\nCrawl-delay: 3000"), "x").wait)
}

// fetched fetches a site into memory.
func fetched(t *testing.T, address string, o Options) (fstest.MapFS, Result, error) {
	t.Helper()
	start, err := url.Parse(address)
	require.NoError(t, err)
	files := fstest.MapFS{}
	o.Agent = "Mivlet/test"
	if o.Keep == nil {
		o.Keep = func(at string, data []byte) error {
			files[at] = &fstest.MapFile{Data: data}
			return nil
		}
	}
	result, err := Site(t.Context(), start, o)
	return files, result, err
}

// A site that is fetched is the site that is served: each page shows the same pictures, found and as wide, and
// the same is wrong with them, but for what no page leads to.
func TestWhatIsFetchedIsWhatIsServed(t *testing.T) {
	t.Parallel()
	served := fstest.MapFS{}
	_, err := tenyears.Make(18, 60, func(at string, data []byte) error {
		served[at] = &fstest.MapFile{Data: data}
		return nil
	})
	require.NoError(t, err)
	site := httptest.NewServer(http.FileServerFS(served))
	t.Cleanup(site.Close)
	files, result, err := fetched(t, site.URL, Options{})
	require.NoError(t, err)
	assert.Equal(t, 19, result.Pages)
	assert.Equal(t, len(files), result.Files)
	kinds := func(files fstest.MapFS) (all []string) {
		found, err := survey.Read(context.Background(), files, survey.Options{})
		require.NoError(t, err)
		for _, f := range found.Findings() {
			if f.Code != survey.Unused && (f.Code == survey.BrokenPicture || f.Cost.Pages > 0) {
				all = append(all, fmt.Sprint(f.Code, f.Page, f.Picture, f.Address, f.Values))
			}
		}
		slices.Sort(all)
		return all
	}
	// The same content under two names is told of the second one; which is first depends on what is there.
	without := func(all []string) []string {
		return slices.DeleteFunc(all, func(s string) bool { return strings.HasPrefix(s, string(survey.SameContent)) })
	}
	assert.Equal(t, without(kinds(served)), without(kinds(files)))
	for at, file := range files {
		assert.Equal(t, served[at].Data, file.Data, at)
	}
	assert.NotEmpty(t, result.Left, "what is broken there is told")
}

// asked is a site that notes what it was asked for, and when.
type asked struct {
	mu    sync.Mutex
	paths []string
	times []time.Time
}

func (a *asked) serve(t *testing.T, answers map[string]string) string {
	site := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		a.mu.Lock()
		a.paths, a.times = append(a.paths, r.URL.RequestURI()), append(a.times, time.Now())
		a.mu.Unlock()
		text, there := answers[r.URL.Path]
		switch {
		case !there:
			http.NotFound(w, r)
		case strings.HasPrefix(text, "to "):
			http.Redirect(w, r, text[3:], http.StatusMovedPermanently)
		case strings.HasSuffix(r.URL.Path, ".css"):
			w.Header().Set("Content-Type", "text/css")
			fmt.Fprint(w, text)
		case strings.HasSuffix(r.URL.Path, ".txt"), strings.HasSuffix(r.URL.Path, ".png"):
			w.Header().Set("Content-Type", "text/plain")
			fmt.Fprint(w, text)
		default:
			w.Header().Set("Content-Type", "text/html")
			fmt.Fprint(w, text)
		}
	}))
	t.Cleanup(site.Close)
	return site.URL
}

// Every address is asked for once, whatever leads to it; none that robots.txt asks not to, none of another host,
// and none that is no file.
func TestOnlyWhatIsTheSitesOwn(t *testing.T) {
	t.Parallel()
	var a, other asked
	elsewhere := other.serve(t, map[string]string{"/": "other"})
	at := a.serve(t, map[string]string{
		"/robots.txt": "User-agent: *\nDisallow: /private/",
		"/": `<base href="/sub/"><a href="p">p</a><a href="/private/x">x</a><a href="` + elsewhere + `/">e</a><a href="/list?id=3">l</a><a href="mailto:a@b.example">m</a><a href="/away">a</a><a href="/near">n</a><a href="folder/">f</a>
			<link rel=stylesheet href="/s.css?v=3"><img src="a%20b.png" srcset="/b.png 2x"><a href="p#x">again</a><a href="javascript:void(0)">j</a>`,
		"/sub/p": `<a href="/">home</a>`, "/sub/folder/": "folder", "/s.css": `@import "t.css"; p { background: url(c.png) }`, "/t.css": "", "/c.png": "c", "/b.png": "b", "/sub/a b.png": "ab",
		"/away": "to " + elsewhere + "/", "/near": "to /sub/p", "/private/x": "secret",
	})
	files, result, err := fetched(t, at, Options{})
	require.NoError(t, err)
	assert.Equal(t, []string{"b.png", "c.png", "index.html", "near.html", "s.css", "sub/a b.png", "sub/folder/index.html", "sub/p.html", "t.css"}, slices.Sorted(maps.Keys(files)))
	assert.Empty(t, other.paths)
	seen := map[string]int{}
	for _, p := range a.paths {
		seen[p]++
	}
	assert.Zero(t, seen["/private/x"])
	assert.Equal(t, "/robots.txt", a.paths[0])
	for p, n := range seen {
		assert.True(t, n == 1 || p == "/sub/p", "%s was asked for %d times", p, n) // once by itself, once after /near
	}
	why := map[string]string{}
	for _, l := range result.Left {
		why[strings.TrimPrefix(l.Address, at)] = l.Why
	}
	assert.Len(t, why, 3)
	assert.Equal(t, ErrForbidden.Error(), why["/private/x"])
	assert.Contains(t, why["/list?id=3"], "question mark")
	assert.Contains(t, why["/away"], "301")
}

// It rests between two requests, as long as it is told or as the site asks for; and it ends at its limits.
func TestItRestsAndEnds(t *testing.T) {
	t.Parallel()
	pages := map[string]string{"/robots.txt": "User-agent: *\nCrawl-delay: 0.05"}
	for i := range 9 {
		pages[fmt.Sprintf("/p%d", i)] = fmt.Sprintf(`<a href="/p%d">next</a>`, i+1)
	}
	var a asked
	at := a.serve(t, pages)
	_, result, err := fetched(t, at+"/p0", Options{Pages: 4})
	require.NoError(t, err)
	assert.Equal(t, 4, result.Pages)
	assert.Contains(t, result.Left[0].Why, "more than 4 pages")
	for i := 1; i < len(a.times); i++ {
		assert.GreaterOrEqual(t, a.times[i].Sub(a.times[i-1]), 45*time.Millisecond)
	}
	_, result, err = fetched(t, at+"/p0", Options{Bytes: 40})
	require.NoError(t, err)
	assert.LessOrEqual(t, result.Bytes, int64(40))
	assert.NotEmpty(t, result.Left)

	full := errors.New("the disk is full")
	_, _, err = fetched(t, at+"/p0", Options{Keep: func(string, []byte) error { return full }})
	require.ErrorIs(t, err, full)
	_, _, err = fetched(t, at+"/none", Options{})
	require.ErrorContains(t, err, "404")
	_, _, err = fetched(t, "ftp://x.example/", Options{})
	require.ErrorContains(t, err, "https://")
	closed := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, _ *http.Request) { w.WriteHeader(http.StatusServiceUnavailable) }))
	t.Cleanup(closed.Close)
	_, _, err = fetched(t, closed.URL, Options{})
	require.ErrorContains(t, err, "robots.txt cannot be read now")
	ctx, stop := context.WithCancel(t.Context())
	start, _ := url.Parse(at + "/p0")
	_, err = Site(ctx, start, Options{Rest: time.Hour, Keep: func(string, []byte) error { return nil }, Progress: func(int, int) {}, Agent: func() string { stop(); return "x" }()})
	require.ErrorIs(t, err, context.Canceled)
}

func FuzzRobots(f *testing.F) {
	f.Add("User-agent: *\nDisallow: /*.gif$", "/a.gif")
	f.Fuzz(func(t *testing.T, text, path string) {
		if !readRobots([]byte(text), "x").allows("/robots.txt") {
			t.Fatal("robots.txt itself may always be fetched")
		}
		readRobots([]byte(text), "x").allows(path)
	})
}

// An address that ends with a slash is a part of a site: pages beside it stay out, what its pages show comes.
func TestAPartOfASite(t *testing.T) {
	t.Parallel()
	files := fstest.MapFS{
		"index.html":           {Data: []byte(`<a href="club/">Club</a><a href="school.html">School</a>`)},
		"school.html":          {Data: []byte("School")},
		"club/index.html":      {Data: []byte(`<link rel=stylesheet href="/all.css"><a href="camp.html">Camp</a><a href="/school.html">School</a><a href="/clubs">Clubs</a><img src="/pictures/a.jpg">`)},
		"club/camp.html":       {Data: []byte(`<a href="../index.html">Home</a>`)},
		"clubs/index.html":     {Data: []byte("Other clubs")},
		"all.css":              {Data: []byte("p { color: red }")},
		"pictures/a.jpg":       {Data: []byte("no real picture")},
		"pictures/b.jpg":       {Data: []byte("nor this")},
		"club/below/index.htm": {Data: []byte("nobody leads here")},
	}
	srv := httptest.NewServer(http.FileServer(http.FS(files)))
	t.Cleanup(srv.Close)
	for address, want := range map[string][]string{
		srv.URL + "/club/":          {"all.css", "club/camp.html", "club/index.html", "pictures/a.jpg"},
		srv.URL + "/club/camp.html": {"all.css", "club/camp.html", "club/index.html", "clubs.html", "index.html", "pictures/a.jpg", "school.html"},
		srv.URL + "/":               {"all.css", "club/camp.html", "club/index.html", "clubs.html", "index.html", "pictures/a.jpg", "school.html"},
	} {
		got, _, err := fetched(t, address, Options{})
		require.NoError(t, err)
		all := slices.Sorted(maps.Keys(got))
		all = slices.DeleteFunc(all, func(at string) bool { return at == "robots.txt" })
		assert.Equal(t, want, all, address)
	}
}
