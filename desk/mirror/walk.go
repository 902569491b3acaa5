package mirror

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"io"
	"maps"
	"net/http"
	"net/url"
	"path"
	"slices"
	"strconv"
	"strings"

	"mivlet/core/rules"
	"mivlet/core/site"
	"mivlet/store"
)

// File is a file of the site, and where it comes from.
type File struct {
	site.File
	Picture uint // that it shows; 0 where it shows none
	Version int  // of the picture as it was cut
	Shared  bool // it belongs to the site as a whole, such as a style

	address string // that the site is asked for it; "" where it is kept or written
	status  int    // that the site answers with
	hash    string // of the kept file that it is
	data    []byte // that it is
}

// known is what a page led to when it was asked for last.
type known struct {
	tag   string
	refs  []site.Ref
	files []string // that those led to
	sum   string
	bytes int64
}

// Broken is a link that leads nowhere.
type Broken struct{ On, To string }

// ErrMoving means that the site changed while it was walked through, or while its files were opened.
var ErrMoving = errors.New("the site changed meanwhile")

// siteStyle is the style of whole pages, contentStyle that of what stands in their main element.
const siteStyle, contentStyle = "/site.css", "/content.css"

// sharedFiles are what all pages of the site share.
var sharedFiles = []string{siteStyle, "/" + rules.SpotsFolder + ".css", "/enlarge.js", "/album.js"}

// Memory is what is known of pages from the walk before, under the same links.
type Memory struct {
	pages map[string]known // by their addresses
	links string           // under which that is known

	archive string // the hash of the one that was read last
	sums    map[string]summed
}

// Site is a site as files. Whoever has it closes it.
type Site struct {
	Files  map[string]*File // by their paths
	Broken []Broken
	Left   []string // paths of files that cannot be sent, as they are called
	Links  site.Links
	source
}

// source is where the files of a site come from.
type source interface {
	open(f *File) (io.ReadCloser, error)
	// was is the sum of what may lie at a path where the site is sent for the first time; "" where nothing may.
	was(path string) (string, error)
	io.Closer
}

// walk goes through the site as visitors can.
type walk struct {
	*Desk
	links  site.Links
	layout site.Layout
	memory *Memory
	pages  map[string]bool              // paths of what is a page
	live   map[string][]store.Published // what else visitors get, by its path
	moved  map[string]string
	files  map[string]*File // by their paths
	queue  []*File          // pages that were not looked at
	broken []Broken
	at     string // of the page that is looked at
	failed error
}

// Target is where the files are to be served, and how.
type Target struct {
	Base     string // public address
	Relative bool   // links within the site are relative to their page
	Form     string // how the server is told where pages have moved; see [site.Form]
	Layout   string // of the house's own; empty for the built-in one
}

// Walk returns all files that the live site consists of. It asks for every page, follows what the pages
// show, and so finds all of it and nothing else. A page that has not changed since the walk before, as
// memory knows it, is not written again.
func (d *Desk) Walk(to Target, memory *Memory) (*Site, error) {
	base, err := site.ParseBase(to.Base)
	if err != nil {
		return nil, err
	}
	var layout site.Layout
	if to.Layout != "" {
		if layout, err = site.ParseLayout(to.Layout); err != nil {
			return nil, err
		}
	}
	for range 5 {
		w := walk{Desk: d, layout: layout, links: site.Links{Base: base, Relative: to.Relative}, memory: memory, files: map[string]*File{}}
		if print := fmt.Sprint(to.Base, to.Relative, to.Layout); memory.links != print {
			memory.links, memory.pages = print, map[string]known{}
		}
		if err = w.all(site.Form(to.Form)); !errors.Is(err, ErrMoving) {
			return &Site{Files: maps.Clone(w.files), Broken: w.broken, Links: w.links, source: &w}, err
		}
	}
	return nil, err
}

// Open opens a file of the site. What it reads has the sum that was found, or opening it fails.
func (s *Site) Open(f *File) (io.ReadCloser, error) { return s.open(f) }

// Was is the sum of what may lie at a path, and be overwritten, though it was not sent: a former site, as it was brought
// in. It is "" where nothing may.
func (s *Site) Was(path string) (string, error) { return s.was(path) }

func (w *walk) was(string) (string, error) { return "", nil }

// Close does nothing: the live site stays open.
func (w *walk) Close() error { return nil }

func (w *walk) all(form site.Form) error {
	if err := w.know(); err != nil {
		return err
	}
	gone, err := w.Store.GonePaths()
	if err != nil {
		return err
	}
	for _, p := range w.paths() {
		w.page(p, site.PageFile(p), site.Page, http.StatusOK)
	}
	w.page("/"+site.NothingHere, site.NothingHere, site.Page, http.StatusNotFound)
	if form == site.PagesForm {
		for _, p := range gone {
			w.page(p, site.PageFile(p), site.Page, http.StatusGone)
		}
	}
	for len(w.queue) > 0 {
		next := w.queue[0]
		w.queue = w.queue[1:]
		if err := w.look(next); err != nil {
			return err
		}
	}
	for file, data := range site.Tell(form, site.Changes{Moved: w.moved, Gone: gone}, w.links) {
		kind := site.Server
		if form == site.PagesForm {
			kind = site.Page
		}
		if w.files[file] == nil {
			w.files[file] = &File{File: site.File{Path: file, Sum: store.HashOf(data), Bytes: int64(len(data)), Kind: kind}, data: data}
		}
	}
	return nil
}

// know reads what names the files of addresses.
func (w *walk) know() error {
	live, err := w.Store.LiveSite()
	if err != nil {
		return err
	}
	all, err := w.Store.AllPublished()
	w.moved, w.pages, w.live = live.Moved, map[string]bool{"/": true}, map[string][]store.Published{}
	for _, s := range w.Rules().Sections {
		w.pages["/"+s.Code] = true
	}
	for _, f := range all {
		if f.MediaType == store.PageType {
			w.pages[f.Path] = true
		} else {
			w.live[f.Path] = append(w.live[f.Path], f)
		}
	}
	return err
}

// paths are those of a walk, in order.
func (w *walk) paths() []string { return slices.Sorted(maps.Keys(w.pages)) }

// page notes a page that is wanted.
func (w *walk) page(address, file string, kind site.Kind, status int) {
	if w.files[file] == nil {
		w.files[file] = &File{File: site.File{Path: file, Kind: kind}, address: address, status: status}
		w.queue = append(w.queue, w.files[file])
	}
}

// look asks for a page, and notes all that it shows.
func (w *walk) look(m *File) error {
	w.at = m.address
	was := w.memory.pages[m.address]
	res := w.ask(m.address, was.tag)
	if res.status == http.StatusNotModified {
		if w.stillLeads(was) {
			m.Sum, m.Bytes = was.sum, was.bytes
			return w.failed
		}
		res = w.ask(m.address, "")
	}
	if res.status != m.status {
		return fmt.Errorf("%w: %s answers %d, not %d", ErrMoving, m.address, res.status, m.status)
	}
	var refs []site.Ref
	var files []string
	data, err := w.written(m, res, func(r site.Ref) (string, bool) {
		file, ok := w.file(r)
		refs, files = append(refs, r), append(files, file)
		return file, ok
	})
	if err = errors.Join(err, w.failed); err != nil {
		return err
	}
	m.Sum, m.Bytes = store.HashOf(data), int64(len(data))
	if tag := res.header.Get("ETag"); tag != "" && m.Kind == site.Page {
		w.memory.pages[m.address] = known{tag, refs, files, m.Sum, m.Bytes}
	}
	return nil
}

// written is a page as it is sent: with links to files and, where the house has one, in its own layout.
func (w *walk) written(m *File, res *answer, file func(site.Ref) (string, bool)) ([]byte, error) {
	links := w.links
	if m.Path == site.NothingHere {
		links.Relative = false // it is shown at any address
	}
	data, err := site.Rewrite(res.body.Bytes(), pathOf(m.address), m.Path, links, file)
	if err != nil || !w.layout.Any() || m.Kind != site.Page {
		return data, err
	}
	parts, err := site.TakeApart(data)
	if err != nil {
		return nil, fmt.Errorf("%s: %w", m.address, err)
	}
	return w.layout.Fill(parts), nil
}

// stillLeads notes what a page shows that has not changed, and reports whether all that it leads to
// is kept under the same names as before.
func (w *walk) stillLeads(k known) bool {
	same := true
	for i, r := range k.refs {
		file, _ := w.file(r)
		same = same && file == k.files[i]
	}
	return same
}

// file names the file of an address, and notes that it is wanted.
func (w *walk) file(r site.Ref) (string, bool) {
	q, _ := url.ParseQuery(r.Query)
	spot, inSpots := strings.CutPrefix(r.Path, "/"+rules.SpotsFolder+"/")
	switch {
	case r.Path == siteStyle && w.layout.Any():
		return w.common(contentStyle)
	case slices.Contains(sharedFiles, r.Path):
		return w.common(r.Path)
	case inSpots && strings.HasPrefix(spot, "follow/"):
		n, _ := strconv.ParseUint(path.Base(spot), 10, 63)
		to, err := w.banners.Follow(uint(n), false)
		if err != nil {
			return "", w.fail(fmt.Errorf("%w: banner %d leads nowhere", ErrMoving, n))
		}
		if u, err := url.Parse(to); err == nil && u.Host == "" {
			return w.file(site.Ref{Path: path.Clean("/" + u.Path), Query: u.RawQuery})
		}
		return to, true
	case inSpots && q.Get("page") != "":
		n, _ := strconv.ParseUint(q.Get("page"), 10, 63)
		file := site.FrameFile(r.Path, uint(n))
		w.page(r.Path+"?"+r.Query, file, site.Frame, http.StatusOK)
		return file, true
	case q.Get("v") != "":
		return w.kept(r.Path, q.Get("v"))
	case w.pages[r.Path]:
		return site.PageFile(r.Path), true
	case w.moved[r.Path] != "":
		return site.PageFile(w.moved[r.Path]), true
	}
	if inSpots || len(w.live[r.Path]) == 1 {
		return w.kept(r.Path, "")
	}
	if r.Shown {
		return "", w.fail(fmt.Errorf("%w: %s shows %s, which is not there", ErrMoving, w.at, r.Path))
	}
	if b := (Broken{w.at, r.Path}); !slices.Contains(w.broken, b) {
		w.broken = append(w.broken, b)
	}
	return site.PageFile(r.Path), true
}

// fail keeps the first of what went wrong.
func (w *walk) fail(err error) bool {
	if w.failed == nil {
		w.failed = err
	}
	return false
}

// common notes a file that all pages share.
func (w *walk) common(at string) (string, bool) {
	for _, m := range w.files {
		if m.Shared && m.address == at {
			return m.Path, true
		}
	}
	res := w.ask(at, "")
	if res.status != http.StatusOK {
		return "", w.fail(fmt.Errorf("%s answers %d", at, res.status))
	}
	s := store.HashOf(res.body.Bytes())
	file := site.MarkedFile(at, store.Mark(s))
	w.files[file] = &File{File: site.File{Path: file, Sum: s, Bytes: int64(res.body.Len())}, address: at, status: http.StatusOK, data: res.body.Bytes(), Shared: true}
	return file, true
}

// kept notes a file that was published.
func (w *walk) kept(at, mark string) (string, bool) {
	f, err := w.published(at, mark)
	if errors.Is(err, store.ErrNotFound) {
		return "", w.fail(fmt.Errorf("%w: %s shows %s, which is not there", ErrMoving, w.at, at))
	}
	if err != nil {
		return "", w.fail(err)
	}
	file := site.MarkedFile(at, store.Mark(f.Hash))
	if w.files[file] == nil {
		info, err := w.Store.Files.Stat(f.Hash)
		if err != nil {
			return "", w.fail(err)
		}
		w.files[file] = &File{File: site.File{Path: file, Sum: f.Hash, Bytes: info.Size}, hash: f.Hash, Picture: f.PictureID, Version: f.PictureVersion}
	}
	return file, true
}

// published finds what is published at an address.
func (w *walk) published(at, mark string) (store.Published, error) {
	if strings.HasPrefix(at, "/"+rules.SpotsFolder+"/") { // files of banners
		return w.Store.PublishedAt(at, mark)
	}
	for _, f := range w.live[at] {
		if strings.HasPrefix(f.Hash, mark) {
			return f, nil
		}
	}
	return store.Published{}, store.ErrNotFound
}

// open opens a file to be sent. What it reads has the sum that was planned, or reading it fails.
func (w *walk) open(m *File) (io.ReadCloser, error) {
	switch {
	case m.data != nil:
		return io.NopCloser(bytes.NewReader(m.data)), nil
	case m.hash != "":
		return w.Store.Files.Open(m.hash)
	}
	w.at = m.address
	res := w.ask(m.address, "")
	data, err := w.written(m, res, w.file)
	if err = errors.Join(err, w.failed); err != nil {
		return nil, err
	}
	if res.status != m.status || store.HashOf(data) != m.Sum {
		return nil, fmt.Errorf("%w: %s", ErrMoving, m.address)
	}
	return io.NopCloser(bytes.NewReader(data)), nil
}

// answer is what the site answers with.
type answer struct {
	status int
	header http.Header
	body   bytes.Buffer
}

func (a *answer) Header() http.Header { return a.header }
func (a *answer) WriteHeader(status int) {
	if a.status == 0 {
		a.status = status
	}
}
func (a *answer) Write(p []byte) (int, error) {
	a.WriteHeader(http.StatusOK)
	return a.body.Write(p)
}

// bare is how long somebody waits, and nothing of what else a request carries.
type bare struct{ context.Context }

func (bare) Value(any) any { return nil }

// ask asks the site as a visitor does who looks ahead, which is not counted (Fetch, Sec-Purpose).
func (d *Desk) ask(address, tag string) *answer {
	a := &answer{header: http.Header{}}
	handler := d.site.Load()
	r, err := http.NewRequestWithContext(bare{d.Context}, http.MethodGet, address, nil)
	if err != nil || handler == nil {
		a.status = http.StatusInternalServerError
		return a
	}
	r.Header.Set("Sec-Purpose", "prefetch")
	if tag != "" {
		r.Header.Set("If-None-Match", tag)
	}
	(*handler).ServeHTTP(a, r)
	a.WriteHeader(http.StatusOK)
	return a
}

func pathOf(address string) string {
	at, _, _ := strings.Cut(address, "?")
	return at
}
