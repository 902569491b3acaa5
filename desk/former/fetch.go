package former

import (
	"bytes"
	"context"
	"fmt"
	"io"
	"net/url"
	"strings"

	"mivlet/desk/access"
	"mivlet/desk/jobs"
	"mivlet/store"
)

// Fetch fetches the site at an address, politely, and hands over its files. It returns the addresses that it left
// out, each with why.
type Fetch func(ctx context.Context, start *url.URL, keep func(at string, data []byte) error, progress func(done, left int)) (leftOut []string, err error)

// FetchFrom begins to fetch a site from the web beside the screens. It is brought in when all of it is there. Only
// a keeper says which; the address is what visitors type, with or without https://.
func (d *Desk) FetchFrom(address string) (*jobs.Job, error) {
	if err := d.MayKeep(); err != nil {
		return nil, err
	}
	if d.fetch == nil {
		return nil, access.Refuse(access.Bad, "Nothing can be fetched from here.", "Bring the site in as an archive or a folder.")
	}
	start, err := addressOf(address)
	if err != nil {
		return nil, access.Because(access.Bad, "That is no address of a site.", "Enter it as visitors do, such as www.club.example.", err)
	}
	d.mu.Lock()
	defer d.mu.Unlock()
	if d.fetching.Runs() {
		return nil, access.Refuse(access.Clash, "Another site is being fetched.", "Wait until that is done, or stop it.")
	}
	later := d.At(d.Beside())
	const steps = 100
	d.fetching = d.jobs.StartLong("Fetching "+start.Host, steps, func(ctx context.Context, j *jobs.Job) error {
		_, err := later.bringFrom(ctx, start, func(done, left int) { j.Come(steps * done / max(done+left, 1)) })
		if ctx.Err() != nil {
			return nil // somebody stopped it: nothing is brought in
		}
		return err
	})
	return d.fetching, nil
}

// Fetching is the job that fetches a site, or that did and failed; nil where there is none to tell of.
func (d *Desk) Fetching() *jobs.Job {
	d.mu.Lock()
	defer d.mu.Unlock()
	return d.fetching.ToTell()
}

// addressOf reads an address as people type it.
func addressOf(text string) (*url.URL, error) {
	text = strings.TrimSpace(text)
	if text != "" && !strings.Contains(text, "://") {
		text = "https://" + text
	}
	u, err := url.Parse(text)
	if err != nil {
		return nil, err
	}
	if u.Scheme != "http" && u.Scheme != "https" || u.Hostname() == "" || u.User != nil {
		return nil, fmt.Errorf("invalid address %q", text)
	}
	if u.Path == "" {
		u.Path = "/"
	}
	u.RawQuery, u.Fragment = "", ""
	return u, nil
}

// bringFrom fetches a site and brings it in, a file at a time.
func (d *Desk) bringFrom(ctx context.Context, start *url.URL, progress func(done, left int)) (store.FormerSite, error) {
	type came struct {
		at   string
		data []byte
	}
	files := make(chan came)
	fetching, stop := context.WithCancel(ctx)
	defer stop()
	var leftOut []string
	var failed error
	go func() {
		defer close(files)
		leftOut, failed = d.fetch(fetching, start, func(at string, data []byte) error {
			select {
			case files <- came{at, data}:
				return nil
			case <-fetching.Done():
				return fetching.Err()
			}
		}, progress)
	}()
	f, err := d.BringFolder(ctx, start.Host, func() (string, io.Reader, error) {
		one, more := <-files
		switch {
		case more:
			return one.at, bytes.NewReader(one.data), nil
		case failed != nil:
			return "", nil, failed
		}
		return "", nil, io.EOF
	}, []string{start.Host})
	stop()
	for range files { // whoever fetches ends before anything is told of what came
	}
	if err == nil && len(leftOut) > 0 {
		err = d.Store.Tx(func(s store.Records) error {
			return d.Trace(s, "", "Fetched %s without %s, such as %s", start.Host, access.Count(len(leftOut), "file"), leftOut[0])
		})
	}
	return f, err
}
