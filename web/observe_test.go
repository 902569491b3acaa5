package web_test

import (
	"bytes"
	"encoding/json"
	"log/slog"
	"net/http"
	"net/http/httptest"
	"regexp"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/desk"
	"mivlet/store/datafolder"
	"mivlet/web"
)

// Every request has a number of its own, which whoever sees it fail can tell, and is counted by the form
// of its address.
func TestRequestsAreNumberedAndCounted(t *testing.T) {
	s, err := datafolder.Open(t.TempDir())
	require.NoError(t, err)
	d, err := desk.New(&s.Store, desk.Options{Demo: true})
	require.NoError(t, err)
	var told []web.Answered
	h := web.Handler(d, web.Options{ContentCSS: func() []byte { return []byte("p{}") }, Answered: func(a web.Answered) { told = append(told, a) }})
	ask := func(method, at, body string) *httptest.ResponseRecorder {
		t.Helper()
		w := httptest.NewRecorder()
		r := httptest.NewRequest(method, at, strings.NewReader(body))
		r.Header.Set("X-Request-Id", "chosen outside")
		h.ServeHTTP(w, r)
		return w
	}
	one, two := ask("GET", "/content.css", ""), ask("GET", "/pages/7?q=secret", "")
	assert.Len(t, one.Header().Get("X-Request-Id"), 10)
	assert.NotEqual(t, one.Header().Get("X-Request-Id"), two.Header().Get("X-Request-Id"))
	ask("POST", "/sign-in/demo", "person=9")
	require.Len(t, told, 3)
	assert.Equal(t, web.Answered{Method: "GET", Route: "/content.css", Status: 200, Sent: 3, Took: told[0].Took}, told[0])
	assert.NotContains(t, told[1].Route, "7", "the form of it, and not which one")
	assert.EqualValues(t, len("person=9"), told[2].Received)
	assert.Less(t, told[0].Took, time.Minute)

	require.NoError(t, s.Close()) // the disk is gone, as it were
	failed := ask("POST", "/sign-in/demo", "person=1")
	require.Equal(t, http.StatusInternalServerError, failed.Code)
	shown := regexp.MustCompile(`tell whoever runs Mivlet the number ([A-Z2-7]{10})\.`).FindStringSubmatch(failed.Body.String())
	require.NotNil(t, shown, failed.Body.String())
	assert.Equal(t, failed.Header().Get("X-Request-Id"), shown[1])
}

// A fault in the program ends one act: who asked is told a number, under which the log tells where the
// fault is, and nothing of what they sent.
func TestAFaultEndsOneActAlone(t *testing.T) {
	s, err := datafolder.Open(t.TempDir())
	require.NoError(t, err)
	t.Cleanup(func() { _ = s.Close() })
	d, err := desk.New(&s.Store, desk.Options{Demo: true})
	require.NoError(t, err)
	var log bytes.Buffer
	before := slog.Default()
	slog.SetDefault(slog.New(slog.NewJSONHandler(&log, nil)))
	t.Cleanup(func() { slog.SetDefault(before) })
	var told []web.Answered
	h := web.Handler(d, web.Options{ContentCSS: func() []byte { panic("a fault of its own") }, Answered: func(a web.Answered) { told = append(told, a) }})
	r := httptest.NewRequest("GET", "/content.css?password=hush", nil)
	r.Header.Set("Cookie", "mivlet=hush")
	w := httptest.NewRecorder()
	h.ServeHTTP(w, r)
	number := w.Header().Get("X-Request-Id")
	assert.Equal(t, http.StatusInternalServerError, w.Code)
	assert.Contains(t, w.Body.String(), number)
	assert.NotContains(t, w.Body.String(), "a fault of its own")
	var line map[string]any
	require.NoError(t, json.Unmarshal(log.Bytes(), &line), log.String())
	assert.Equal(t, []any{number, "a fault of its own"}, []any{line["request"], line["fault"]})
	assert.Contains(t, line["stack"], "observe_test.go")
	assert.NotContains(t, log.String(), "hush")
	require.Len(t, told, 1)
	assert.Equal(t, http.StatusInternalServerError, told[0].Status)
}
