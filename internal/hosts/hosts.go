// Package hosts answers only those who ask for a name that is meant: a page elsewhere
// that gives its own name the address of this machine (DNS rebinding) could otherwise
// read and do here what whoever looks at it may.
package hosts

import (
	"net"
	"net/http"
	"strings"
)

// Check lets requests through whose host is a loopback name or one of names, with any
// port, and answers others with 421 Misdirected Request (RFC 9110, 15.5.20).
func Check(names []string, next http.Handler) http.Handler {
	known := map[string]bool{}
	for _, n := range names {
		known[plain(n)] = true
	}
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if host := plain(r.Host); known[host] || Loopback(host) {
			next.ServeHTTP(w, r)
			return
		}
		http.Error(w, "Mivlet does not answer to this name. Whoever runs it can allow it with --host.", http.StatusMisdirectedRequest)
	})
}

// Loopback reports whether a host is this very machine.
func Loopback(host string) bool {
	if host == "localhost" || strings.HasSuffix(host, ".localhost") { // RFC 6761, 6.3
		return true
	}
	ip := net.ParseIP(host)
	return ip != nil && ip.IsLoopback()
}

// Plain is a host without port, brackets, final dot and capitals.
func Plain(host string) string { return plain(host) }

// plain is a host without port, brackets, final dot and capitals.
func plain(host string) string {
	if name, _, err := net.SplitHostPort(host); err == nil {
		host = name
	}
	return strings.ToLower(strings.TrimSuffix(strings.Trim(host, "[]"), "."))
}
