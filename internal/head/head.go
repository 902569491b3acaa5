// Package head answers HEAD like GET, without the body (RFC 9110, 9.3.2).
package head

import (
	"context"
	"net/http"
)

// only says in a context that nothing but the head was asked for.
type only struct{}

// Only reports whether a request that came through [AsGet] asked for the head alone.
func Only(r *http.Request) bool { return r.Context().Value(only{}) != nil }

// AsGet hands a HEAD request on as the GET that it asks about. The server leaves the body
// out by itself, as it knows what was asked.
func AsGet(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if r.Method == http.MethodHead {
			r = r.WithContext(context.WithValue(r.Context(), only{}, true)) // a copy
			r.Method = http.MethodGet
		}
		next.ServeHTTP(w, r)
	})
}
