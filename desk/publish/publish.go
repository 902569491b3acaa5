package publish

import (
	"bytes"
	"cmp"
	"context"
	"errors"
	"fmt"
	"slices"

	"mivlet/core/page"
	"mivlet/desk/access"
	"mivlet/desk/derive"
	"mivlet/desk/jobs"
	"mivlet/desk/lists"
	"mivlet/desk/pages"
	"mivlet/desk/pictures"
	"mivlet/desk/presence"
	"mivlet/desk/snapshot"
	"mivlet/store"
)

// SitePage is a page of the site, to be laid out.
type SitePage = lists.SitePage

// Top is a picture at the top of a page.
type Top = lists.Top

// Layout writes a whole HTML document around the inside of a page's main element.
type Layout = lists.Layout

// release is a page as it is to go live: made from one snapshot, kept in files, and
// not yet what visitors get.
type release struct {
	*snapshot.Snapshot
	files  []store.Published
	signed *snapshot.Sign // nil where nothing said stop
}

// Publish makes a page's draft the live page: cuts first, then all of it at once, then
// it is fetched back and checked as a visitor would see it. seen is the state that
// whoever publishes it has signed: where anything of it has changed, also while the
// files were made, nothing is published and they are told what. Where something says
// stop, reason tells why the page may go live all the same; it is kept.
func (d *Desk) Publish(ctx context.Context, id uint, seen snapshot.Seen, reason string, layout Layout) (snapshot.Report, error) {
	if err := d.mayPublishPage(id); err != nil {
		return snapshot.Report{}, err
	}
	if seen.Pictures == nil {
		return snapshot.Report{}, snapshot.ErrNotSeen()
	}
	defer d.releases.lock(id)()
	taken, err := d.snapshot.Snap(id)
	if err != nil {
		return snapshot.Report{}, err
	}
	if err := d.snapshot.ChangedSince(d.Store, id, seen); err != nil {
		return snapshot.Report{}, err
	}
	r, err := d.prepare(taken, reason, layout)
	if err != nil {
		return snapshot.Report{}, err
	}
	var others []uint
	if err := d.Store.Tx(func(s store.Records) (err error) {
		others, err = d.goLive(s, r, seen)
		return err
	}); err != nil {
		// What was written of the page shows what has changed: it does not stay.
		_, bad := d.Store.RemoveUnnamed([]string{r.files[0].Hash})
		return snapshot.Report{}, cmp.Or(bad, err)
	}
	if err := d.LookAt(ctx, others); err != nil {
		return snapshot.Report{}, err
	}
	d.Rooms.Notify(presence.Page(id))
	return d.CheckLive(ctx, id)
}

// LookAt checks live pages whose lists were made anew.
func (d *Desk) LookAt(ctx context.Context, pages []uint) error {
	for _, id := range pages {
		d.Rooms.Notify(presence.Page(id))
		if _, err := d.CheckLive(ctx, id); err != nil {
			return err
		}
	}
	return nil
}

// mayPublishPage refuses those who do not publish for the section of a page.
func (d *Desk) mayPublishPage(id uint) error {
	if err := d.MayLook(); err != nil {
		return err
	}
	p, err := d.Store.Page(id)
	if err != nil {
		return access.NotFound(err, "The page")
	}
	return d.MayPublish(p.Section)
}

// prepare signs a page as it was at one moment and makes its files.
func (d *Desk) prepare(n *snapshot.Snapshot, reason string, layout Layout) (release, error) {
	r := release{Snapshot: n}
	found, err := d.snapshot.Findings(n)
	if err != nil {
		return r, err
	}
	if r.signed, err = d.snapshot.Sign(found, reason); err != nil {
		return r, err
	}
	r.files, err = d.pageFiles(n, layout)
	return r, err
}

// goLive makes a release what visitors get, in a transaction, unless something of what
// was signed, or of what it was made from, has changed.
func (d *Desk) goLive(s store.Records, r release, signed snapshot.Seen) (others []uint, err error) {
	for _, seen := range []snapshot.Seen{signed, r.Seen()} {
		if err := d.snapshot.ChangedSince(s, r.ID, seen); err != nil {
			return nil, err
		}
	}
	now := r.Page
	if others, err = d.keepLive(s, &now, r.files, r.Print(), r.signed); err != nil {
		return nil, err
	}
	if err := pages.Restation(s, now.Doc.Pictures()); err != nil {
		return nil, err
	}
	if r.signed != nil {
		return others, d.Trace(s, now.Section, "Published %s, signed: %s", now.Doc.Title, r.signed.Reason)
	}
	return others, d.Trace(s, now.Section, "Published %s", now.Doc.Title)
}

// pageFiles makes the files of a page as visitors will get them: its cuts, its own
// measures and its HTML, kept but not yet published. Each tells what it was made from.
func (d *Desk) pageFiles(n *snapshot.Snapshot, layout Layout) ([]store.Published, error) {
	var files []store.Published
	at := snapshot.Places{}
	note := func(f store.Published) { files = WithFile(files, f) }
	r := n.House.Rules
	how := d.Writing(n, func(pic store.Picture, c store.Cut) string {
		path, address := at.Addressed(r, snapshot.CutPath(pic, c), snapshot.Filed{Hash: c.Hash, Picture: pic.ID})
		note(store.Published{Path: path, Hash: c.Hash, MediaType: c.MediaType, PictureID: pic.ID, PictureVersion: pic.Version,
			CutKey: c.Key, Original: pic.OriginalHash, Veils: pictures.Hiding(pic)})
		return address
	}, func(a page.Attachment) string {
		path, address := at.Addressed(r, snapshot.FilePath(n.Page, a), snapshot.Filed{Hash: a.Hash})
		note(store.Published{Path: path, Hash: a.Hash, MediaType: a.MediaType})
		return address
	})
	site := SitePage{Title: n.Doc.Title, Section: n.Section}
	css := page.DocCSS(r, n.Doc, n.Views)
	if top := n.Top(); top != nil {
		files, err := how.Backing(*top, page.TopRoom(r, *top))
		if err != nil {
			return nil, err
		}
		site.Top = &Top{HTML: files.HTML(1), Classes: top.TopClasses(), Below: top.Below}
		css = append(css, page.TopCSS(r, *top, n.Views)...)
	}
	if len(css) > 0 {
		hash, err := d.Store.Files.Put(bytes.NewReader(css), cssType)
		if err != nil {
			return nil, err
		}
		var path string
		path, site.Style = at.Addressed(r, stylePath(n.Page), snapshot.Filed{Hash: hash})
		note(store.Published{Path: path, Hash: hash, MediaType: cssType})
	}
	how.List = func(b page.Block) (page.ListView, error) { return d.lists.View(d.Store, r, n.Page, b) }
	cover, err := d.snapshot.CoverFiles(n, at)
	if err != nil {
		return nil, err
	}
	files = append(files, cover...)
	link, err := d.snapshot.LinkFile(n, at)
	if err != nil {
		return nil, err
	}
	if link != nil {
		note(link.File)
	}
	if site.Head, err = d.head(n, link); err != nil {
		return nil, err
	}
	var main, doc bytes.Buffer
	if err := page.WriteHTML(&main, n.Doc, how); err != nil {
		return nil, err
	}
	site.Main = main.String()
	if err := layout(&doc, site); err != nil {
		return nil, err
	}
	hash, err := d.Store.Files.Put(&doc, pageType)
	if err != nil {
		return nil, err
	}
	return append([]store.Published{{Path: n.Path(), Hash: hash, MediaType: pageType}}, files...), nil
}

// stylePath is where visitors find the measures that a page has of its own.
func stylePath(p store.Page) string {
	if p.Path() == "/" {
		return "/front.css"
	}
	return p.Path() + ".css"
}

// WithFile adds a file to those of a page, unless it is among them.
func WithFile(files []store.Published, f store.Published) []store.Published {
	if slices.ContainsFunc(files, func(o store.Published) bool { return o.Path == f.Path && o.Hash == f.Hash }) {
		return files
	}
	return append(files, f)
}

// The media types of what is written for a page.
const (
	pageType = "text/html; charset=utf-8"
	cssType  = "text/css; charset=utf-8"
)

// Writing is how a page's HTML is written: cut and file tell where each of them will
// be found, and may note it.
func (d *Desk) Writing(n *snapshot.Snapshot, cut func(store.Picture, store.Cut) string, file func(page.Attachment) string) page.Writing {
	elsewhere := func(b page.Block) (page.ListView, error) { return d.lists.Elsewhere(n.Page, b) }
	backing := func(b page.Background, room page.Room) (page.Backing, error) {
		return d.snapshot.Backing(n, b, room, cut)
	}
	return page.Writing{Rules: n.House.Rules, List: elsewhere, Backing: backing, Image: func(s page.Stand) (page.Image, error) { return d.snapshot.CutImage(n, s, cut) },
		File: func(a page.Attachment) (string, error) {
			if !d.Store.Files.Has(a.Hash) {
				return "", access.Refuse(access.Missing, fmt.Sprintf("The file %s is gone.", a.Name), "Add it again.")
			}
			return file(a), nil
		}}
}

// ErrGone means that something was published at an address once, and is no more.
var ErrGone = errors.New("it was taken off")

// Published opens what visitors get at a path. mark, the beginning of a content hash,
// tells which content is meant and may be empty. It fails with [ErrGone] where there was
// something once, else with [store.ErrNotFound]; it never gives another file.
func (d *Desk) Published(at, mark string) (derive.File, error) {
	f, err := d.Store.PublishedAt(at, mark)
	if errors.Is(err, store.ErrNotFound) {
		if was, bad := d.Store.WasPublished(at, mark); bad != nil || was {
			return derive.File{}, cmp.Or(bad, ErrGone)
		}
	}
	if err != nil {
		return derive.File{}, err
	}
	blob, err := d.Store.Files.Open(f.Hash)
	return derive.File{ReadSeekCloser: blob, MediaType: f.MediaType, Tag: f.Hash}, err
}

// LiveLink is a live page in the site's navigation.
type LiveLink struct{ Section, Title, Path string }

// LiveLinks returns every live page, for the site's own way in.
func (d *Desk) LiveLinks() ([]LiveLink, error) {
	all, err := d.Store.LiveTitles()
	links := make([]LiveLink, len(all))
	for i, p := range all {
		links[i] = LiveLink{p.Section, p.Title, store.Page{Section: p.Section, Slug: p.Slug}.Path()}
	}
	return links, err
}

// PublishChanged publishes all pages again that visitors see otherwise than their
// drafts are, beside the screens, as a job: those that whoever is at the desk
// publishes for. Where something says stop, or changes meanwhile, that page stays as
// it is. Where showing is not 0, only pages that show that picture are meant.
func (d *Desk) PublishChanged(showing uint, layout Layout) (*jobs.Job, error) {
	if err := d.MayLook(); err != nil {
		return nil, err
	}
	if err := d.snapshot.Settle(false); err != nil {
		return nil, err
	}
	later := d.beside()
	var tasks []jobs.Task
	err := d.Store.View(func(s store.Records) error {
		due, err := s.ChangedPages()
		if err != nil {
			return err
		}
		due = slices.DeleteFunc(due, func(p store.Page) bool { return !d.Person.CanPublish(p.Section) || showing != 0 && !p.Shows(showing) })
		all, err := d.snapshot.Snapshots(s, due)
		for _, n := range all {
			seen := n.Seen()
			tasks = append(tasks, jobs.Task{Steps: 1, Do: func() error {
				_, err := later.Publish(context.Background(), n.ID, seen, "", layout)
				return err
			}})
		}
		return err
	})
	if err != nil {
		return nil, err
	}
	if len(tasks) == 0 {
		return nil, access.Refuse(access.Bad, "No page needs publishing.", "Visitors already see every page as it is.")
	}
	return d.jobs.Start("Publishing again", tasks), nil
}
