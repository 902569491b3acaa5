package practice_test

import (
	"bytes"
	"errors"
	"io"
	"net/http"
	"net/http/httptest"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/page"
	"mivlet/core/rules"
	"mivlet/practice"
)

var errGone = errors.New("gone")

type window map[string]string

type file struct{ *bytes.Reader }

func (file) Close() error { return nil }

func (w window) Open(path, _ string) (practice.File, error) {
	content, ok := w[path]
	if !ok {
		return practice.File{}, errGone
	}
	kind := "text/html; charset=utf-8"
	if strings.HasSuffix(path, ".jpg") {
		kind = "image/jpeg"
	}
	for _, other := range []string{"text/css", "application/pdf", "text/csv", "audio/mpeg", "image/x+xml"} {
		if strings.HasSuffix(path, "."+strings.TrimPrefix(other[strings.Index(other, "/"):], "/")) {
			kind = other
		}
	}
	return practice.File{ReadSeekCloser: file{bytes.NewReader([]byte(content))}, MediaType: kind, Tag: "0123456789abcdef0123"}, nil
}

func (w window) Links() ([]practice.Link, error) {
	return []practice.Link{{Section: "house", Title: "First <launch>", Path: "/juniors/first-launch"}}, nil
}

func (w window) Whereabouts(path string) (moved, gone string, err error) {
	switch path {
	case "/juniors/old":
		return "/juniors/first-launch", "", nil
	case "/juniors/last-year":
		return "", "Last <year>", nil
	}
	return "", "", nil
}

func (w window) Frames(uint, []string) (map[string]string, error) { return nil, nil }

func (w window) Banner(string, uint, bool) (page.BannerShow, bool, error) {
	return page.BannerShow{}, false, nil
}

func (w window) Follow(uint, bool) (string, error) { return "", errGone }

func (w window) Missing(err error) (missing, gone bool) { return errors.Is(err, errGone), false }

func get(t *testing.T, h http.Handler, address string, headers ...string) *http.Response {
	t.Helper()
	req := httptest.NewRequest(http.MethodGet, address, nil)
	for i := 0; i < len(headers); i += 2 {
		req.Header.Set(headers[i], headers[i+1])
	}
	rec := httptest.NewRecorder()
	h.ServeHTTP(rec, req)
	return rec.Result()
}

func TestVisitorsGetWhatWasPublishedWithRealCaching(t *testing.T) {
	h := practice.Site{Rules: rules.Default}.Handler(window{"/juniors/a-640.jpg": "jpeg", "/juniors/first-launch": "<h1>"})
	picture := get(t, h, "/juniors/a-640.jpg?v=01234567")
	assert.Equal(t, "image/jpeg", picture.Header.Get("Content-Type"))
	assert.Contains(t, picture.Header.Get("Cache-Control"), "immutable", "an address that changes with its content is kept for good")
	page := get(t, h, "/juniors/first-launch")
	assert.Equal(t, "no-cache", page.Header.Get("Cache-Control"), "a page is asked for again")
	again := get(t, h, "/juniors/first-launch", "If-None-Match", page.Header.Get("ETag"))
	assert.Equal(t, http.StatusNotModified, again.StatusCode)
	assert.Equal(t, "no-cache", get(t, h, "/juniors/a-640.jpg?v=ffff").Header.Get("Cache-Control"), "an old mark is not kept for good")
	assert.Equal(t, "nosniff", page.Header.Get("X-Content-Type-Options"))
	assert.Contains(t, page.Header.Get("Content-Security-Policy"), "default-src 'none'")
}

// A file to download is handed out to be kept, and no browser opens it (RFC 6266); what pages
// are made of is shown.
func TestDownloadsAreNotOpened(t *testing.T) {
	h := practice.Site{Rules: rules.Default}.Handler(window{"/a/page": "<h1>", "/a/b.jpg": "x", "/a/b.css": "x", "/a/b.pdf": "x", "/a/b.csv": "x", "/a/b.mpeg": "x", "/a/b.x+xml": "x"})
	for at, kept := range map[string]bool{"/a/page": false, "/a/b.jpg": false, "/a/b.css": false, "/a/b.pdf": true, "/a/b.csv": true, "/a/b.mpeg": true, "/a/b.x+xml": true} {
		assert.Equal(t, kept, get(t, h, at).Header.Get("Content-Disposition") == "attachment", at)
	}
}

// Pictures are kept by browsers for as long as the house says, a day where it says
// nothing, so that what is taken off the air is not shown for a year (RFC 9111, 5.2.2.1).
func TestHowLongBrowsersKeepAPicture(t *testing.T) {
	files := window{"/juniors/a-640.jpg": "jpeg"}
	for hours, want := range map[int]string{24: "public, max-age=86400, immutable", 1: "public, max-age=3600, immutable"} {
		r := rules.Default()
		r.Placing.CacheHours = hours
		h := practice.Site{Rules: func() rules.Rules { return r }}.Handler(files)
		assert.Equal(t, want, get(t, h, "/juniors/a-640.jpg?v=01234567").Header.Get("Cache-Control"))
	}
	assert.Equal(t, 24, rules.Default().Placing.CacheHours)
}

func TestNothingElseIsServed(t *testing.T) {
	h := practice.Site{Rules: rules.Default}.Handler(window{})
	for _, at := range []string{"/juniors/", "/juniors", "/../mivlet.db", "/files/ab/abcd", "/%2e%2e/mivlet.db"} {
		assert.Equal(t, http.StatusNotFound, get(t, h, at).StatusCode, at)
	}
}

// A page that has moved leads on, one that was taken off is polite about it
// (RFC 9110, 15.4.2 and 15.5.11: 301 Moved Permanently, 410 Gone).
func TestMovedAndTakenOff(t *testing.T) {
	h := practice.Site{Rules: rules.Default}.Handler(window{})
	moved := get(t, h, "/juniors/old")
	assert.Equal(t, http.StatusMovedPermanently, moved.StatusCode)
	assert.Equal(t, "/juniors/first-launch", moved.Header.Get("Location"))
	gone := get(t, h, "/juniors/last-year")
	assert.Equal(t, http.StatusGone, gone.StatusCode)
	body, err := io.ReadAll(gone.Body)
	require.NoError(t, err)
	assert.Contains(t, string(body), "<h1>Last &lt;year&gt;</h1>")
	assert.Contains(t, string(body), "taken off")
}

func TestTheWayInListsLivePages(t *testing.T) {
	res := get(t, practice.Site{Rules: rules.Default}.Handler(window{}), "/")
	body, err := io.ReadAll(res.Body)
	require.NoError(t, err)
	assert.Contains(t, string(body), `<a href="/juniors/first-launch">First &lt;launch&gt;</a>`)
	assert.Contains(t, string(body), "practice site", "it says that it is a stand-in")
}
