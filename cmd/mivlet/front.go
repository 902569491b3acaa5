package main

import (
	"context"
	"errors"
	"fmt"
	"io"
	"net"
	"net/http"
	"strings"

	"mivlet/internal/health"
	"mivlet/internal/metrics"
	"mivlet/internal/proxied"
)

// front is what a program answers with, whether it is one house or many.
type front struct {
	app    http.Handler // Mivlet, for names that are meant
	site   http.Handler // the practice site, or those of all houses
	ready  health.Check
	ending <-chan struct{}
	end    func()                                      // whoever only listens goes
	begin  func(ctx context.Context) (wait func())     // what goes on beside the screens, until ctx ends
	tell   func(out io.Writer, reached, public string) // says where it is
	beside []listening
}

// listening is something else that answers at an address of its own.
type listening struct {
	at net.Listener
	by http.Handler
}

// answer answers with a front until ctx ends, then lets requests finish.
func (o *serving) answer(ctx context.Context, out io.Writer, s setup, f front) (err error) {
	all := newServers()
	app := all.add(health.Answer(proxied.Believe(s.proxies, s.overTLS, f.app), f.ending, f.ready))
	if app.TLSConfig, err = o.tls(); err != nil {
		return err
	}
	app.RegisterOnShutdown(f.end)
	if o.metricsAddr != "" {
		watched, err := listen(o.metricsAddr, "")
		if err != nil {
			return err
		}
		defer watched.Close()
		f.beside = append(f.beside, listening{watched, s.counted.Handler()})
		fmt.Fprintf(out, "Numbers        http://%s%s\n", o.metricsAddr, metrics.Path)
	}
	f.beside = append(f.beside, listening{s.public, f.site})
	ended := make(chan error, 1+len(f.beside))
	for _, l := range f.beside {
		server := all.add(l.by)
		go func() { ended <- server.Serve(l.at) }()
	}
	reached := "http://" + s.main.Addr().String()
	if o.cert != "" || o.certified.on {
		reached = "https://" + s.main.Addr().String()
		if o.certified.on {
			reached = "https://" + o.hosts[0] + reached[strings.LastIndex(reached, ":"):]
		}
		go func() { ended <- app.ServeTLS(s.main, o.cert, o.key) }()
	} else {
		go func() { ended <- app.Serve(s.main) }()
	}
	f.tell(out, reached+s.base, "http://"+s.public.Addr().String())
	fmt.Fprintln(out, "Ctrl-C ends it.")
	beside, stop := context.WithCancel(ctx)
	wait := f.begin(beside)
	select {
	case <-ctx.Done():
		fmt.Fprintln(out, "Ending; what was begun is finished first.")
	case err = <-ended:
	}
	stop()
	if errors.Is(err, http.ErrServerClosed) {
		err = nil
	}
	err = errors.Join(err, all.end())
	wait() // nothing may write once the records are closed
	return err
}
