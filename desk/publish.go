package desk

import (
	"bytes"
	"cmp"
	"context"
	"errors"
	"fmt"
	"html/template"
	"io"
	"path"

	"mivlet/core/facts"
	"mivlet/core/fit"
	"mivlet/core/page"
	"mivlet/core/words"
	"mivlet/store"
)

// Layout writes a whole HTML document around the inside of a page's main
// element: what the site looks like around it.
type Layout func(w io.Writer, title string, main template.HTML) error

// Publish makes a page's draft the live page: cuts first, then all of it at
// once, then it is fetched back and checked as a visitor would see it. Nothing
// changes for visitors where it fails.
func (d *Desk) Publish(ctx context.Context, id uint, version int, layout Layout) (Report, error) {
	v, err := d.Page(id)
	if err != nil {
		return Report{}, err
	}
	if err := d.mayPublish(v.Section); err != nil {
		return Report{}, err
	}
	if v.Version != version {
		return Report{}, stale(store.ErrStale)
	}
	if stops := v.Stops(); len(stops) > 0 {
		return Report{}, refuse(Bad, fmt.Sprintf("%s is not ready: %s", nameOr(stops[0].Picture), stops[0].Text), "Mend it on the bench, then publish.")
	}
	files, err := d.pageFiles(v.Page, layout)
	if err != nil {
		return Report{}, err
	}
	print, err := d.print(v.Page)
	if err != nil {
		return Report{}, err
	}
	err = d.store.Tx(func(s *store.Store) error {
		now, err := s.Page(id)
		if err != nil {
			return missing(err, "The page")
		}
		if now.Version != version {
			return stale(store.ErrStale)
		}
		if err := s.Publish(&now, files, print, d.now()); err != nil {
			return err
		}
		return d.trace(s, now.Section, "Published %s", now.Doc.Title)
	})
	if err != nil {
		return Report{}, err
	}
	return d.CheckLive(ctx, id)
}

// pageFiles makes the files of a page as visitors will get them: its cuts and
// its HTML, kept but not yet published.
func (d *Desk) pageFiles(p store.Page, layout Layout) ([]store.Published, error) {
	files := map[string]store.Published{}
	resolve := func(at page.Placement) (page.Image, error) {
		pic, err := d.store.Picture(at.Picture)
		if err != nil {
			return page.Image{}, missing(err, "A picture of the page")
		}
		slot, ok := d.Rules().Slot(at.Slot)
		if !ok {
			return page.Image{}, refuse(Bad, fmt.Sprintf("There is no slot %q any more.", at.Slot), "Choose another one for the picture.")
		}
		cuts, err := d.cutsOf(pic, slot)
		if err != nil {
			return page.Image{}, err
		}
		for _, c := range cuts {
			to := cutPath(pic, c)
			files[to] = store.Published{Path: to, Hash: c.Hash, MediaType: c.MediaType}
		}
		return d.image(pic, at, cuts), nil
	}
	var main, doc bytes.Buffer
	if err := page.WriteHTML(&main, p.Doc, resolve); err != nil {
		return nil, err
	}
	if err := layout(&doc, p.Doc.Title, template.HTML(main.String())); err != nil { //nolint:gosec // made and escaped by core/page
		return nil, err
	}
	hash, err := d.store.Blobs.Put(&doc)
	if err != nil {
		return nil, err
	}
	all := []store.Published{{Path: p.Path(), Hash: hash, MediaType: "text/html; charset=utf-8"}}
	for _, f := range files {
		all = append(all, f)
	}
	return all, nil
}

// AltOf is the description of a picture where it stands: the one of the place,
// else the usual one; nothing where it is decorative.
func AltOf(at page.Placement, pic store.Picture) string {
	switch {
	case at.Decorative || at.Alt == "" && pic.Work.Decorative:
		return ""
	case at.Alt != "":
		return at.Alt
	}
	return pic.Work.Alt
}

// image is what a placed picture becomes in the page's HTML.
func (d *Desk) image(pic store.Picture, at page.Placement, cuts []store.Cut) page.Image {
	slot, _ := d.Rules().Slot(at.Slot)
	first := cuts[0]
	m := page.Image{Src: cutAddress(pic, first), Width: first.Width, Height: first.Height, Alt: AltOf(at, pic)}
	if len(cuts) > 1 {
		var cs []fit.Candidate
		for _, c := range cuts {
			cs = append(cs, fit.Candidate{URL: cutAddress(pic, c), Width: c.Width})
		}
		m.SrcSet, m.Sizes = fit.SrcSet(cs), d.Rules().Place(slot).Sizes()
	}
	return m
}

// cutPath is where visitors find a cut: the section's folder and the house
// name, with the width that tells its copies apart.
func cutPath(pic store.Picture, c store.Cut) string {
	return path.Join("/", pic.Section, CutFile(pic, c))
}

// CutFile is what a cut is called: the house name, with the width that tells its
// copies apart.
func CutFile(pic store.Picture, c store.Cut) string {
	return fmt.Sprintf("%s-%d%s", nameOr(pic), c.Width, facts.Extension(c.MediaType))
}

// cutAddress is its path with a mark that changes with its content, so that no
// browser shows an old copy.
func cutAddress(pic store.Picture, c store.Cut) string {
	return cutPath(pic, c) + "?v=" + c.Hash[:8]
}

func nameOr(p store.Picture) string {
	return cmp.Or(p.Work.Name, p.OriginalName)
}

// Published opens what visitors get at a path. version, the beginning of a
// content hash, may be empty. It fails with [store.ErrNotFound].
func (d *Desk) Published(at, version string) (Shown, error) {
	f, err := d.store.PublishedAt(at, version)
	if errors.Is(err, store.ErrNotFound) && version != "" {
		f, err = d.store.PublishedAt(at, "")
	}
	if err != nil {
		return Shown{}, err
	}
	blob, err := d.store.Blobs.Open(f.Hash)
	return Shown{blob, f.MediaType, f.Hash}, err
}

// LiveLinks returns title and path of every live page, for the site's own way
// in.
func (d *Desk) LiveLinks() ([][2]string, error) {
	ps, err := d.store.Pages()
	var links [][2]string
	for _, p := range ps {
		if p.Live() {
			links = append(links, [2]string{p.Doc.Title, p.Path()})
		}
	}
	return links, err
}

// Stops returns the findings that keep the page from going live.
func (v PageView) Stops() []PageFinding {
	var stops []PageFinding
	for _, f := range v.Findings {
		if f.Level == words.Stop {
			stops = append(stops, f)
		}
	}
	return stops
}
