// Package window lets the practice site see what a desk has published.
package window

import (
	"errors"
	"io"
	"strings"

	"mivlet/core/page"
	"mivlet/desk"
	"mivlet/desk/publish"
	"mivlet/practice"
	"mivlet/store"
)

// Of lets the practice site see what a desk has published.
type Of struct{ Desk *desk.Desk }

// Open does what [practice.Source] says.
func (w Of) Open(path, version string) (practice.File, error) {
	f, err := w.Desk.Publish.Published(path, version)
	return practice.File{ReadSeekCloser: f.ReadSeekCloser, MediaType: f.MediaType, Tag: f.Tag, Page: f.Page}, err
}

// Links does what [practice.Source] says.
func (w Of) Links() ([]practice.Link, error) {
	live, err := w.Desk.Publish.LiveLinks()
	links := make([]practice.Link, len(live))
	for i, l := range live {
		links[i] = practice.Link(l)
	}
	return links, err
}

// Whereabouts does what [practice.Source] says.
func (w Of) Whereabouts(path string) (moved, gone string, err error) {
	section, slug, ok := strings.Cut(strings.Trim(path, "/"), "/")
	if !ok { // a front page
		return w.Desk.Publish.Whereabouts("", section)
	}
	return w.Desk.Publish.Whereabouts(section, slug)
}

// Frames does what [practice.Source] says.
func (w Of) Frames(page uint, spots []string) (map[string]string, error) {
	return w.Desk.Banners.Frames(page, spots)
}

// Banner does what [practice.Source] says.
func (w Of) Banner(spot string, id uint, counts bool) (page.BannerShow, bool, error) {
	return w.Desk.Banners.Choose(spot, id, counts)
}

// Follow does what [practice.Source] says.
func (w Of) Follow(banner uint, counts bool) (string, error) {
	return w.Desk.Banners.Follow(banner, counts)
}

// Missing does what [practice.Source] says.
func (w Of) Missing(err error) (missing, gone bool) {
	gone = errors.Is(err, publish.ErrGone)
	return gone || errors.Is(err, store.ErrNotFound), gone
}

// Layout lets a desk lay pages out as the site does.
func Layout(site practice.Site) publish.Layout {
	return func(w io.Writer, p publish.SitePage) error {
		return site.Write(w, practice.Page{Title: p.Title, Section: p.Section, Main: p.Main, Head: p.Head, Style: p.Style, Top: (*practice.Top)(p.Top)})
	}
}
