package visitor_test

import (
	"context"
	"net/http"
	"net/http/httptest"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/edge/visitor"
)

// A visitor gets what is there, and tells what is not (RFC 9110, 15: status codes).
func TestWhatAVisitorGets(t *testing.T) {
	t.Parallel()
	site := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		switch r.URL.Path {
		case "/autumn":
			w.Header().Set("Content-Type", "text/html; charset=utf-8")
			_, _ = w.Write([]byte("<p>Autumn"))
		case "/moved":
			http.Redirect(w, r, "/autumn", http.StatusMovedPermanently)
		case "/gone":
			w.WriteHeader(http.StatusGone)
		case "/short":
			w.Header().Set("Content-Length", "100")
			_, _ = w.Write([]byte("half"))
		default:
			http.NotFound(w, r)
		}
	}))
	defer site.Close()
	v := visitor.New()
	for _, path := range []string{"/autumn", "/moved"} {
		data, kind, err := v.Fetch(context.Background(), site.URL+path)
		require.NoError(t, err, path)
		assert.Equal(t, []string{"<p>Autumn", "text/html; charset=utf-8"}, []string{string(data), kind})
	}
	for path, says := range map[string]string{"/gone": "410", "/nothing": "404", "/short": "EOF"} {
		_, _, err := v.Fetch(context.Background(), site.URL+path)
		assert.ErrorContains(t, err, says, path)
	}
	ended, end := context.WithCancel(context.Background())
	end()
	_, _, err := v.Fetch(ended, site.URL+"/autumn")
	assert.ErrorIs(t, err, context.Canceled, "who no longer waits is not kept waiting")
	_, _, err = v.Fetch(context.Background(), "http://a space/")
	assert.Error(t, err)
}
