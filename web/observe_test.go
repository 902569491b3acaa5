package web_test

import (
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
