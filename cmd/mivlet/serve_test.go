package main

import (
	"bytes"
	"context"
	"net"
	"net/http"
	"regexp"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// told collects what a program says while it runs.
type told struct {
	mu sync.Mutex
	b  bytes.Buffer
}

func (l *told) Write(p []byte) (int, error) {
	l.mu.Lock()
	defer l.mu.Unlock()
	return l.b.Write(p)
}

func (l *told) String() string {
	l.mu.Lock()
	defer l.mu.Unlock()
	return l.b.String()
}

// All three servers answer, on free ports where the usual ones are taken, and end
// cleanly; what was kept is there at the next start.
func TestServingEndsCleanlyAndKeepsWhatItHas(t *testing.T) {
	t.Parallel()
	for _, usual := range []string{usualAddr, usualSite, usualPreviewer} {
		if l, err := net.Listen("tcp", usual); err == nil {
			defer l.Close()
		}
	}
	dir := t.TempDir()
	for range 2 {
		var out told
		ctx, stop := context.WithCancel(context.Background())
		ended := make(chan error, 1)
		o := serving{data: dir}
		go func() { ended <- o.run(ctx, &out, true) }()
		address := regexp.MustCompile(`http://\S+`)
		require.Eventually(t, func() bool { return len(address.FindAllString(out.String(), -1)) == 3 }, 2*time.Minute, 20*time.Millisecond)
		all := address.FindAllString(out.String(), -1)
		assert.NotContains(t, out.String(), usualAddr)
		assert.Contains(t, out.String(), dir)
		for _, at := range []string{all[0] + "/pages", all[0] + "/healthz", all[0] + "/readyz", all[1] + "/", all[2] + "/"} {
			res, err := http.Get(at)
			require.NoError(t, err)
			assert.Equal(t, http.StatusOK, res.StatusCode, at)
			res.Body.Close()
		}
		stop()
		select {
		case err := <-ended:
			assert.NoError(t, err)
		case <-time.After(2 * time.Minute):
			t.Fatal("it does not end")
		}
	}
}

func TestAnAddressThatIsTakenIsToldByName(t *testing.T) {
	t.Parallel()
	l, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	defer l.Close()
	o := serving{data: t.TempDir(), addr: l.Addr().String()}
	err = o.run(context.Background(), &strings.Builder{}, false)
	assert.ErrorContains(t, err, l.Addr().String())
}
