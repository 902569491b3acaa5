// Package browser has Chromium, where it is installed on this machine, measure how wide the pages of a site
// show their pictures, and compare what pages look like with what they looked like before. No script of a site runs, and
// nothing is fetched from elsewhere.
package browser

import (
	"context"
	"errors"
	"fmt"
	"net"
	"net/http"
	"os"
	"os/exec"
	"time"
)

// programs are the names under which it may be installed.
var programs = []string{"chromium", "chromium-browser", "chromium-headless-shell", "google-chrome", "chrome"}

// ErrNone means that no browser is installed that could measure.
var ErrNone = errors.New("no Chromium is installed on this machine")

// chromium is a browser that runs.
type chromium struct {
	program string
	profile string        // the folder of what it keeps
	gone    chan struct{} // closed when it has ended
	err     error         // why it ended, then
	stop    func()
}

// start runs a browser that shows a page, until ctx ends or end is called. It fails with [ErrNone].
func start(ctx context.Context, page string) (*chromium, error) {
	c := &chromium{gone: make(chan struct{})}
	for _, name := range programs {
		if at, err := exec.LookPath(name); err == nil {
			c.program = at
			break
		}
	}
	if c.program == "" {
		return nil, ErrNone
	}
	var err error
	if c.profile, err = os.MkdirTemp("", "mivlet-browser-"); err != nil {
		return nil, err
	}
	args := []string{"--headless", "--disable-gpu", "--no-first-run", "--disable-background-networking", "--disable-component-update", "--hide-scrollbars",
		"--user-data-dir=" + c.profile, "--host-resolver-rules=MAP * ~NOTFOUND, EXCLUDE 127.0.0.1", "--remote-debugging-port=0", "--remote-allow-origins=" + origin}
	if os.Geteuid() == 0 {
		args = append(args, "--no-sandbox") // it does not run as root otherwise; no script of a site runs in it
	}
	ctx, c.stop = context.WithCancel(ctx)
	run := exec.CommandContext(ctx, c.program, append(args, page)...) //nolint:gosec // one of the names above
	run.Env = append(os.Environ(), "HOME="+c.profile)
	run.WaitDelay = 5 * time.Second
	inGroup(run)
	if err := run.Start(); err != nil {
		c.stop()
		return nil, errors.Join(fmt.Errorf("%s cannot be run: %w", c.program, err), os.RemoveAll(c.profile))
	}
	go func() {
		c.err = run.Wait()
		close(c.gone)
	}()
	return c, nil
}

// end ends it, and leaves nothing of it.
func (c *chromium) end() {
	c.stop()
	<-c.gone
	_ = os.RemoveAll(c.profile)
}

// serve answers at an address of this machine alone, until end is called.
func serve(by http.Handler) (host string, end func(), err error) {
	listener, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		return "", nil, err
	}
	server := &http.Server{Handler: by, ReadHeaderTimeout: 10 * time.Second}
	go func() { _ = server.Serve(listener) }()
	return "http://" + listener.Addr().String(), func() { _ = server.Close() }, nil
}
