package publish

import (
	"cmp"
	"context"
	"errors"
	"slices"
	"time"

	"mivlet/desk/access"
	"mivlet/desk/derive"
	"mivlet/desk/jobs"
	"mivlet/desk/lists"
	"mivlet/desk/pages"
	"mivlet/desk/presence"
	"mivlet/desk/snapshot"
	"mivlet/desk/visit"
	"mivlet/internal/traces"
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
	at     time.Time      // of going live, as its head tells it
	leaf   string         // JSON of how the pages begin that list all of something
	signed *snapshot.Sign // nil where nothing said stop
}

// Publish makes a page's draft the live page: cuts first, then all of it at once, then
// it is fetched back and checked as a visitor would see it. seen is the state that
// whoever publishes it has signed: where anything of it has changed, also while the
// files were made, nothing is published and they are told what. Where something says
// stop, reason tells why the page may go live all the same; it is kept.
func (d *Desk) Publish(ctx context.Context, id uint, seen snapshot.Seen, reason string, layout Layout) (_ visit.Report, err error) {
	if err := d.mayPublishPage(id); err != nil {
		return visit.Report{}, err
	}
	if seen.Pictures == nil {
		return visit.Report{}, snapshot.ErrNotSeen()
	}
	ctx, published := traces.Part(ctx, "publish a page")
	defer func() { published(err) }()
	defer d.releases.lock(id)()
	taken, err := d.snapshot.Snap(id)
	if err != nil {
		return visit.Report{}, err
	}
	if err := d.snapshot.ChangedSince(d.Store, id, seen); err != nil {
		return visit.Report{}, err
	}
	r, err := d.prepare(taken, reason, layout)
	if err != nil {
		return visit.Report{}, err
	}
	var others []uint
	if err := d.Store.Tx(func(s store.Records) (err error) {
		others, err = d.goLive(s, r, seen)
		return err
	}); err != nil {
		// What was written of the page shows what has changed: it does not stay.
		_, bad := d.Store.RemoveUnnamed([]string{r.files[0].Hash})
		return visit.Report{}, cmp.Or(bad, err)
	}
	if err := d.visit.LookAt(ctx, others); err != nil {
		return visit.Report{}, err
	}
	d.Rooms.Notify(presence.Page(id))
	return d.visit.Check(ctx, id)
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
	r := release{Snapshot: n, at: d.Now()}
	found, err := d.snapshot.Findings(n)
	if err != nil {
		return r, err
	}
	if r.signed, err = d.snapshot.Sign(found, reason); err != nil {
		return r, err
	}
	err = d.make(&r, layout)
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
	if others, err = d.keepLive(s, &now, r); err != nil {
		return nil, err
	}
	if err := pages.Restation(s, now.Doc.Pictures()); err != nil {
		return nil, err
	}
	if err := s.SetLighterDue(now.ID, len(r.Later()) > 0); err != nil {
		return nil, err
	}
	if r.signed != nil {
		return others, d.Trace(s, now.Section, "Published %s, signed: %s", now.Doc.Title, r.signed.Reason)
	}
	return others, d.Trace(s, now.Section, "Published %s", now.Doc.Title)
}

// ErrGone means that something was published at an address once, and is no more.
var ErrGone = errors.New("it was taken off")

// Answer is what visitors get at an address.
type Answer struct {
	derive.File
	Page uint // whose page it is, as a whole; 0 for other files
}

// Published opens what visitors get at a path. mark, the beginning of a content hash,
// tells which content is meant and may be empty. It fails with [ErrGone] where there was
// something once, else with [store.ErrNotFound]; it never gives another file.
func (d *Desk) Published(at, mark string) (Answer, error) {
	f, err := d.Store.PublishedAt(at, mark)
	if errors.Is(err, store.ErrNotFound) {
		if was, bad := d.Store.WasPublished(at, mark); bad != nil || was {
			return Answer{}, cmp.Or(bad, ErrGone)
		}
	}
	if err != nil {
		return Answer{}, err
	}
	blob, err := d.Store.Files.Open(f.Hash)
	a := Answer{File: derive.File{ReadSeekCloser: blob, MediaType: f.MediaType, Tag: f.Hash}}
	if f.MediaType == store.PageType && f.For == "" {
		a.Page = f.PageID
	}
	return a, err
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
	d.layout.Store(&layout)
	var tasks []jobs.Of[toPublish]
	err := d.Store.View(func(s store.Records) error {
		due, err := s.ChangedPages()
		if err != nil {
			return err
		}
		due = slices.DeleteFunc(due, func(p store.Page) bool { return !d.Person.CanPublish(p.Section) || showing != 0 && !p.Shows(showing) })
		all, err := d.snapshot.Snapshots(s, due)
		for _, n := range all {
			tasks = append(tasks, jobs.Of[toPublish]{Steps: 1, Of: toPublish{n.ID, n.Seen()}})
		}
		return err
	})
	if err != nil {
		return nil, err
	}
	if len(tasks) == 0 {
		return nil, access.Refuse(access.Bad, "No page needs publishing.", "Visitors already see every page as it is.")
	}
	return d.again(d.jobs, "Publishing again", tasks)
}

// toPublish is a page that is published again, as whoever wanted that saw it.
type toPublish struct {
	Page uint          `json:"page"`
	Seen snapshot.Seen `json:"seen"`
}

// publishAgain publishes a page beside the screens.
func (d *Desk) publishAgain(of toPublish) error {
	layout := d.lists.Layout()
	if given := d.layout.Load(); given != nil {
		layout = *given
	}
	_, err := d.Publish(d.Context, of.Page, of.Seen, "", layout)
	return err
}
