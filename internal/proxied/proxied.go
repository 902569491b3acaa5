// Package proxied takes over what proxies in front of Mivlet say of whoever asks: the address that they come
// from, the name that they asked for, and whether they did so over TLS (X-Forwarded-For, -Host and -Proto,
// common practice). Only proxies that are trusted are believed; anybody can send these lines.
package proxied

import (
	"fmt"
	"net"
	"net/http"
	"net/netip"
	"strings"

	"github.com/go-chi/chi/v5/middleware"
)

// ParseProxies reads addresses and ranges of addresses, such as 10.0.0.2 and 10.0.0.0/24.
func ParseProxies(texts []string) ([]netip.Prefix, error) {
	var all []netip.Prefix
	for _, text := range texts {
		one, err := netip.ParsePrefix(text)
		if err != nil {
			var at netip.Addr
			if at, err = netip.ParseAddr(text); err == nil {
				at = at.Unmap()
				one = netip.PrefixFrom(at, at.BitLen())
			}
		}
		if err != nil {
			return nil, fmt.Errorf("invalid proxy %q: write an address such as 10.0.0.2, or a range such as 10.0.0.0/24", text)
		}
		all = append(all, one)
	}
	return all, nil
}

// said are the lines that a proxy writes.
var said = []string{"X-Forwarded-For", "X-Forwarded-Host", "X-Forwarded-Proto"}

// Believe takes over what proxies say. Where asking has to go over TLS, who did not ask a proxy so is sent
// there (RFC 9110, 15.4.9).
func Believe(proxies []netip.Prefix, overTLS bool, next http.Handler) http.Handler {
	if len(proxies) == 0 {
		return next
	}
	var texts []string
	for _, p := range proxies {
		texts = append(texts, p.String())
	}
	taken := middleware.ClientIPFromXFF(texts...)(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if from := middleware.GetClientIP(r.Context()); from != "" {
			r.RemoteAddr = net.JoinHostPort(from, "0")
		}
		if host := last(r.Header.Values("X-Forwarded-Host")); host != "" {
			r.Host = host
		}
		if overTLS && strings.EqualFold(last(r.Header.Values("X-Forwarded-Proto")), "http") {
			http.Redirect(w, r, "https://"+r.Host+r.URL.RequestURI(), http.StatusPermanentRedirect)
			return
		}
		next.ServeHTTP(w, r)
	}))
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if trusted(proxies, r.RemoteAddr) {
			taken.ServeHTTP(w, r)
			return
		}
		r = r.Clone(r.Context())
		for _, line := range said {
			r.Header.Del(line)
		}
		next.ServeHTTP(w, r)
	})
}

func trusted(proxies []netip.Prefix, remote string) bool {
	at, err := netip.ParseAddrPort(remote)
	if err != nil {
		return false
	}
	for _, p := range proxies {
		if p.Contains(at.Addr().Unmap().WithZone("")) {
			return true
		}
	}
	return false
}

// last is what the nearest proxy wrote: whoever is before it may have written the rest.
func last(lines []string) string {
	if len(lines) == 0 {
		return ""
	}
	all := strings.Split(lines[len(lines)-1], ",")
	return strings.TrimSpace(all[len(all)-1])
}
