package main

import (
	"context"
	"errors"
	"net"
	"net/http"
	"sync"
	"time"
)

// Requests have a while to be finished when Mivlet ends; those that take longer are
// told to give up, and have a shorter while for that.
const (
	finishing = 10 * time.Second
	givingUp  = 5 * time.Second
)

// servers are those that end together.
type servers struct {
	all     []*http.Server
	running sync.WaitGroup // requests
	context context.Context
	giveUp  context.CancelFunc
}

func newServers() *servers {
	s := &servers{}
	s.context, s.giveUp = context.WithCancel(context.Background())
	return s
}

// add bounds how long a visitor may keep a line busy, and counts the requests.
func (s *servers) add(h http.Handler) *http.Server {
	counted := http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		s.running.Add(1)
		defer s.running.Done()
		h.ServeHTTP(w, r)
	})
	srv := &http.Server{Handler: counted, ReadHeaderTimeout: 10 * time.Second, ReadTimeout: time.Minute,
		WriteTimeout: 2 * time.Minute, IdleTimeout: 2 * time.Minute, MaxHeaderBytes: 64 << 10,
		BaseContext: func(net.Listener) context.Context { return s.context }}
	s.all = append(s.all, srv)
	return srv
}

// end lets requests finish, then has the others give up, and returns when none is at
// work any more.
func (s *servers) end() error {
	err := s.shutdown(finishing)
	if errors.Is(err, context.DeadlineExceeded) {
		s.giveUp()
		if err = s.shutdown(givingUp); errors.Is(err, context.DeadlineExceeded) {
			err = nil
			for _, srv := range s.all {
				err = errors.Join(err, srv.Close()) // lines on which nothing comes any more
			}
		}
	}
	s.giveUp()
	s.running.Wait()
	return err
}

func (s *servers) shutdown(patience time.Duration) error {
	ctx, stop := context.WithTimeout(context.Background(), patience)
	defer stop()
	errs := make([]error, len(s.all))
	var wait sync.WaitGroup
	for i, srv := range s.all {
		wait.Go(func() { errs[i] = srv.Shutdown(ctx) })
	}
	wait.Wait()
	for _, err := range errs {
		if err != nil {
			return err
		}
	}
	return nil
}
