package site_test

import (
	"net/url"
	"strings"
	"testing"
	"time"

	"github.com/PuerkitoBio/goquery"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/site"
)

func base(t *testing.T, at string) *url.URL {
	t.Helper()
	u, err := site.ParseBase(at)
	require.NoError(t, err)
	return u
}

// Whatever page a link stands on, a browser that resolves it (RFC 3986, 5.2, as net/url does) comes
// to the address of the file, whether links are relative or not.
func TestLinksLeadToTheirFiles(t *testing.T) {
	t.Parallel()
	files := []string{"index.html", "juniors/index.html", "juniors/autumn/index.html", "juniors/autumn trip/index.html", "touring/a/b/index.html",
		"site-0123456789abcdef.css", "juniors/boat-640-0123456789abcdef.jpg", "juniors/100%25-ünï-0123456789abcdef.pdf", "spots/top-on-4.html", "404.html"}
	for _, at := range []string{"https://club.example", "https://club.example/paddle", "http://localhost:8080/a/b"} {
		for _, relative := range []bool{false, true} {
			l := site.Links{Base: base(t, at), Relative: relative}
			for _, here := range files {
				for _, to := range files {
					page := `<!doctype html><a href="/x#part">`
					out, err := site.Rewrite([]byte(page), "/here", here, l, func(r site.Ref) (string, bool) {
						assert.Equal(t, site.Ref{Path: "/x"}, r)
						return to, true
					})
					require.NoError(t, err)
					doc, err := goquery.NewDocumentFromReader(strings.NewReader(string(out)))
					require.NoError(t, err)
					link := doc.Find("a").AttrOr("href", "")
					stands, err := url.Parse(l.Of(here))
					require.NoError(t, err)
					got, err := stands.Parse(link)
					require.NoError(t, err)
					assert.Equal(t, "part", got.Fragment)
					got.Fragment = ""
					assert.Equal(t, l.Of(to), got.String(), "%s on %s (relative %v)", to, here, relative)
					assert.Equal(t, relative, !strings.HasPrefix(link, "/"))
				}
			}
		}
	}
}

const sample = `<!DOCTYPE html>
<html lang="en"><head>
<link rel="stylesheet" href="/site.css">
<link rel="canonical" href="http://127.0.0.1:5000/touring/lake">
<meta property="og:url" content="http://127.0.0.1:5000/touring/lake">
<meta property="og:image" content="http://127.0.0.1:5000/touring/lake-link.jpg?v=aa">
<meta name="description" content="http://127.0.0.1:5000/ is only words here">
<script type="application/ld+json">[{"url":"http://127.0.0.1:5000/touring/lake","name":"Ends </script","image":{"url":"http://127.0.0.1:5000/touring/lake-link.jpg?v=aa"}}]</script>
<script src="/enlarge.js" defer></script></head>
<body><header class="site"><a href="/">Club &amp; lake</a></header>
<main class="content"><p>5 &lt; 6, <a href="https://elsewhere.example/x?a=1&amp;b=2">elsewhere</a>, <a href="mailto:club@example.org">write</a>, <a href="#down">down</a>, <a href="../juniors">up</a></p>
<picture><source type="image/webp" srcset="/touring/lake-360.webp?v=bb 360w, /touring/lake-720.webp?v=cc 720w"><img src="/touring/lake-360.jpg?v=dd" srcset="/touring/lake-360.jpg?v=dd 360w" alt="A lake"></picture>
<iframe src="/spots/top?page=4" title="Notices"></iframe></main>
<footer class="site">A practice site: <a href="/visits">visits</a></footer>
</body></html>`

// All that leads to the same site is asked for and leads to its file; all else stays as it is, byte
// for byte (HTML Living Standard: attributes that hold addresses; The Open Graph protocol; RFC 3986).
func TestAPageIsRewritten(t *testing.T) {
	t.Parallel()
	page := strings.Replace(sample, "Ends </script", `Ends \u003c/script`, 1)
	var refs []site.Ref
	out, err := site.Rewrite([]byte(page), "/touring/lake", "touring/lake/index.html", site.Links{Base: base(t, "https://club.example/paddle/")}, func(r site.Ref) (string, bool) {
		refs = append(refs, r)
		switch {
		case r.Path == "/juniors":
			return "juniors/index.html", true
		case r.Path == "/" || r.Path == "/touring/lake":
			return site.PageFile(r.Path), true
		case r.Path == "/spots/top":
			return site.FrameFile(r.Path, 4), true
		case r.Path == "/enlarge.js":
			return "", false
		}
		return site.MarkedFile(r.Path, "mark"), true
	})
	require.NoError(t, err)
	want := strings.NewReplacer(
		`href="/site.css"`, `href="/paddle/site-mark.css"`,
		`"http://127.0.0.1:5000/touring/lake">`, `"https://club.example/paddle/touring/lake/">`,
		`content="http://127.0.0.1:5000/touring/lake-link.jpg?v=aa"`, `content="https://club.example/paddle/touring/lake-link-mark.jpg"`,
		`[{"url":"http://127.0.0.1:5000/touring/lake","name":"Ends \u003c/script","image":{"url":"http://127.0.0.1:5000/touring/lake-link.jpg?v=aa"}}]`,
		`[{"image":{"url":"https://club.example/paddle/touring/lake-link-mark.jpg"},"name":"Ends \u003c/script","url":"https://club.example/paddle/touring/lake/"}]`,
		`<a href="/">`, `<a href="/paddle/">`,
		`href="../juniors"`, `href="/paddle/juniors/"`,
		`/touring/lake-360.webp?v=bb`, `/paddle/touring/lake-360-mark.webp`, `/touring/lake-720.webp?v=cc`, `/paddle/touring/lake-720-mark.webp`,
		`/touring/lake-360.jpg?v=dd`, `/paddle/touring/lake-360-mark.jpg`,
		`src="/spots/top?page=4"`, `src="/paddle/spots/top-on-4.html"`,
		"<footer class=\"site\">A practice site: <a href=\"/visits\">visits</a></footer>", "",
	).Replace(page)
	assert.Equal(t, want, string(out))
	var shown []string
	for _, r := range refs {
		if r.Shown {
			shown = append(shown, r.Path)
		}
	}
	assert.Equal(t, []string{"/site.css", "/touring/lake-link.jpg", "/enlarge.js", "/touring/lake-360.webp", "/touring/lake-720.webp", "/touring/lake-360.jpg", "/touring/lake-360.jpg", "/spots/top"}, shown)
}

func TestAddressesOfDestinations(t *testing.T) {
	t.Parallel()
	for at, wrong := range map[string]string{"club.example": "it begins with https://", "ftp://club.example": "it begins with", "https://": "no host", "https://club.example/?a": "belongs",
		"https://me@club.example": "belongs", "https://club.example/#a": "belongs", "https://a b": "invalid address"} {
		_, err := site.ParseBase(at)
		assert.ErrorContains(t, err, wrong, at)
	}
	assert.Equal(t, "https://club.example/paddle", base(t, " https://club.example/paddle/ ").String())
}

func TestNamesOfFiles(t *testing.T) {
	t.Parallel()
	assert.Equal(t, "index.html", site.PageFile("/"))
	assert.Equal(t, "a/b/index.html", site.PageFile("/a/b"))
	assert.Equal(t, "index.html", site.PageFile("/../.."))
	assert.Equal(t, "a/x-0123.jpg", site.MarkedFile("/a/x.jpg", "0123"))
	assert.Equal(t, "a/x-0123.jpg", site.MarkedFile("/a/x-0123.jpg", "0123"), "a name that carries it already")
	assert.Equal(t, "x-0123.jpg", site.MarkedFile("/../../x.jpg", "0123"))
	for _, bad := range []string{"", "/etc/passwd", "../x", "a/../../x", "a//b", "./a", "a\\b", "c:x", "a\x00", strings.Repeat("a", 201), strings.Repeat("a/", 600) + "b"} {
		assert.False(t, site.Safe(bad), bad)
	}
	for _, good := range []string{"index.html", "a/b/x-0123.jpg", ".htaccess", "_redirects"} {
		assert.True(t, site.Safe(good), good)
	}
}

func TestWhatIsToBeDone(t *testing.T) {
	t.Parallel()
	now := time.Date(2026, 11, 2, 12, 0, 0, 0, time.UTC)
	page := func(path, sum string) site.File { return site.File{Path: path, Sum: sum, Bytes: 10, Kind: site.Page} }
	wanted := []site.File{page("index.html", "2"), page("a/index.html", "2"), page("a/new/index.html", "1"), page("a/old/index.html", "2"), page("a/same/index.html", "1"),
		{Path: ".htaccess", Sum: "2", Bytes: 5, Kind: site.Server}, {Path: "s/top-on-1.html", Sum: "2", Kind: site.Frame}, {Path: "x.jpg", Sum: "1", Bytes: 100}, {Path: "b.css", Sum: "1"}}
	sent := []site.Sent{{Path: "index.html", Sum: "1"}, {Path: "a/index.html", Sum: "1"}, {Path: "a/old/index.html", Sum: "1"}, {Path: "a/same/index.html", Sum: "1"},
		{Path: "gone.html", Sum: "1", AtOnce: true}, {Path: "old.css", Sum: "1", Unused: now.Add(-2 * time.Hour)}, {Path: "older.css", Sum: "1", Unused: now.Add(-3 * time.Hour)}, {Path: "oldest.css", Sum: "1"}}
	paths := func(p site.Plan) (send, remove, waiting []string) {
		for _, f := range p.Send {
			send = append(send, f.Path)
		}
		for _, f := range p.Remove {
			remove = append(remove, f.Path)
		}
		for _, f := range p.Waiting {
			waiting = append(waiting, f.Path)
		}
		return send, remove, waiting
	}
	p := site.Compare(wanted, sent, now, 3*time.Hour)
	send, remove, waiting := paths(p)
	assert.Equal(t, []string{"b.css", "x.jpg", "s/top-on-1.html", "a/new/index.html", "a/old/index.html", "a/index.html", "index.html", ".htaccess"}, send)
	assert.Equal(t, []string{"gone.html", "older.css"}, remove)
	assert.Equal(t, []string{"old.css", "oldest.css"}, waiting)
	assert.Len(t, p.Same, 1)
	assert.Equal(t, int64(145), p.Bytes())
	assert.False(t, p.Idle())
	_, remove, waiting = paths(site.Compare(wanted, sent, now, 0))
	assert.Len(t, remove, 4)
	assert.Empty(t, waiting)
	var there []site.Sent
	for _, f := range wanted {
		there = append(there, site.Sent{Path: f.Path, Sum: f.Sum})
	}
	assert.True(t, site.Compare(wanted, there, now, 0).Idle())
}

// The forms in which servers are told, by their manuals: mod_alias and core of Apache HTTP Server 2.4,
// ngx_http_core_module and ngx_http_rewrite_module of nginx. What a server makes of them, a test with
// a real one says.
func TestServersAreTold(t *testing.T) {
	t.Parallel()
	l := site.Links{Base: base(t, "https://club.example/paddle")}
	c := site.Changes{Moved: map[string]string{"/a/old.trip": "/a/new", "/b": "/"}, Gone: []string{"/a/gone", "/a/gone"}}
	told := func(form site.Form, file string) string {
		all := site.Tell(form, c, l)
		require.Len(t, all, 1)
		return string(all[file])
	}
	apache := told(site.ApacheForm, ".htaccess")
	assert.Contains(t, apache, "ErrorDocument 404 /paddle/404.html\n")
	assert.Contains(t, apache, "RedirectMatch 301 \"^/paddle/a/old\\.trip/?$\" \"/paddle/a/new/\"\n")
	assert.Contains(t, apache, "RedirectMatch 301 \"^/paddle/b/?$\" \"/paddle/\"\n")
	assert.Equal(t, 1, strings.Count(apache, "RedirectMatch 410 \"^/paddle/a/gone/?$\"\n"))
	nginx := told(site.NginxForm, "redirects.conf")
	assert.Contains(t, nginx, "location = \"/paddle/a/old.trip\" { return 301 \"/paddle/a/new/\"; }\n")
	assert.Contains(t, nginx, "location = \"/paddle/a/gone/\" { return 410; }\n")
	redirects := told(site.RedirectsForm, "_redirects")
	assert.Contains(t, redirects, "/paddle/a/old.trip /paddle/a/new/ 301\n")
	assert.Contains(t, redirects, "/paddle/a/gone /paddle/404.html 410\n")
	pages := site.Tell(site.PagesForm, c, l)
	require.Len(t, pages, 2)
	doc, err := goquery.NewDocumentFromReader(strings.NewReader(string(pages["a/old.trip/index.html"])))
	require.NoError(t, err)
	assert.Equal(t, "0; url=https://club.example/paddle/a/new/", doc.Find("meta[http-equiv=refresh]").AttrOr("content", ""))
	assert.Empty(t, site.Tell(site.NoForm, c, l))
	// What stands in an address never ends what it is written into.
	evil := site.Changes{Moved: map[string]string{"/a\"; } server { listen 81; } #": "/b\" x\n"}, Gone: []string{"/$host\n}"}}
	for _, form := range site.Forms {
		for _, text := range site.Tell(form, evil, l) {
			assert.NotContains(t, string(text), "listen")
			assert.NotContains(t, string(text), "host\n")
		}
	}
}
