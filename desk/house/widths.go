package house

import (
	"bytes"
	"fmt"
	"time"

	"mivlet/core/fit"
	"mivlet/core/layout"
	"mivlet/core/page"
	"mivlet/desk/access"
	"mivlet/desk/cuts"
	"mivlet/desk/publish"
	"mivlet/store"
)

// sharp is the density of the screens that the weight of a page is told for, in
// device pixels for each CSS pixel.
const sharp = 2

// Weight is what a page weighs on one kind of screen, a sharp one.
type Weight struct {
	Device   string
	Viewport int // CSS px
	Bytes    int64
	Slow     time.Duration // on a slow line
	Shares   []Share
}

// Share is what one picture has of a page's weight.
type Share struct {
	Name    string
	Shown   int // CSS px
	Pixels  int // of the cut that a browser takes
	Bytes   int64
	Percent int    // of all pictures of the page
	Warning string // sent larger than shown, or shown larger than it is
}

// Weights tells what the pictures of a page's draft weigh on each device.
func (d *Desk) Weights(id uint) ([]Weight, error) {
	if err := d.pages.MayWorkOn(id); err != nil {
		return nil, err
	}
	p, err := d.snapshot.Snap(id)
	if err != nil {
		return nil, err
	}
	r := p.House.Rules
	var all []Weight
	for _, device := range []layout.Device{layout.Desktop, layout.Tablet, layout.Phone} {
		w := Weight{Device: device.String(), Viewport: device.Viewport()}
		behind, err := d.snapshot.Behind(p, device)
		if err != nil {
			return nil, err
		}
		for _, b := range behind {
			s := share("behind the text: "+access.NameOr(b.Picture), float64(b.Room.At(device).W), b.Cuts)
			w.Bytes += s.Bytes
			w.Shares = append(w.Shares, s)
		}
		for _, at := range p.Doc.Stands(r) {
			if at.Waits() || !at.Known || at.Beyond {
				continue
			}
			pic := p.Pictures[at.Picture]
			cuts, err := d.snapshot.CutsFor(p, pic, at.Slot)
			if err != nil {
				return nil, err
			}
			s := share(access.NameOr(pic), at.ShownWidth(w.Viewport, cuts[0].CSSWidth), cuts)
			w.Bytes += s.Bytes
			w.Shares = append(w.Shares, s)
		}
		for i, s := range w.Shares {
			w.Shares[i].Percent = int(100 * s.Bytes / max(1, w.Bytes))
		}
		w.Slow = fit.LoadTime(w.Bytes, fit.SlowLine)
		all = append(all, w)
	}
	return all, nil
}

func share(name string, shown float64, made []store.Cut) Share {
	c := cuts.Loaded(made, shown, sharp)
	s := Share{Name: name, Shown: int(shown + 0.5), Pixels: c.Width, Bytes: c.Bytes}
	switch {
	case float64(c.Width) < shown:
		s.Warning = "shown larger than it is: soft"
	case float64(c.Width) >= 2*sharp*shown:
		s.Warning = fmt.Sprintf("sent %.1f times as wide as shown", float64(c.Width)/shown)
	}
	return s
}

// PagePreview is a page's draft as it would go live, with its cuts and files at their
// addresses here; style is where its own measures are, and base where the desk's own addresses begin.
func (d *Desk) PagePreview(id uint, style, base string) (publish.SitePage, error) {
	if err := d.pages.MayWorkOn(id); err != nil {
		return publish.SitePage{}, err
	}
	p, err := d.snapshot.Snap(id)
	if err != nil {
		return publish.SitePage{}, err
	}
	cut := func(_ store.Picture, c store.Cut) string { return base + "/cuts/" + c.Hash }
	file := func(a page.Attachment) string { return fmt.Sprintf("%s/pages/%d/files/%s", base, id, a.Hash) }
	var b bytes.Buffer
	how := d.publish.Writing(p, cut, file)
	how.List = func(b page.Block) (page.ListView, error) { return d.lists.Draft(p.Page, b, base) }
	err = page.WriteHTML(&b, p.Doc, how)
	return publish.SitePage{Title: p.Doc.Title, Section: p.Section, Main: b.String(), Style: style}, err
}

// PageStyle is the measures that a page's draft has of its own.
func (d *Desk) PageStyle(id uint) ([]byte, error) {
	if err := d.MayLook(); err != nil {
		return nil, err
	}
	n, err := d.snapshot.Snap(id)
	if err != nil {
		return nil, err
	}
	return d.publish.Style(n)
}
