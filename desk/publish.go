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
	"strings"

	"mivlet/core/facts"
	"mivlet/core/fit"
	"mivlet/core/page"
	"mivlet/core/rules"
	"mivlet/store"
)

// SitePage is a page of the site, to be laid out.
type SitePage struct {
	Title   string
	Section string        // whose page it is
	Main    template.HTML // the inside of its main element
	Style   string        // address of the page's own measures; "" where it has none
}

// Layout writes a whole HTML document around the inside of a page's main
// element: what the site looks like around it.
type Layout func(w io.Writer, p SitePage) error

// Publish makes a page's draft the live page: cuts first, then all of it at
// once, then it is fetched back and checked as a visitor would see it. Nothing
// changes for visitors where it fails. Where something says stop, reason tells why
// the page may go live all the same; it is kept.
func (d *Desk) Publish(ctx context.Context, id uint, version int, reason string, layout Layout) (Report, error) {
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
	signed, err := d.sign(v, reason)
	if err != nil {
		return Report{}, err
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
		if err := d.keepLive(s, now, files, print, signed); err != nil {
			return err
		}
		if err := restation(s, now.Doc.Pictures()); err != nil {
			return err
		}
		if signed != nil {
			return d.trace(s, now.Section, "Published %s, signed: %s", now.Doc.Title, signed.Reason)
		}
		return d.trace(s, now.Section, "Published %s", now.Doc.Title)
	})
	if err != nil {
		return Report{}, err
	}
	d.stir(pageRoom(id))
	return d.CheckLive(ctx, id)
}

// pageFiles makes the files of a page as visitors will get them: its cuts, its own
// measures and its HTML, kept but not yet published.
func (d *Desk) pageFiles(p store.Page, layout Layout) ([]store.Published, error) {
	files := map[string]store.Published{}
	note := func(at, hash, media string) {
		files[at] = store.Published{Path: at, Hash: hash, MediaType: media}
	}
	how := d.writing(func(pic store.Picture, c store.Cut) string {
		at, address := d.cutAddress(pic, c)
		note(at, c.Hash, c.MediaType)
		return address
	}, func(a page.Attachment) string {
		at, address := d.marked(filePath(p, a), a.Hash)
		note(at, a.Hash, a.MediaType)
		return address
	})
	site := SitePage{Title: p.Doc.Title, Section: p.Section}
	if css := page.DocCSS(how.Rules, p.Doc); len(css) > 0 {
		hash, err := d.store.Blobs.Put(bytes.NewReader(css))
		if err != nil {
			return nil, err
		}
		var at string
		at, site.Style = d.marked(p.Path()+".css", hash)
		note(at, hash, "text/css; charset=utf-8")
	}
	var main, doc bytes.Buffer
	if err := page.WriteHTML(&main, p.Doc, how); err != nil {
		return nil, err
	}
	site.Main = template.HTML(main.String()) //nolint:gosec // made and escaped by core/page
	if err := layout(&doc, site); err != nil {
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

// writing is how a page's HTML is written: cut and file tell where each of them will
// be found, and may note it.
func (d *Desk) writing(cut func(store.Picture, store.Cut) string, file func(page.Attachment) string) page.Writing {
	return page.Writing{Rules: d.Rules(), Image: func(s page.Stand) (page.Image, error) { return d.cutImage(s, cut) },
		File: func(a page.Attachment) (string, error) {
			if !d.store.Blobs.Has(a.Hash) {
				return "", refuse(Missing, fmt.Sprintf("The file %s is gone.", a.Name), "Add it again.")
			}
			return file(a), nil
		}}
}

// AltOf is the description of a picture where it stands: the one of the place,
// else the usual one; nothing where it is decorative.
func AltOf(at page.Placement, pic store.Picture) string {
	return at.Said(pic.Work.Alt, pic.Work.Decorative)
}

// cutImage is the image of a picture where it stands, with its cuts made; address
// tells where each of them will be found, and may note it.
func (d *Desk) cutImage(s page.Stand, address func(store.Picture, store.Cut) string) (page.Image, error) {
	pic, err := d.store.Picture(s.Picture)
	if err != nil {
		return page.Image{}, missing(err, "A picture of the page")
	}
	if !s.Known {
		return page.Image{}, refuse(Bad, fmt.Sprintf("There is no slot %q any more.", s.Placement.Slot), "Choose another one for the picture.")
	}
	cuts, err := d.cutsOf(pic, s.Slot)
	if err != nil {
		return page.Image{}, err
	}
	m := imageOf(cuts, s.Place.Sizes(), AltOf(s.Placement, pic), func(c store.Cut) string { return address(pic, c) })
	if s.Kind == page.Strip {
		m.Sizes = fmt.Sprintf("%dpx", cuts[0].CSSWidth)
	}
	if s.Link.Leads(d.Rules()) == rules.EnlargeLink {
		large, err := d.cutsOf(pic, enlarged(d.Rules()))
		if err != nil {
			return m, err
		}
		l := imageOf(large, "100vw", m.Alt, func(c store.Cut) string { return address(pic, c) })
		m.Large = &l
	}
	return m, nil
}

// enlarged is the slot of a picture that was opened over its page: as large as the
// house says, whole.
func enlarged(r rules.Rules) rules.Slot {
	return rules.Slot{ID: "enlarged", Title: "Enlarged", Width: r.Placing.Enlarged, Height: r.Placing.Enlarged, Inside: true, Densities: []float64{1}, Budget: 700_000}
}

// imageOf lets a browser choose from cuts.
func imageOf(cuts []store.Cut, sizes, alt string, address func(store.Cut) string) page.Image {
	first := cuts[0]
	m := page.Image{Src: address(first), Width: first.Width, Height: first.Height, Alt: alt}
	if len(cuts) > 1 {
		var cs []fit.Candidate
		for _, c := range cuts {
			cs = append(cs, fit.Candidate{URL: address(c), Width: c.Width})
		}
		m.SrcSet, m.Sizes = fit.SrcSet(cs), sizes
	}
	return m
}

// cutPath is where visitors find a cut: the section's folder and the house
// name, with the width that tells its copies apart.
func cutPath(pic store.Picture, c store.Cut) string {
	return path.Join("/", pic.Section, CutFile(pic, c))
}

// CutFile is what a cut is called: the house name, with the width that tells its
// copies apart. Who has no name yet is called as it arrived, made portable.
func CutFile(pic store.Picture, c store.Cut) string {
	name := pic.Work.Name
	if name == "" {
		name = attachedName(pic.OriginalName, "")
	}
	return fmt.Sprintf("%s-%d%s", name, c.Width, facts.Extension(c.MediaType))
}

// cutAddress is where visitors find a cut, and its address there.
func (d *Desk) cutAddress(pic store.Picture, c store.Cut) (at, address string) {
	return d.marked(cutPath(pic, c), c.Hash)
}

// marked is the path of a file and its address, which changes with its content, so
// that no browser shows an old copy: by a query mark or, where the house says so, by
// a suffix of its name.
func (d *Desk) marked(at, hash string) (path, address string) {
	if d.Rules().Placing.CutMark == "suffix" {
		dot := strings.LastIndexByte(at, '.')
		at = at[:dot] + "-" + hash[:8] + at[dot:]
		return at, at
	}
	return at, at + "?v=" + hash[:8]
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

// LiveLink is a live page in the site's navigation.
type LiveLink struct{ Section, Title, Path string }

// LiveLinks returns every live page, for the site's own way in.
func (d *Desk) LiveLinks() ([]LiveLink, error) {
	ps, err := d.store.Pages()
	var links []LiveLink
	for _, p := range ps {
		if p.Live() {
			links = append(links, LiveLink{p.Section, p.Doc.Title, p.Path()})
		}
	}
	return links, err
}

// PublishChanged publishes all pages again that visitors see otherwise than their
// drafts are, beside the screens, as a job: those that whoever is at the desk
// publishes for. Where something says stop, that page stays as it is. Where showing
// is not 0, only pages that show that picture are meant.
func (d *Desk) PublishChanged(showing uint, layout Layout) (*Job, error) {
	pages, err := d.Pages()
	if err != nil {
		return nil, err
	}
	var tasks []task
	for _, p := range pages {
		if p.Differs && d.who.CanPublish(p.Section) && (showing == 0 || p.Shows(showing)) {
			tasks = append(tasks, task{1, func() error {
				_, err := d.Publish(context.Background(), p.ID, p.Version, "", layout)
				return err
			}})
		}
	}
	if len(tasks) == 0 {
		return nil, refuse(Bad, "Nothing wants publishing again.", "Visitors see the pages that you publish as they are.")
	}
	return d.startJob("Publishing again", tasks), nil
}
