// Package visitor fetches what is live over HTTP, as any visitor's browser would.
package visitor

import (
	"context"
	"fmt"
	"io"
	"net"
	"net/http"
	"time"
)

const (
	patience = 20 * time.Second
	largest  = 64 << 20 // bytes of an answer that are read
)

// Visitor fetches pages and files. It is safe for concurrent use.
type Visitor struct{ client *http.Client }

// New returns a visitor.
func New() *Visitor { return &Visitor{&http.Client{Timeout: patience}} }

// NewThrough returns a visitor who finds every site at one address, such as 127.0.0.1:8418, whatever it is called.
func NewThrough(addr string) *Visitor {
	through := http.DefaultTransport.(*http.Transport).Clone()
	through.DialContext = func(ctx context.Context, network, _ string) (net.Conn, error) {
		var d net.Dialer
		return d.DialContext(ctx, network, addr)
	}
	return &Visitor{&http.Client{Timeout: patience, Transport: through}}
}

// Fetch returns what an address answers with, and its media type. It fails where the
// answer is not 200.
func (v *Visitor) Fetch(ctx context.Context, address string) (data []byte, mediaType string, err error) {
	req, err := http.NewRequestWithContext(ctx, http.MethodGet, address, nil)
	if err != nil {
		return nil, "", err
	}
	res, err := v.client.Do(req)
	if err != nil {
		return nil, "", err
	}
	defer res.Body.Close()
	if res.StatusCode != http.StatusOK {
		return nil, "", fmt.Errorf("%s answers %s", address, res.Status)
	}
	data, err = io.ReadAll(io.LimitReader(res.Body, largest))
	return data, res.Header.Get("Content-Type"), err
}
