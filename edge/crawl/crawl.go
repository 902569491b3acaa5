// Package crawl fetches a site from the web, politely: what its robots.txt asks is done, requests come one after
// the other with a rest between them, and nothing is fetched from other hosts.
package crawl

import (
	"context"
	"errors"
	"fmt"
	"io"
	"mime"
	"net/http"
	"net/url"
	"path"
	"strings"
	"time"

	"mivlet/core/survey"
)

// Options say how a site is fetched.
type Options struct {
	Client *http.Client  // nil for a usual one
	Agent  string        // what the program calls itself in requests, such as Mivlet/1.0 (+https://club.example)
	Rest   time.Duration // between two requests, where the site asks for no longer one
	Pages  int           // how many are fetched, at most; [MostPages] where 0
	Bytes  int64         // of all files, at most; [MostBytes] where 0
	// Keep takes a file, at the path at which the site has it. Its address may have had none: a page in a folder
	// becomes index.html in that.
	Keep func(at string, data []byte) error
	// Have, where it is not nil, tells of files that came before, at their paths: they are handed to Keep again
	// without being asked for. Pages whose paths do not tell where they lead are asked for all the same.
	Have func(at string) (data []byte, ok bool)
	// Progress, where it is not nil, is told how many files came and how many addresses are known that were not
	// asked for yet.
	Progress func(done, left int)
}

// Limits where nobody says others.
const (
	MostPages = 2000
	MostBytes = 4 << 30
	mostFile  = 64 << 20 // bytes of one file; a larger one is left out

	longestWait = 10 * time.Second
	patience    = 30 * time.Second // for one request
	name        = "mivlet"         // in robots.txt
)

// Left is an address that was not fetched, and why.
type Left struct{ Address, Why string }

// Result is what came of it.
type Result struct {
	Pages, Files int
	Bytes        int64
	Left         []Left
}

// crawling is a site while it is fetched.
type crawling struct {
	Options
	start  *url.URL
	below  string // what the paths of pages begin with
	robots robots
	queue  []*url.URL
	known  map[string]bool // addresses that were asked for, or will be
	kept   map[string]bool // paths
	last   time.Time
	result Result
}

// ErrForbidden means that the site asks programs not to fetch it.
var ErrForbidden = errors.New("its robots.txt asks not to fetch it")

// Site fetches a site, beginning at an address of it. One that ends with a slash is a part of a site: no pages but
// those below it are fetched, with whatever they show. It fails where that cannot be got; of what else cannot be,
// Result tells.
func Site(ctx context.Context, start *url.URL, o Options) (Result, error) {
	if start.Scheme != "http" && start.Scheme != "https" || start.Host == "" {
		return Result{}, fmt.Errorf("invalid address %q: it begins with https://", start)
	}
	if o.Pages == 0 {
		o.Pages = MostPages
	}
	if o.Bytes == 0 {
		o.Bytes = MostBytes
	}
	if o.Client == nil {
		o.Client = &http.Client{Timeout: patience, Transport: outward()}
	}
	client := *o.Client
	client.CheckRedirect = func(r *http.Request, via []*http.Request) error {
		if r.URL.Host != start.Host || len(via) > 5 {
			return http.ErrUseLastResponse
		}
		return nil
	}
	o.Client = &client
	c := &crawling{Options: o, start: start, known: map[string]bool{}, kept: map[string]bool{}}
	if strings.HasSuffix(start.Path, "/") {
		c.below = start.Path
	}
	if err := c.readRobots(ctx); err != nil {
		return c.result, err
	}
	c.want(start)
	for first := true; len(c.queue) > 0; first = false {
		u := c.queue[0]
		c.queue = c.queue[1:]
		err := c.fetch(ctx, u)
		switch {
		case ctx.Err() != nil:
			return c.result, ctx.Err()
		case err != nil && (first || errors.As(err, new(*keepError))):
			return c.result, err
		case err != nil:
			c.leave(u, err.Error())
		}
		if c.Progress != nil {
			c.Progress(c.result.Files, len(c.queue))
		}
	}
	return c.result, nil
}

// keepError is an error of whoever keeps the files.
type keepError struct{ error }

func (e *keepError) Unwrap() error { return e.error }

func (c *crawling) leave(u *url.URL, why string) {
	c.result.Left = append(c.result.Left, Left{u.String(), why})
}

// readRobots asks the site what it wants of programs. One that has nothing to say allows all; one that cannot
// answer now is left alone (RFC 9309, 2.3.1).
func (c *crawling) readRobots(ctx context.Context) error {
	res, err := c.get(ctx, c.start.ResolveReference(&url.URL{Path: "/robots.txt"}))
	if err != nil {
		return err
	}
	defer res.Body.Close()
	switch {
	case res.StatusCode >= 500:
		return fmt.Errorf("its robots.txt cannot be read now: %s", res.Status)
	case res.StatusCode == http.StatusOK:
		text, err := io.ReadAll(io.LimitReader(res.Body, mostRobots))
		if err != nil {
			return err
		}
		c.robots = readRobots(text, name)
	}
	c.Rest = max(c.Rest, c.robots.wait)
	return nil
}

// want notes an address that is to be asked for, if it is one of the site.
func (c *crawling) want(u *url.URL) {
	u = &url.URL{Scheme: c.start.Scheme, Host: u.Host, Path: u.Path, RawPath: u.RawPath, RawQuery: u.RawQuery}
	if u.Path == "" {
		u.Path = "/"
	}
	if u.Host != c.start.Host || looksLikeAPage(u) && !strings.HasPrefix(u.Path, c.below) {
		return
	}
	if u.RawQuery != "" && looksLikeAPage(u) {
		if !c.known[u.String()] {
			c.known[u.String()] = true
			c.leave(u, "what it shows follows from a question mark, which no file has")
		}
		return
	}
	u.RawQuery = "" // such as ?v=3 behind a style
	if key := u.String(); !c.known[key] {
		c.known[key] = true
		c.queue = append(c.queue, u)
	}
}

// looksLikeAPage tells pages by their addresses, as far as those go.
func looksLikeAPage(u *url.URL) bool { return path.Ext(u.Path) == "" || survey.IsPage(u.Path) }

// get asks for an address, after a rest.
func (c *crawling) get(ctx context.Context, u *url.URL) (*http.Response, error) {
	select {
	case <-ctx.Done():
		return nil, ctx.Err()
	case <-time.After(time.Until(c.last.Add(c.Rest))):
	}
	r, err := http.NewRequestWithContext(ctx, http.MethodGet, u.String(), nil)
	if err != nil {
		return nil, err
	}
	r.Header.Set("User-Agent", c.Agent)
	defer func() { c.last = time.Now() }()
	return c.Client.Do(r)
}

// fetch fetches one address, and notes what it leads to.
func (c *crawling) fetch(ctx context.Context, u *url.URL) error {
	if !c.robots.allows(u.EscapedPath()) {
		return ErrForbidden
	}
	if data, page, had := c.had(u); had {
		return c.came(u, u, data, page, path.Ext(u.Path) == ".css")
	}
	res, err := c.get(ctx, u)
	if err != nil {
		return err
	}
	defer res.Body.Close()
	if res.StatusCode != http.StatusOK {
		return fmt.Errorf("the answer is %s", res.Status)
	}
	kind, _, _ := mime.ParseMediaType(res.Header.Get("Content-Type"))
	page := kind == "text/html" || kind == "application/xhtml+xml"
	data, err := io.ReadAll(io.LimitReader(res.Body, mostFile+1))
	if err != nil {
		return err
	}
	if len(data) > mostFile {
		return fmt.Errorf("it has more than %d MB", mostFile>>20)
	}
	return c.came(u, res.Request.URL, data, page, kind == "text/css")
}

// had is a file that came before. A page without an ending is none of them: it may have been led on to from
// somewhere else, to where its own links do not start.
func (c *crawling) had(u *url.URL) (data []byte, page, had bool) {
	if c.Have == nil || looksLikeAPage(u) && !survey.IsPage(u.Path) && !strings.HasSuffix(u.Path, "/") {
		return nil, false, false
	}
	page = looksLikeAPage(u)
	data, had = c.Have(pathOf(u, page))
	return data, page, had
}

// came hands a file on, and notes what it leads to. from is where it came from at last.
func (c *crawling) came(u, from *url.URL, data []byte, page, style bool) error {
	if page && c.result.Pages >= c.Pages {
		return fmt.Errorf("more than %d pages are there", c.Pages)
	}
	if c.result.Bytes+int64(len(data)) > c.Bytes {
		return fmt.Errorf("more than %d MB are there", c.Bytes>>20)
	}
	if err := c.keep(u, page, data); err != nil {
		return err
	}
	if page || style {
		return c.follow(from, data, page)
	}
	return nil
}

// pathOf is the path that servers find a file at again.
func pathOf(u *url.URL, page bool) string {
	at := strings.TrimPrefix(path.Clean(u.Path), "/")
	switch {
	case at == "" || at == ".":
		at = "index.html"
	case page && strings.HasSuffix(u.Path, "/"):
		at += "/index.html"
	case page && !survey.IsPage(at):
		at += ".html"
	}
	return at
}

// keep hands a file on.
func (c *crawling) keep(u *url.URL, page bool, data []byte) error {
	at := pathOf(u, page)
	if c.kept[at] {
		return nil
	}
	c.kept[at] = true
	c.result.Files++
	c.result.Bytes += int64(len(data))
	if page {
		c.result.Pages++
	}
	if err := c.Keep(at, data); err != nil {
		return &keepError{err}
	}
	return nil
}

// follow notes what a page or a style sheet leads to. from is where it came from at last.
func (c *crawling) follow(from *url.URL, data []byte, page bool) error {
	all, base, err := survey.Leads(from.Path, data, page)
	if err != nil {
		return err
	}
	if base != "" {
		if b, err := url.Parse(base); err == nil {
			from = from.ResolveReference(b)
		}
	}
	for _, address := range all {
		if u, err := url.Parse(strings.TrimSpace(strings.ReplaceAll(address, " ", "%20"))); err == nil {
			if u = from.ResolveReference(u); u.Scheme == "http" || u.Scheme == "https" {
				c.want(u)
			}
		}
	}
	return nil
}
