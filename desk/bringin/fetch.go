package bringin

import (
	"archive/zip"
	"bytes"
	"context"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"net/url"
	"strings"

	"mivlet/desk/access"
	"mivlet/desk/jobs"
	"mivlet/store"
)

// Fetch fetches the site at an address, politely. It returns the addresses that it left out, each with why.
type Fetch func(ctx context.Context, start *url.URL, into Into) (leftOut []string, err error)

// Into is where a site is fetched into.
type Into struct {
	Have     func(at string) (data []byte, ok bool) // a file that came before, and is not fetched again; nil where none did
	Keep     func(at string, data []byte) error     // is handed each file
	Progress func(done, left int)
}

// toFetch is a site that is to be fetched.
type toFetch struct {
	Start string `json:"start"`
}

// fetchSteps are what fetching is worth.
const fetchSteps = 100

// oneInTheHouse is what fetching is about: one site is fetched at a time.
const oneInTheHouse = 1

// FetchFrom begins to fetch a site from the web beside the screens, or goes on where a part of it is here already.
// When it is stopped, what has come is brought in as a part. Only a keeper says which; the address is what visitors
// type, with or without https://.
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
	j, err := d.fetching.Begin(d.jobs, oneInTheHouse, "Fetching "+start.Host, []jobs.Of[toFetch]{{Steps: fetchSteps, Of: toFetch{start.String()}}})
	if errors.Is(err, jobs.ErrGoesOn) {
		return nil, access.Refuse(access.Clash, "Another site is being fetched.", "Wait until that is done, or stop it.")
	}
	return j, err
}

// FetchOn goes on with a site of which a part was fetched.
func (d *Desk) FetchOn(id uint) (*jobs.Job, error) {
	if err := d.MayKeep(); err != nil {
		return nil, err
	}
	f, err := d.Store.FormerSite(id)
	if err != nil {
		return nil, access.NotFound(err, "That former site")
	}
	if !f.Unfinished {
		return nil, access.Refuse(access.Bad, "All of "+f.Title+" is here.", "Fetch it again from its address if it has changed.")
	}
	if job, err := d.former.Mending(id); err != nil {
		return nil, err
	} else if job != 0 {
		return nil, access.Refuse(access.Clash, f.Title+" is being mended.", "Stop that first, or wait until it is done.")
	}
	return d.FetchFrom(f.Start)
}

// fetchIt does what was begun, also when the program was started again meanwhile.
func (d *Desk) fetchIt(ctx context.Context, j *jobs.Job, of toFetch) error {
	if err := d.MayKeep(); err != nil { // they may keep the house no longer
		return err
	}
	start, err := addressOf(of.Start)
	if err != nil {
		return err
	}
	if d.fetch == nil {
		return access.Refuse(access.Bad, "Nothing can be fetched from here.", "Bring the site in as an archive or a folder.")
	}
	return d.bringFrom(ctx, start, func(done, left int) { j.Come(fetchSteps * done / max(done+left, 1)) })
}

// Fetching is the job that fetches a site, or that did and failed; 0 where there is none to tell of. site is the
// one that it fetches the rest of; 0 where it is a new one.
func (d *Desk) Fetching() (job, site uint, err error) {
	if job, err = d.fetching.ToTell(d.jobs, oneInTheHouse); err != nil || job == 0 {
		return 0, 0, err
	}
	of, err := d.fetching.Task(d.jobs, job)
	if err != nil {
		return 0, 0, err
	}
	start, err := url.Parse(of.Start)
	if err != nil {
		return 0, 0, err
	}
	f, err := d.begun(start)
	return job, f.ID, err
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

// begun is the part of a site that was fetched before; a new site where none was.
func (d *Desk) begun(start *url.URL) (store.FormerSite, error) {
	all, err := d.Store.FormerSites()
	for _, f := range all {
		if f.Unfinished && f.Start == start.String() {
			return f, err
		}
	}
	return store.FormerSite{Title: titleOf(start.Host), Hosts: []string{start.Host}, Start: start.String()}, err
}

// bringFrom fetches a site and brings it in, a file at a time: what came before it is stopped, too.
func (d *Desk) bringFrom(ctx context.Context, start *url.URL, progress func(done, left int)) error {
	f, err := d.begun(start)
	if err != nil {
		return err
	}
	into := Into{Progress: progress}
	if f.ID != 0 {
		part, err := d.Store.Files.Open(f.Hash)
		if err != nil {
			return err
		}
		defer part.Close()
		z, err := zip.NewReader(part, part.Size())
		if err != nil {
			return err
		}
		into.Have = func(at string) ([]byte, bool) {
			data, err := fs.ReadFile(z, at)
			return data, err == nil
		}
	}
	type came struct {
		at   string
		data []byte
	}
	files := make(chan came)
	broken, giveUp := context.WithCancel(ctx)
	defer giveUp()
	into.Keep = func(at string, data []byte) error {
		select {
		case files <- came{at, data}:
			return nil
		case <-broken.Done():
			return broken.Err()
		}
	}
	var leftOut []string
	var failed error
	go func() {
		defer close(files)
		leftOut, failed = d.fetch(broken, start, into)
	}()
	next := func() (string, io.Reader, error) {
		one, more := <-files
		switch {
		case more:
			return one.at, bytes.NewReader(one.data), nil
		case ctx.Err() != nil: // somebody stopped it, or the house closes
			f.Unfinished = true
			return "", nil, io.EOF
		case failed != nil:
			return "", nil, failed
		}
		f.Unfinished = false
		return "", nil, io.EOF
	}
	err = d.takeFolder(context.WithoutCancel(ctx), start.Host, next, &f)
	giveUp()
	for range files { // whoever fetches ends before anything is told of what came
	}
	if ctx.Err() != nil {
		return ctx.Err()
	}
	if err == nil && len(leftOut) > 0 {
		err = d.Store.Tx(func(s store.Records) error {
			return d.Trace(s, "", "Fetched %s without %s, such as %s", start.Host, access.Count(len(leftOut), "file"), leftOut[0])
		})
	}
	return err
}
