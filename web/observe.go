package web

import (
	"context"
	"crypto/rand"
	"fmt"
	"log/slog"
	"net/http"
	"runtime/debug"
	"time"

	"github.com/go-chi/chi/v5"
	"github.com/go-chi/chi/v5/middleware"

	"mivlet/desk/running"
	"mivlet/internal/traces"
)

// Answered is what is told of a request that was answered.
type Answered struct {
	Method, Route  string // the form of its address, without what was asked for; empty where there is none
	Status         int
	Took           time.Duration
	Received, Sent int64 // bytes; Received is below 0 where it is not known
}

// numberKey is where the number of a request stands.
type numberKey struct{}

// numberHeader tells the number of a request (common practice).
const numberHeader = "X-Request-Id"

// numberOf is the number of a request, by which it is found in the log.
func numberOf(r *http.Request) string {
	number, _ := r.Context().Value(numberKey{}).(string)
	return number
}

// observed gives every request a number, and tells whoever counts of it. What takes long is noted for
// keepers.
func (s *server) observed(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		begun, number := time.Now(), rand.Text()[:10]
		w.Header().Set(numberHeader, number)
		counting := middleware.NewWrapResponseWriter(w, r.ProtoMajor)
		ctx, traced := traces.Request(context.WithValue(r.Context(), numberKey{}, number), r.Method)
		r = r.WithContext(ctx)
		route := ""
		defer func() { traced(route, counting.Status()) }()
		next.ServeHTTP(counting, r)
		if at := chi.RouteContext(r.Context()); at != nil {
			route = at.RoutePattern()
		}
		if w.Header().Get("Content-Type") == eventStream {
			return // it lasts as long as somebody looks
		}
		a := Answered{Method: r.Method, Route: route, Status: counting.Status(), Took: time.Since(begun), Received: r.ContentLength, Sent: int64(counting.BytesWritten())}
		if a.Route != "" {
			s.house.Running.Note(running.Act{At: begun, What: a.Method + " " + a.Route, Took: a.Took})
		}
		if s.opts.Answered != nil {
			s.opts.Answered(a)
		}
	})
}

// recovered has a fault that nobody thought of end one act and not the program: who asked is told, with the
// number under which it stands in the log.
func (s *server) recovered(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		defer func() {
			fault := recover()
			if fault == nil {
				return
			}
			if fault == http.ErrAbortHandler { //nolint:errorlint // it is told apart by what it is (net/http)
				panic(fault)
			}
			slog.Error("a fault in the program", "request", numberOf(r), "address", r.URL.Path, "fault", fmt.Sprint(fault), "stack", string(debug.Stack()))
			if fromHTMX(r) {
				w.Header().Set("HX-Reswap", "none")
			}
			s.write(w, "notice", "notice", http.StatusInternalServerError, failure(r)) // alone: what draws the frame may be what failed
		}()
		next.ServeHTTP(w, r)
	})
}

// eventStream is the media type of what goes on (HTML, server-sent events).
const eventStream = "text/event-stream"
