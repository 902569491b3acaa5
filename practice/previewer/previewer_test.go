package previewer_test

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"image"
	"image/color"
	"image/jpeg"
	"image/png"
	"net/http"
	"net/http/httptest"
	"net/url"
	"strings"
	"sync/atomic"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/page"
	"mivlet/practice/previewer"
)

func picture(w, h int, left, right color.Color) []byte {
	m := image.NewRGBA(image.Rect(0, 0, w, h))
	for y := range h {
		for x := range w {
			c := left
			if x >= w/2 {
				c = right
			}
			m.Set(x, y, c)
		}
	}
	var b bytes.Buffer
	if err := png.Encode(&b, m); err != nil {
		panic(err)
	}
	return b.Bytes()
}

// site is a site of one page whose picture can be anything.
type site struct {
	*httptest.Server
	html  atomic.Value // string
	asked atomic.Int32
}

func newSite(t *testing.T) *site {
	t.Helper()
	s := &site{}
	s.html.Store("")
	good := picture(1200, 630, color.RGBA{200, 0, 0, 255}, color.RGBA{0, 0, 200, 255})
	m := http.NewServeMux()
	m.HandleFunc("/page", func(w http.ResponseWriter, _ *http.Request) {
		s.asked.Add(1)
		w.Header().Set("Content-Type", "text/html; charset=utf-8")
		fmt.Fprint(w, s.html.Load())
	})
	m.HandleFunc("/good.png", func(w http.ResponseWriter, _ *http.Request) { _, _ = w.Write(good) })
	m.HandleFunc("/small.png", func(w http.ResponseWriter, _ *http.Request) {
		_, _ = w.Write(picture(199, 630, color.Black, color.Black))
	})
	m.HandleFunc("/just.png", func(w http.ResponseWriter, _ *http.Request) {
		_, _ = w.Write(picture(200, 200, color.Black, color.Black))
	})
	m.HandleFunc("/heavy.png", func(w http.ResponseWriter, _ *http.Request) { _, _ = w.Write(append(good, make([]byte, 1<<20)...)) })
	m.HandleFunc("/broken.png", func(w http.ResponseWriter, _ *http.Request) {
		w.Header().Set("Content-Type", "image/png")
		_, _ = w.Write(good[:20])
	})
	m.HandleFunc("/lies.png", func(w http.ResponseWriter, _ *http.Request) {
		w.Header().Set("Content-Type", "image/jpeg")
		_, _ = w.Write(good)
	})
	m.HandleFunc("/vector.svg", func(w http.ResponseWriter, _ *http.Request) {
		w.Header().Set("Content-Type", "image/svg+xml")
		fmt.Fprint(w, `<svg xmlns="http://www.w3.org/2000/svg"/>`)
	})
	m.HandleFunc("/slow.png", func(_ http.ResponseWriter, r *http.Request) { <-r.Context().Done() })
	m.HandleFunc("/away.png", func(w http.ResponseWriter, r *http.Request) {
		http.Redirect(w, r, "http://192.0.2.1/x.png", http.StatusFound)
	})
	m.HandleFunc("/text", func(w http.ResponseWriter, _ *http.Request) { fmt.Fprint(w, "words") })
	s.Server = httptest.NewServer(m)
	t.Cleanup(s.Close)
	return s
}

func (s *site) says(head string) {
	s.html.Store("<!doctype html><html><head>" + head + "</head><body></body></html>")
}

func fresh(t *testing.T, s *site, limits previewer.Limits) *previewer.Previewer {
	t.Helper()
	at := time.Date(2026, 11, 2, 12, 0, 0, 0, time.UTC)
	p, err := previewer.New(s.URL, limits, func() time.Time { at = at.Add(time.Minute); return at })
	require.NoError(t, err)
	return p
}

// It keeps what it fetched: also when the page says something else by now.
func TestItKeepsWhatItFetchedUntilItIsToldToFetchAgain(t *testing.T) {
	t.Parallel()
	s := newSite(t)
	p := fresh(t, s, previewer.Usual)
	s.says(`<title>Not this</title><meta property="og:title" content="Autumn &amp; tea"><meta name="description" content="not this"><meta property="og:description" content=" Three
		boats. "><meta property="og:site_name" content="Brindlemere"><meta property="og:image" content="` + s.URL + `/good.png"><meta property="og:image:alt" content="Two colours"><meta name="twitter:card" content="summary_large_image">`)
	first, err := p.Held(context.Background(), s.URL+"/page")
	require.NoError(t, err)
	assert.Equal(t, []any{"Autumn & tea", "Three boats.", "Brindlemere", true, 1200, 630, "Two colours", page.Refusal("")},
		[]any{first.Title, first.Description, first.Site, first.Large, first.Width, first.Height, first.Alt, first.Refused})
	s.says(`<title>Winter</title><meta name="description" content="Snow">`)
	again, err := p.Held(context.Background(), s.URL+"/page")
	require.NoError(t, err)
	assert.Equal(t, first, again, "as it was")
	assert.EqualValues(t, 1, s.asked.Load(), "it did not even ask")
	now, err := p.Fetch(context.Background(), s.URL+"/page")
	require.NoError(t, err)
	assert.Equal(t, []any{"Winter", "Snow", page.NoPicture, false}, []any{now.Title, now.Description, now.Refused, now.Large}, "what Open Graph does not say comes from the page")
	assert.True(t, now.At.After(first.At))
	assert.Len(t, p.All(), 1)
}

// What falls short is refused, each with its reason.
func TestPicturesThatAreNotTaken(t *testing.T) {
	t.Parallel()
	s := newSite(t)
	limits := previewer.Usual
	limits.Patience = 300 * time.Millisecond
	p := fresh(t, s, limits)
	for address, want := range map[string]page.Refusal{
		"/good.png": page.Relative, "good.png": page.Relative, "": page.NoPicture, "data:image/png;base64,AA": page.Relative,
		"http://192.0.2.1/x.png": page.Foreign, s.URL + "/none.png": page.Unanswered, s.URL + "/slow.png": page.Unanswered, s.URL + "/away.png": page.Unanswered,
		s.URL + "/heavy.png": page.TooHeavy, s.URL + "/small.png": page.TooSmall, s.URL + "/vector.svg": page.WrongType, s.URL + "/lies.png": page.WrongType,
		s.URL + "/broken.png": page.WrongType, s.URL + "/text": page.WrongType, s.URL + "/just.png": "", s.URL + "/good.png": "",
	} {
		s.says(`<title>x</title><meta property="og:image" content="` + address + `">`)
		h, err := p.Fetch(context.Background(), s.URL+"/page")
		require.NoError(t, err)
		assert.Equal(t, want, h.Refused, "%q: %s", address, h.Because)
		assert.Equal(t, want == "", h.Because == "" && h.Hash != "", "%q", address)
	}
}

// A page that cannot be read says why; what lies beyond the limit is not read.
func TestPagesThatCannotBeRead(t *testing.T) {
	t.Parallel()
	s := newSite(t)
	limits := previewer.Usual
	limits.Page, limits.Patience = 400, time.Second
	p := fresh(t, s, limits)
	for path, says := range map[string]string{"/none": "404", "/slow.png": "does not answer", "/text": "not HTML", "/good.png": "not HTML"} {
		h, err := p.Fetch(context.Background(), s.URL+path)
		require.NoError(t, err)
		assert.Contains(t, h.Trouble, says, path)
	}
	s.says(strings.Repeat("<!-- long -->", 40) + `<meta property="og:title" content="Too late">`)
	h, err := p.Fetch(context.Background(), s.URL+"/page")
	require.NoError(t, err)
	assert.Empty(t, h.Title)
	for _, address := range []string{"http://192.0.2.1/page", "file:///etc/passwd", "/page", "", "http://%zz"} {
		_, err := p.Fetch(context.Background(), address)
		assert.ErrorContains(t, err, "is not one of", address)
	}
	_, err = previewer.New("no address", limits, time.Now)
	assert.Error(t, err)
}

// Each manner crops around the middle, whatever stands there.
func TestManners(t *testing.T) {
	t.Parallel()
	s := newSite(t)
	p := fresh(t, s, previewer.Usual)
	s.says(`<meta property="og:image" content="` + s.URL + `/good.png">`)
	h, err := p.Held(context.Background(), s.URL+"/page")
	require.NoError(t, err)
	for _, m := range previewer.Manners {
		data, err := h.Shown(m)
		require.NoError(t, err)
		shown, err := jpeg.Decode(bytes.NewReader(data))
		require.NoError(t, err)
		assert.Equal(t, image.Pt(2*m.Width, 2*m.High), shown.Bounds().Size())
		left, _, _, _ := shown.At(20, m.High).RGBA()
		_, _, right, _ := shown.At(2*m.Width-20, m.High).RGBA()
		assert.Greater(t, min(left, right), uint32(0xb000), "both halves are in it: %s", m.ID)
	}
	s.says("")
	h, err = p.Fetch(context.Background(), s.URL+"/page")
	require.NoError(t, err)
	_, err = h.Shown(previewer.Manners[0])
	assert.Error(t, err)
}

func TestItsOwnOrigin(t *testing.T) {
	t.Parallel()
	s := newSite(t)
	srv := httptest.NewServer(fresh(t, s, previewer.Usual).Handler())
	defer srv.Close()
	s.says(`<meta property="og:title" content="<b>Bold</b>"><meta property="og:image" content="` + s.URL + `/good.png">`)
	address := url.QueryEscape(s.URL + "/page")
	get := func(path string) (int, string) {
		res, err := http.Get(srv.URL + path)
		require.NoError(t, err)
		defer res.Body.Close()
		var b bytes.Buffer
		_, err = b.ReadFrom(res.Body)
		require.NoError(t, err)
		return res.StatusCode, b.String()
	}
	status, body := get("/held?address=" + address)
	require.Equal(t, 200, status)
	var h previewer.Held
	require.NoError(t, json.Unmarshal([]byte(body), &h))
	assert.Equal(t, "<b>Bold</b>", h.Title)
	_, body = get("/")
	assert.Contains(t, body, "A stand-in")
	assert.Contains(t, body, "&lt;b&gt;Bold&lt;/b&gt;", "what strangers say is escaped")
	status, body = get("/picture?manner=square&address=" + address)
	assert.Equal(t, 200, status)
	assert.True(t, strings.HasPrefix(body, "\xff\xd8"))
	for path, want := range map[string]int{"/picture?manner=round&address=" + address: 404, "/held?address=nowhere": 400, "/previewer.css": 200, "/fetch": 405} {
		status, _ := get(path)
		assert.Equal(t, want, status, path)
	}
	s.says(`<meta property="og:title" content="Later">`)
	res, err := http.PostForm(srv.URL+"/fetch", url.Values{"address": {s.URL + "/page"}, "then": {"look"}})
	require.NoError(t, err)
	res.Body.Close()
	assert.Equal(t, "/", res.Request.URL.Path)
	_, body = get("/held?address=" + address)
	assert.Contains(t, body, "Later")
}
