package health_test

import (
	"context"
	"errors"
	"io"
	"net/http"
	"net/http/httptest"
	"testing"

	"github.com/stretchr/testify/assert"

	"mivlet/internal/health"
)

func ask(h http.Handler, method, at string) (int, string) {
	w := httptest.NewRecorder()
	h.ServeHTTP(w, httptest.NewRequest(method, at, nil))
	body, _ := io.ReadAll(w.Body)
	return w.Code, string(body)
}

func TestWhetherItRunsAndCanServe(t *testing.T) {
	t.Parallel()
	var fails error
	ending := make(chan struct{})
	next := http.HandlerFunc(func(w http.ResponseWriter, _ *http.Request) { w.WriteHeader(http.StatusTeapot) })
	h := health.Answer(next, ending, health.Check{Name: "records", Do: func(context.Context) error { return fails }})
	status, body := ask(h, "GET", health.Ready)
	assert.Equal(t, http.StatusOK, status)
	assert.JSONEq(t, `{"program":"ok","records":"ok"}`, body)

	fails = errors.New("/var/lib/secret is full")
	status, body = ask(h, "GET", health.Ready)
	assert.Equal(t, http.StatusServiceUnavailable, status)
	assert.JSONEq(t, `{"program":"ok","records":"failed"}`, body, "the reason is for the log")
	status, _ = ask(h, "GET", health.Alive)
	assert.Equal(t, http.StatusOK, status, "it runs all the same: starting it anew would not help")

	fails = nil
	close(ending)
	status, body = ask(h, "GET", health.Ready)
	assert.Equal(t, http.StatusServiceUnavailable, status)
	assert.JSONEq(t, `{"program":"ending","records":"ok"}`, body)
	for _, other := range []string{"/", "/pages", "/healthz/x"} {
		status, _ = ask(h, "GET", other)
		assert.Equal(t, http.StatusTeapot, status, other)
	}
}

// What hangs is not waited for.
func TestACheckThatHangs(t *testing.T) {
	t.Parallel()
	h := health.Answer(http.NotFoundHandler(), nil, health.Check{Name: "files", Do: func(context.Context) error { select {} }})
	status, body := ask(h, "GET", health.Ready)
	assert.Equal(t, http.StatusServiceUnavailable, status)
	assert.Contains(t, body, `"files":"failed"`)
}
