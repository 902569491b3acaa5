package hosts

import (
	"fmt"
	"net/url"
)

// Confidential parses the address of a server that a password or a signature goes to: one with TLS,
// or of this very machine.
func Confidential(address string) (*url.URL, error) {
	u, err := url.Parse(address)
	switch {
	case err != nil || u.Host == "" || u.Scheme != "https" && u.Scheme != "http":
		return nil, fmt.Errorf("invalid address %q: it begins with https://", address)
	case u.Scheme == "http" && !Loopback(u.Hostname()):
		return nil, fmt.Errorf("invalid address %q: a password would be sent so that others can read it; use https://", address)
	}
	return u, nil
}
