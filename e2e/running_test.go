package e2e

import (
	"io"
	"net/http"
	"net/http/httptest"
	"net/url"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/internal/servertest"
)

// A keeper sees that the house keeps backups, and that they would come back; after a disk has failed, the
// program runs on what was restored. Nobody else sees it.
func TestAKeeperSeesHowItRuns(t *testing.T) {
	t.Parallel()
	data, safe := t.TempDir(), filepath.Join(t.TempDir(), "backups")
	copySeed(t, data)
	watched := servertest.FreeAddress(t)
	var traced collected
	collector := httptest.NewServer(&traced)
	t.Cleanup(collector.Close)
	h := running(t, "demo", data, false, "--backup-to", safe, "--metrics-addr", watched, "--traces-to", collector.URL)
	h.signIn(t, "/sign-in/demo", url.Values{"person": {"1"}})
	h.hosts(t)
	b := browser(t)
	p := open(t, b, h.app+"/people", 1280, 800, 1)
	hit(t, p, `a[href="/running"]`)
	waitText(t, p, "h1", "How it runs")
	require.Eventually(t, func() bool { // it is written and tried beside the work
		return strings.Contains(body(t, h.app+"/running"), "would come back whole")
	}, patience, 100*time.Millisecond)
	p.MustReload().MustWaitLoad()
	assert.Contains(t, p.MustElement("main").MustText(), "Every day to "+safe)
	accessible(t, p, "how it runs")

	numbers := body(t, "http://"+watched+"/metrics")
	assert.Contains(t, numbers, `route="/running",status="200"`)
	assert.Regexp(t, `mivlet_backup_newest_timestamp_seconds 1\.\d+e\+09`, numbers)
	assert.Contains(t, numbers, "mivlet_backup_faults 0")
	looked, err := h.client.PostForm(h.app+"/live/4/check", nil)
	require.NoError(t, err)
	looked.Body.Close()
	for _, told := range []string{"GET /running", "POST /live/{id}/check", "look at a live page"} {
		require.Eventually(t, func() bool { return strings.Contains(traced.all(), told) }, patience, 100*time.Millisecond, told)
	}
	for _, private := range []string{"Ines", "autumn", "Brindlemere", "127.0.0.1"} {
		assert.NotContains(t, numbers, private)
		assert.NotContains(t, traced.all(), private)
	}
	assert.NotContains(t, body(t, h.app+"/metrics"), "mivlet_", "they are at an address of their own")

	res, err := h.client.PostForm(h.app+"/sign-in/demo", url.Values{"person": {"2"}})
	require.NoError(t, err)
	res.Body.Close()
	res, err = h.client.Get(h.app + "/running")
	require.NoError(t, err)
	res.Body.Close()
	assert.Equal(t, 403, res.StatusCode)

	back := filepath.Join(t.TempDir(), "back")
	out, err := exec.Command(program, "restore", safe, "--data", back).CombinedOutput() //nolint:gosec // the program under test
	require.NoError(t, err, "%s", out)
	require.NoError(t, os.Rename(data, data+"-failed"))
	again := running(t, "serve", back, false)
	sound(t, back)
	assert.Contains(t, body(t, again.site+"/"+demoPages[3]), "mayfly larvae", "visitors see what they saw")
}

// collected is what a collector was sent.
type collected struct {
	mu  sync.Mutex
	got strings.Builder
}

func (c *collected) ServeHTTP(_ http.ResponseWriter, r *http.Request) {
	c.mu.Lock()
	defer c.mu.Unlock()
	_, _ = io.Copy(&c.got, r.Body)
}

func (c *collected) all() string {
	c.mu.Lock()
	defer c.mu.Unlock()
	return c.got.String()
}
