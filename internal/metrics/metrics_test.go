package metrics_test

import (
	"io"
	"net/http"
	"net/http/httptest"
	"strings"
	"testing"
	"time"

	"github.com/prometheus/client_golang/prometheus/testutil/promlint"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/internal/metrics"
)

// Prometheus's own parser and its rules for names find nothing wrong, and a stranger cannot make more
// and more lines.
func TestPrometheusReadsThem(t *testing.T) {
	t.Parallel()
	m := metrics.New(metrics.Gauge{Name: "mivlet_disk_free_bytes", Help: "Bytes that are free.", Now: func() float64 { return 42 }})
	for _, method := range []string{"GET", "BREW", "WHEN", "GET"} {
		m.Count(metrics.Request{Method: method, Route: "/pages/{id}", Status: 200, Took: 30 * time.Millisecond, Received: -1, Sent: 1000})
	}
	server := httptest.NewServer(m.Handler())
	t.Cleanup(server.Close)
	res, err := http.Get(server.URL + metrics.Path)
	require.NoError(t, err)
	defer res.Body.Close()
	data, err := io.ReadAll(res.Body)
	require.NoError(t, err)
	problems, err := promlint.New(strings.NewReader(string(data))).Lint()
	require.NoError(t, err, "it can be parsed")
	assert.Empty(t, problems)
	text := string(data)
	assert.Contains(t, text, "mivlet_disk_free_bytes 42")
	assert.Contains(t, text, `mivlet_http_request_duration_seconds_count{method="GET",route="/pages/{id}",status="200"} 2`)
	assert.Contains(t, text, `mivlet_http_request_duration_seconds_count{method="other",route="/pages/{id}",status="200"} 2`)
	assert.Contains(t, text, `mivlet_http_request_duration_seconds_bucket{method="GET",route="/pages/{id}",status="200",le="0.05"} 2`)
	assert.Contains(t, text, "mivlet_http_sent_bytes_total 4000")
	assert.Contains(t, text, "mivlet_http_received_bytes_total 0")
	assert.NotContains(t, text, "BREW")
	elsewhere, err := http.Get(server.URL + "/")
	require.NoError(t, err)
	elsewhere.Body.Close()
	assert.Equal(t, http.StatusNotFound, elsewhere.StatusCode, "nothing else is here")
}
