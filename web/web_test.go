package web_test

import (
	"bytes"
	"fmt"
	"image"
	"image/png"
	"io"
	"net/http"
	"net/http/cookiejar"
	"net/http/httptest"
	"net/url"
	"os"
	"strings"
	"testing"
	"time"

	"github.com/PuerkitoBio/goquery"
	"github.com/alexedwards/scs/v2"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/demo"
	"mivlet/desk"
	"mivlet/desk/access"
	"mivlet/desk/desktest"
	"mivlet/desk/district"
	"mivlet/desk/publish"
	"mivlet/practice"
	"mivlet/store/datafolder"
	"mivlet/web"
)

// app is the interface on the demo, without a browser.
func app(t *testing.T) *httptest.Server {
	t.Helper()
	s, err := datafolder.Open(t.TempDir())
	require.NoError(t, err)
	t.Cleanup(func() { _ = s.Close() })
	_, err = demo.Fill(&s.Store, time.Now())
	require.NoError(t, err)
	h, d := interfaceTo(t, s, nil)
	t.Cleanup(d.Jobs.End)
	srv := httptest.NewServer(h)
	t.Cleanup(srv.Close)
	client = newClient(t)
	signInAs(t, srv.URL, 1) // the keeper
	return srv
}

// interfaceTo is the interface to a house, and the desk behind it.
func interfaceTo(t *testing.T, s *datafolder.Folder, sessions scs.Store) (http.Handler, *desk.Desk) {
	t.Helper()
	d, err := desk.New(&s.Store, desk.Options{SiteURL: "http://127.0.0.1:1", Demo: true, Houses: &desktest.Houses{Known: map[string]district.Told{
		"north.district.example": {Figures: district.Figures{House: "Northern School", Pictures: 95, Originals: 4e6, People: 9}, At: time.Now(), Allotted: access.Allotment{Pictures: 100}, Own: true, First: "A2B3"},
		"west.district.example":  {Fault: "the disk is gone"}}}})
	require.NoError(t, err)
	site := practice.Site{Rules: d.Rules}
	return web.Handler(d, web.Options{Sessions: sessions, Layout: func(w io.Writer, p publish.SitePage) error {
		return site.Write(w, practice.Page{Title: p.Title, Section: p.Section, Main: p.Main, Head: p.Head, Style: p.Style, Top: (*practice.Top)(p.Top)})
	}, ContentCSS: site.ContentCSS}), d
}

// newClient keeps its own cookies and follows no redirect.
func newClient(t *testing.T) *http.Client {
	t.Helper()
	jar, err := cookiejar.New(nil)
	require.NoError(t, err)
	return &http.Client{Jar: jar, CheckRedirect: func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse }}
}

// client asks as whoever signed in last.
var client *http.Client

func signInAs(t *testing.T, app string, person int) {
	t.Helper()
	res := post(t, app+"/sign-in/demo", url.Values{"person": {fmt.Sprint(person)}})
	require.Equal(t, http.StatusSeeOther, res.StatusCode)
}

func get(t *testing.T, address string) (*http.Response, []byte) {
	t.Helper()
	res, err := client.Get(address)
	require.NoError(t, err)
	defer res.Body.Close()
	data, err := io.ReadAll(res.Body)
	require.NoError(t, err)
	return res, data
}

var screens = []string{"/arrivals", "/bench/5", "/bench/9", "/pages", "/pages/1", "/pages/2", "/pages/1/insert?after=a1&picture=5", "/pages/6", "/pages/7", "/pages/7/placement?block=v6", "/pages/7/band?block=v2", "/pages/10/placement?block=p2", "/pages/6/widths", "/live",
	"/rules", "/rules?part=slots", "/rules?part=types", "/rules?part=limits", "/rules?part=names", "/rules?part=words", "/rules?part=sections", "/rules?part=history",
	"/ruler", "/people", "/people?person=2", "/people/provider", "/destinations", "/destinations/new", "/destinations/new?kind=webdav", "/running", "/houses", "/house/north.district.example", "/houses/rules", "/findings", "/former", "/former/1", "/former/1/describe", "/former/1/names", "/former/1/changes", "/former/1/compare", "/former/1/carry", "/leaving", "/privacy", "/trail", "/account", "/welcome", "/help"}

func TestEveryScreenIsDrawnAndHardened(t *testing.T) {
	srv := app(t)
	for _, at := range screens {
		res, body := get(t, srv.URL+at)
		assert.Equal(t, http.StatusOK, res.StatusCode, at)
		assert.Equal(t, "text/html; charset=utf-8", res.Header.Get("Content-Type"))
		assert.Equal(t, "nosniff", res.Header.Get("X-Content-Type-Options"))
		policy := res.Header.Get("Content-Security-Policy")
		assert.Contains(t, policy, "default-src 'none'")
		assert.NotContains(t, policy, "unsafe")
		doc, err := goquery.NewDocumentFromReader(bytes.NewReader(body))
		require.NoError(t, err)
		assert.Zero(t, doc.Find("[style], style").Length(), "%s has inline style", at)
		doc.Find("script").Each(func(_ int, s *goquery.Selection) {
			assert.NotEmpty(t, s.AttrOr("src", ""), "%s has an inline script", at)
		})
		doc.Find("*").Each(func(_ int, s *goquery.Selection) {
			for _, a := range s.Get(0).Attr {
				assert.False(t, strings.HasPrefix(a.Key, "on"), "%s has %s", at, a.Key)
			}
		})
		assert.Equal(t, 1, doc.Find("h1").Length(), "%s has one heading of the first rank", at)
		seen := map[string]bool{}
		doc.Find("[id]").Each(func(_ int, s *goquery.Selection) {
			id, _ := s.Attr("id")
			assert.False(t, seen[id], "%s has two elements called %s", at, id)
			seen[id] = true
		})
		doc.Find("img").Each(func(_ int, s *goquery.Selection) {
			_, ok := s.Attr("alt")
			assert.True(t, ok, "%s: an image without alt", at)
		})
		doc.Find("link[href], script[src]").Each(func(_ int, s *goquery.Selection) {
			address := s.AttrOr("href", s.AttrOr("src", ""))
			assert.True(t, strings.HasPrefix(address, "/"), "%s loads %s from elsewhere", at, address)
			res, _ := get(t, srv.URL+address)
			assert.Equal(t, http.StatusOK, res.StatusCode, address)
		})
	}
}

func TestFoldersAreNotListed(t *testing.T) {
	srv := app(t)
	for _, at := range []string{"/static/", "/static/x/", "/static/x/css", "/static/x/css/", "/static/x/../server.go", "/static/x/..%2f..%2fserver.go", "/thumbs/", "/cuts/", "/files/"} {
		res, _ := get(t, srv.URL+at)
		assert.Equal(t, http.StatusNotFound, res.StatusCode, at)
	}
}

func TestPicturesComeWithTheirType(t *testing.T) {
	srv := app(t)
	for at, kind := range map[string]string{"/thumbs/1": "image/jpeg", "/previews/1": "image/jpeg", "/thumbs/10": "image/png"} {
		res, body := get(t, srv.URL+at)
		assert.Equal(t, http.StatusOK, res.StatusCode)
		assert.Equal(t, kind, res.Header.Get("Content-Type"), at)
		assert.Equal(t, kind, http.DetectContentType(body))
	}
	for _, at := range []string{"/thumbs/999", "/cuts/" + strings.Repeat("a", 64), "/cuts/passwd", "/bench/999", "/pages/999", "/nowhere"} {
		res, _ := get(t, srv.URL+at)
		assert.Equal(t, http.StatusNotFound, res.StatusCode, at)
	}
}

// An original cannot be had by its hash: only cuts have an address.
func TestOriginalsHaveNoAddress(t *testing.T) {
	srv := app(t)
	s, err := datafolder.Open(t.TempDir())
	require.NoError(t, err)
	defer s.Close()
	data, err := demo.Picture("DSC_0417.JPG")
	require.NoError(t, err)
	hash, err := s.Files.Put(bytes.NewReader(data), "image/jpeg")
	require.NoError(t, err)
	for _, at := range []string{"/cuts/", "/files/", "/thumbs/", "/previews/"} {
		res, _ := get(t, srv.URL+at+hash)
		assert.Equal(t, http.StatusNotFound, res.StatusCode, at)
	}
}

func post(t *testing.T, address string, form url.Values, headers ...string) *http.Response {
	t.Helper()
	req, err := http.NewRequest(http.MethodPost, address, strings.NewReader(form.Encode()))
	require.NoError(t, err)
	req.Header.Set("Content-Type", "application/x-www-form-urlencoded")
	for i := 0; i < len(headers); i += 2 {
		req.Header.Set(headers[i], headers[i+1])
	}
	res, err := client.Do(req)
	require.NoError(t, err)
	body, err := io.ReadAll(res.Body)
	require.NoError(t, err)
	res.Body.Close()
	res.Body = io.NopCloser(bytes.NewReader(body))
	return res
}

// Another site's page cannot act in the editor's name (Fetch Metadata, the
// Sec-Fetch-Site header; and Origin for browsers without it).
func TestOtherSitesCannotAct(t *testing.T) {
	srv := app(t)
	acts := []string{"/arrivals", "/arrivals/send", "/pictures/5/throw-away", "/pictures/5/bring-back", "/bench/5/slot", "/bench/5/frame", "/bench/5/name",
		"/bench/5/words", "/bench/5/step", "/bench/5/cuts", "/pages/1/insert", "/pages/1/placement", "/pages/1/take-off", "/pages/1/step", "/pages/1/publish", "/live/2/check"}
	for _, act := range acts {
		assert.Equal(t, http.StatusForbidden, post(t, srv.URL+act, nil, "Sec-Fetch-Site", "cross-site").StatusCode, act)
		assert.Equal(t, http.StatusForbidden, post(t, srv.URL+act, nil, "Origin", "https://elsewhere.example").StatusCode, act)
	}
	assert.Equal(t, http.StatusSeeOther, post(t, srv.URL+"/bench/5/slot", url.Values{"slot": {"wide"}}, "Sec-Fetch-Site", "same-origin").StatusCode)
}

func TestRefusalsTellTheirReasonAndStatus(t *testing.T) {
	srv := app(t)
	for act, c := range map[string]struct {
		form   url.Values
		status int
	}{
		"/bench/5/slot":      {url.Values{"slot": {"poster"}}, http.StatusUnprocessableEntity},
		"/bench/5/frame":     {url.Values{"x": {"NaN"}, "y": {"0"}, "w": {"5"}, "h": {"5"}}, http.StatusUnprocessableEntity},
		"/bench/999/words":   {url.Values{"alt": {"x"}}, http.StatusNotFound},
		"/pages/1/publish":   {url.Values{"seen": {"99.1"}}, http.StatusConflict},
		"/arrivals/send":     {url.Values{}, http.StatusUnprocessableEntity},
		"/pages/1/insert":    {url.Values{"version": {"1"}, "gap": {"0"}}, http.StatusUnprocessableEntity},
		"/pages/1/placement": {url.Values{"version": {"1"}, "slot": {"column"}, "block": {"zz"}}, http.StatusNotFound},
	} {
		assert.Equal(t, c.status, post(t, srv.URL+act, c.form, "HX-Request", "true").StatusCode, act)
	}
}

// No word is ever taken for 0: a form with letters in a field for numbers is refused whole, and
// tells what was typed.
func TestLettersAreNoNumbers(t *testing.T) {
	srv := app(t)
	for act, form := range map[string]url.Values{
		"/bench/5/veil":         {"shape": {"rect"}, "style": {"cover"}, "reason": {"other"}, "x": {"ten"}, "y": {"0"}, "w": {"5"}, "h": {"5"}},
		"/bench/5/budget":       {"slot": {"column"}, "budget": {"1O0000"}},
		"/pages/1/band":         {"block": {"a"}, "cap": {"wide"}},
		"/pages/1/placement":    {"block": {"a"}, "air-top": {"1,5"}},
		"/pages/1/list":         {"block": {"a"}, "place-3": {"first"}},
		"/pages/1/background":   {"block": {"a"}, "height-phone": {"0x40"}},
		"/banners/1":            {"share": {"half"}},
		"/ruler/1/scale":        {"known": {"about 300"}},
		"/bench/5/turn":         {"degrees": {"1e99"}},
		"/pages/1/frame":        {"x": {"Infinity"}, "y": {"0"}, "w": {"5"}, "h": {"5"}},
		"/albums/1":             {"what": {"rule"}, "year": {"MMXXVI"}},
		"/pages/1/shared/frame": {"across": {"49.5"}},
	} {
		res := post(t, srv.URL+act, form, "HX-Request", "true")
		assert.Equal(t, http.StatusUnprocessableEntity, res.StatusCode, act)
		body, err := io.ReadAll(res.Body)
		require.NoError(t, err)
		assert.Regexp(t, "is not a (whole )?number", string(body), act)
	}
	// A blank side is none either: a veil does not move to the corner.
	res := post(t, srv.URL+"/bench/5/veil", url.Values{"shape": {"rect"}, "style": {"cover"}, "reason": {"other"}, "x": {""}, "y": {"0"}, "w": {"5"}, "h": {"5"}}, "HX-Request", "true")
	assert.Equal(t, http.StatusUnprocessableEntity, res.StatusCode)
}

func TestAFormMayNotBeHuge(t *testing.T) {
	srv := app(t)
	res := post(t, srv.URL+"/bench/5/words", url.Values{"alt": {strings.Repeat("x", 2<<20)}}, "HX-Request", "true")
	assert.NotEqual(t, http.StatusOK, res.StatusCode)
	_, body := get(t, srv.URL+"/bench/5")
	assert.Contains(t, string(body), "Four people with mugs", "the words that were there are kept")
}

// What an editor types is shown as it was typed, and never acts.
func TestWordsAreEscaped(t *testing.T) {
	srv := app(t)
	evil := `"><script>alert(1)</script>`
	post(t, srv.URL+"/bench/5/words", url.Values{"alt": {evil}, "seen": {shownStep(t, srv.URL)}})
	_, body := get(t, srv.URL+"/bench/5")
	assert.NotContains(t, string(body), "<script>alert")
	doc, err := goquery.NewDocumentFromReader(bytes.NewReader(body))
	require.NoError(t, err)
	assert.Equal(t, evil, doc.Find("#alt").Text())
}

// shownStep is the step of picture 5 that its screen shows.
func shownStep(t *testing.T, app string) string {
	t.Helper()
	_, body := get(t, app+"/bench/5")
	doc, err := goquery.NewDocumentFromReader(bytes.NewReader(body))
	require.NoError(t, err)
	return doc.Find("#tools").AttrOr("data-step", "")
}

func TestAnEmptyFormForgetsNothing(t *testing.T) {
	srv := app(t)
	res := post(t, srv.URL+"/bench/5/words", url.Values{}, "HX-Request", "true")
	assert.Equal(t, http.StatusUnprocessableEntity, res.StatusCode, "no alt in the form is not the same as an empty one")
	_, body := get(t, srv.URL+"/bench/5")
	assert.Contains(t, string(body), "Four people with mugs")
}

func TestEverythingThatShipsHasItsLicence(t *testing.T) {
	list, err := os.ReadFile("../THIRD-PARTY.md")
	require.NoError(t, err)
	for _, dir := range []string{"static/vendor", "static/fonts"} {
		files, err := os.ReadDir(dir)
		require.NoError(t, err)
		for _, f := range files {
			assert.Contains(t, string(list), f.Name(), "THIRD-PARTY.md does not name %s", f.Name())
		}
	}
	mod, err := os.ReadFile("../go.mod")
	require.NoError(t, err)
	for _, line := range strings.Split(string(mod), "\n") {
		fields := strings.Fields(line)
		if len(fields) >= 2 && strings.HasPrefix(line, "\t") && strings.HasPrefix(fields[1], "v") {
			assert.Contains(t, string(list), fields[0], "THIRD-PARTY.md does not name %s", fields[0])
		}
	}
}

// The station shows the pages that were asked for: by section, state and findings.
func TestPagesAreAskedFor(t *testing.T) {
	srv := app(t)
	for query, want := range map[string][2]string{ // what is there, and what is not
		"section=river":   {"What lives in the inflow", "Soup night"},
		"state=draft":     {"Autumn on the water", "changed since it went live"},
		"findings=stop":   {"Who comes along", "Soup night"},
		"findings=warn":   {"Winter party", "Autumn on the water"},
		"findings=none":   {"Soup night", "Winter party"},
		"sort=newest":     {"Changed last", "all as a ZIP"},
		"state=live":      {"No page matches", "Soup night"}, // nothing is published here
		"findings=plenty": {"Soup night", "No page matches"},
	} {
		res, body := get(t, srv.URL+"/pages?"+query)
		assert.Equal(t, http.StatusOK, res.StatusCode)
		assert.Contains(t, string(body), want[0], query)
		assert.NotContains(t, string(body), want[1], query)
	}
}

// What a picture is too small for is told in one sentence.
func TestWhatIsTooSmallIsToldOnce(t *testing.T) {
	srv := app(t)
	var tiny bytes.Buffer
	require.NoError(t, png.Encode(&tiny, image.NewGray(image.Rect(0, 0, 200, 180))))
	req, err := http.NewRequest(http.MethodPost, srv.URL+"/arrivals", &tiny)
	require.NoError(t, err)
	req.Header.Set("X-File-Name", "tiny.png")
	req.Header.Set("Content-Type", "application/octet-stream")
	res, err := client.Do(req)
	require.NoError(t, err)
	res.Body.Close()
	_, page := get(t, srv.URL+"/arrivals")
	_, row, _ := strings.Cut(string(page), "tiny.png")
	row, _, _ = strings.Cut(row, "Throw away")
	assert.Contains(t, row, "Too small for Full column, Side picture, Wide, Half, Beside facts, Sliding strip and Link picture")
	assert.Equal(t, 1, strings.Count(row, "Too small"))
}

// Ready-made rules are found by their name; the house's own name and sections stay.
func TestReadyMadeRules(t *testing.T) {
	srv := app(t)
	res := post(t, srv.URL+"/rules/ready", url.Values{"ready": {"no such rules"}})
	assert.Equal(t, http.StatusNotFound, res.StatusCode)
	res = post(t, srv.URL+"/rules/ready", url.Values{"ready": {"department"}, "part": {"slots"}})
	assert.Equal(t, http.StatusSeeOther, res.StatusCode)
	_, body := get(t, srv.URL+"/rules?part=sections")
	assert.Contains(t, string(body), "River Watch")
	_, body = get(t, srv.URL+"/rules?part=slots")
	assert.Contains(t, string(body), "Brindlemere Paddle Club")
	assert.NotContains(t, string(body), "Nothing is changed")
	assert.Equal(t, http.StatusUnprocessableEntity, post(t, srv.URL+"/welcome", url.Values{"kind": {"no such house"}}).StatusCode)
}
