// Package previewer asks a program that makes previews of shared links what it holds, over
// HTTP: the stand-in that ships with Mivlet.
package previewer

import (
	"context"
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"net/url"
	"strings"
	"time"

	"mivlet/core/page"
)

const (
	patience = 20 * time.Second
	largest  = 4 << 20 // bytes of an answer that are read
)

// Client asks one previewer. It is safe for concurrent use.
type Client struct {
	base   string
	client *http.Client
}

// New returns a client of the previewer at an address, such as http://127.0.0.1:8082.
func New(base string) *Client {
	return &Client{strings.TrimSuffix(base, "/"), &http.Client{Timeout: patience}}
}

// Base is the address of the previewer, for people.
func (c *Client) Base() string { return c.base }

// Held returns what is held of a link; what was never shared before is fetched.
func (c *Client) Held(ctx context.Context, address string) (page.Held, error) {
	return c.ask(ctx, http.MethodGet, "/held?address="+url.QueryEscape(address), nil)
}

// Fetch has a link fetched again.
func (c *Client) Fetch(ctx context.Context, address string) (page.Held, error) {
	return c.ask(ctx, http.MethodPost, "/fetch", url.Values{"address": {address}})
}

// Picture returns the picture of a link as a manner shows it, as JPEG.
func (c *Client) Picture(ctx context.Context, address, manner string) ([]byte, error) {
	return c.do(ctx, http.MethodGet, "/picture?address="+url.QueryEscape(address)+"&manner="+url.QueryEscape(manner), nil)
}

func (c *Client) ask(ctx context.Context, method, path string, form url.Values) (page.Held, error) {
	var h page.Held
	data, err := c.do(ctx, method, path, form)
	if err == nil {
		err = json.Unmarshal(data, &h)
	}
	return h, err
}

func (c *Client) do(ctx context.Context, method, path string, form url.Values) ([]byte, error) {
	req, err := http.NewRequestWithContext(ctx, method, c.base+path, strings.NewReader(form.Encode()))
	if err != nil {
		return nil, err
	}
	if form != nil {
		req.Header.Set("Content-Type", "application/x-www-form-urlencoded")
	}
	res, err := c.client.Do(req)
	if err != nil {
		return nil, err
	}
	defer res.Body.Close()
	data, err := io.ReadAll(io.LimitReader(res.Body, largest))
	if err == nil && res.StatusCode != http.StatusOK {
		err = fmt.Errorf("the previewer answers %s: %s", res.Status, strings.TrimSpace(string(data)))
	}
	return data, err
}
