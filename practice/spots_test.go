package practice_test

import (
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
	"mivlet/internal/head"
	"mivlet/practice"
)

// board is a site with one page that has a spot, in which something may run.
type board struct {
	window
	runs            *bool
	shown, followed *int
}

const withSpot = "<p>Words</p>\n<div class=\"spot\"><!-- spot foot --><!-- end of spot foot --></div>\n"

var foot = rules.Spot{ID: "foot", Title: "Partners", Width: 300, Height: 250}

func newBoard() board {
	return board{window{"/juniors/autumn": withSpot}, new(bool), new(int), new(int)}
}

func (b board) Open(path, version string) (practice.File, error) {
	f, err := b.window.Open(path, version)
	f.Page = 7
	return f, err
}

func (b board) Frames(number uint, spots []string) (map[string]string, error) {
	if number != 7 || len(spots) != 1 || !*b.runs {
		return nil, nil
	}
	return map[string]string{"foot": page.SpotFrame(foot, number)}, nil
}

func (b board) Banner(spot string, number uint, counts bool) (page.BannerShow, bool, error) {
	if !*b.runs || spot != "foot" || number != 7 {
		return page.BannerShow{}, false, nil
	}
	if counts {
		*b.shown++
	}
	return page.BannerShow{Language: "en", Spot: foot, Follow: "/spots/follow/3", Alt: "Ropes", Files: []page.BannerFile{{Address: "/spots/a.jpg", Width: 300, Height: 250}}}, true, nil
}

func (b board) Follow(number uint, counts bool) (string, error) {
	if number != 3 {
		return "", errGone
	}
	if counts {
		*b.followed++
	}
	return "https://ropes.example/workshop?a=1&b=2", nil
}

func (b board) Missing(err error) (missing, gone bool) { return errors.Is(err, errGone), false }

func text(t *testing.T, res *http.Response) string {
	t.Helper()
	data, err := io.ReadAll(res.Body)
	require.NoError(t, err)
	return string(data)
}

// The page is asked for again each time (RFC 9111, 5.2.2.4: no-cache), and its tag changes when
// a spot fills or empties, so that no browser goes on showing a hole or a banner that has ended.
// Which banner runs is in the frame, that nobody keeps (5.2.2.5: no-store).
func TestAPageThatIsKeptStaysRight(t *testing.T) {
	b := newBoard()
	h := practice.Site{Rules: rules.Default}.Handler(b)
	empty := get(t, h, "/juniors/autumn")
	assert.Equal(t, withSpot, text(t, empty), "where nothing runs, the page is as it was signed")
	assert.Equal(t, "no-cache", empty.Header.Get("Cache-Control"))
	again := func(tag string) int {
		return get(t, h, "/juniors/autumn", "If-None-Match", tag).StatusCode
	}
	assert.Equal(t, http.StatusNotModified, again(empty.Header.Get("ETag")))
	assert.Equal(t, http.StatusNoContent, get(t, h, "/spots/foot?page=7").StatusCode)

	*b.runs = true
	full := get(t, h, "/juniors/autumn")
	assert.Contains(t, text(t, full), page.SpotFrame(foot, 7))
	assert.Equal(t, http.StatusOK, again(empty.Header.Get("ETag")), "the page without it is old")
	assert.Equal(t, http.StatusNotModified, again(full.Header.Get("ETag")), "turns do not make it another page")
	assert.Contains(t, full.Header.Get("Content-Security-Policy"), "frame-src 'self'")

	frame := get(t, h, "/spots/foot?page=7")
	assert.Equal(t, "no-store", frame.Header.Get("Cache-Control"))
	assert.Empty(t, frame.Header["Set-Cookie"])
	policy := frame.Header.Get("Content-Security-Policy")
	assert.Contains(t, policy, "frame-ancestors 'self'")
	assert.NotContains(t, policy, "script-src")
	assert.Contains(t, text(t, frame), `href="/spots/follow/3"`)
	for _, none := range []string{"/spots/foot", "/spots/foot?page=8", "/spots/foot?page=x", "/spots/other?page=7"} {
		assert.Equal(t, http.StatusNoContent, get(t, h, none).StatusCode, none)
	}
	*b.runs = false
	assert.Equal(t, http.StatusOK, again(full.Header.Get("ETag")), "the page with it is old")
}

// Only somebody who looks is counted: no HEAD (RFC 9110, 9.3.2), and no browser that fetches
// ahead (Fetch Standard, Sec-Purpose).
func TestWhoIsCounted(t *testing.T) {
	b := newBoard()
	*b.runs = true
	h := practice.Site{Rules: rules.Default}.Handler(b)
	for _, at := range []string{"/spots/foot?page=7", "/spots/follow/3"} {
		get(t, h, at)
		get(t, h, at, "Sec-Purpose", "prefetch")
		h.ServeHTTP(httptest.NewRecorder(), httptest.NewRequest(http.MethodHead, at, nil))
	}
	assert.Equal(t, []int{1, 1}, []int{*b.shown, *b.followed})
	plain := httptest.NewRequest(http.MethodGet, "/", nil)
	assert.False(t, head.Only(plain))

	leads := get(t, h, "/spots/follow/3")
	assert.Equal(t, http.StatusSeeOther, leads.StatusCode)
	assert.Equal(t, "https://ropes.example/workshop?a=1&b=2", leads.Header.Get("Location"))
	assert.Equal(t, "no-store", leads.Header.Get("Cache-Control"))
	gone := get(t, h, "/spots/follow/4")
	assert.Equal(t, http.StatusGone, gone.StatusCode)
	assert.True(t, strings.HasPrefix(text(t, gone), "This notice was taken off."))
	css := get(t, h, "/spots.css")
	assert.Equal(t, "text/css; charset=utf-8", css.Header.Get("Content-Type"))
}
