package publish

import (
	"bytes"
	"encoding/json"
	"fmt"
	"slices"
	"time"

	"mivlet/core/page"
	"mivlet/desk/access"
	"mivlet/desk/address"
	"mivlet/desk/lists"
	"mivlet/desk/pictures"
	"mivlet/desk/snapshot"
	"mivlet/store"
)

// cssType is the media type of the measures of a page.
const cssType = "text/css; charset=utf-8"

// making makes the files of a page as visitors will get them, kept but not yet published.
// Each tells what it was made from.
type making struct {
	*Desk
	page  *snapshot.Snapshot
	when  time.Time // it goes live
	at    address.Places
	how   page.Writing
	files []store.Published
	named map[uint][]string // what the pages of pictures are called, by album
}

// Alone waits until nobody publishes a page, and keeps others from it until done: who makes its files and
// takes away what is not used must not take what somebody else is about to name.
func (d *Desk) Alone(page uint) (done func()) { return d.releases.lock(page) }

// Files makes the files of a page as those that went live at a time, with whatever is offered beside
// them and has been made meanwhile. They are kept, and not yet what visitors get.
func (d *Desk) Files(n *snapshot.Snapshot, at time.Time, layout Layout) ([]store.Published, error) {
	r := release{Snapshot: n, at: at}
	err := d.make(&r, layout)
	return r.files, err
}

// make makes all files of a release: its cuts, its own measures and its HTML.
func (d *Desk) make(rel *release, layout Layout) error {
	n := rel.Snapshot
	m := making{Desk: d, page: n, when: rel.at, at: address.Places{}, named: map[uint][]string{}}
	m.how = d.Writing(n, m.cut, m.attached)
	m.how.Spots = page.StandingSpots(n.House.Rules, n.Section, n.Slug == "")
	m.how.List = func(b page.Block) (page.ListView, error) { return d.lists.View(d.Store, n.House.Rules, n.Page, b) }
	site := SitePage{Title: n.Doc.Title, Section: n.Section}
	var err error
	css := page.DocCSS(n.House.Rules, n.Doc, n.Views)
	if top := n.Top(); top != nil {
		if site.Top, err = m.top(*top); err != nil {
			return err
		}
		css = append(css, m.topCSS(*top)...)
	}
	var main, doc, measures bytes.Buffer
	m.how.Measures, m.how.Album = &measures, m.albumAt
	if err := page.WriteHTML(&main, n.Doc, m.how); err != nil {
		return err
	}
	site.Main = main.String()
	if site.Style, err = m.style(stylePath(n.Page), append(css, measures.Bytes()...)); err != nil {
		return err
	}
	if err := m.albums(site, layout); err != nil {
		return err
	}
	if rel.leaf, err = m.leaf(); err != nil {
		return err
	}
	if site.Head, err = m.elsewhere(); err != nil {
		return err
	}
	if err := layout(&doc, site); err != nil {
		return err
	}
	hash, err := d.Store.Files.Put(&doc, store.PageType)
	rel.files = append([]store.Published{{Path: n.Path(), Hash: hash, MediaType: store.PageType}}, m.files...)
	return err
}

func (m *making) note(f store.Published) { m.files = WithFile(m.files, f) }

// cut notes a cut of a picture and returns its address.
func (m *making) cut(pic store.Picture, c store.Cut) string {
	path, found := m.at.Addressed(m.page.House.Rules, address.CutPath(pic, c), address.Filed{Hash: c.Hash, Picture: pic.ID})
	m.note(store.Published{Path: path, Hash: c.Hash, MediaType: c.MediaType, PictureID: pic.ID, PictureVersion: pic.Version,
		CutKey: c.Key, Original: pic.OriginalHash, Veils: pictures.Hiding(pic)})
	return found
}

// attached notes an attachment and returns its address.
func (m *making) attached(a page.Attachment) string {
	path, found := m.at.Addressed(m.page.House.Rules, address.FilePath(m.page.Page, a), address.Filed{Hash: a.Hash})
	m.note(store.Published{Path: path, Hash: a.Hash, MediaType: a.MediaType})
	return found
}

// top makes a picture at the top of a page.
func (m *making) top(b page.Background) (*Top, error) {
	files, err := m.how.Backing(b, page.TopRoom(m.page.House.Rules, b))
	return &Top{HTML: files.HTML(1), Classes: b.TopClasses(), Below: b.Below}, err
}

func (m *making) topCSS(b page.Background) []byte {
	return page.TopCSS(m.page.House.Rules, b, m.page.Views)
}

// style keeps a stylesheet and returns its address; "" for an empty one.
func (m *making) style(at string, css []byte) (string, error) {
	if len(css) == 0 {
		return "", nil
	}
	hash, err := m.Store.Files.Put(bytes.NewReader(css), cssType)
	if err != nil {
		return "", err
	}
	path, found := m.at.Addressed(m.page.House.Rules, at, address.Filed{Hash: hash})
	m.note(store.Published{Path: path, Hash: hash, MediaType: cssType})
	return found, nil
}

// leaf makes how the pages begin that list all of what the page lists, as its live version
// keeps it; "" for as usual.
func (m *making) leaf() (string, error) {
	b := m.page.Leaf()
	if b == nil {
		return "", nil
	}
	top, err := m.top(*b)
	if err != nil {
		return "", err
	}
	l := lists.Leaf{Top: *top, Picture: b.Picture}
	if l.Style, err = m.style(lists.StylePath(m.page.Page), m.topCSS(*b)); err != nil {
		return "", err
	}
	data, err := json.Marshal(l)
	return string(data), err
}

// elsewhere makes what stands for the page elsewhere, and returns what its head says of it.
func (m *making) elsewhere() (string, error) {
	cover, err := m.snapshot.CoverFiles(m.page, m.at)
	if err != nil {
		return "", err
	}
	m.files = append(m.files, cover...)
	link, err := m.snapshot.LinkFile(m.page, m.at)
	if err != nil {
		return "", err
	}
	if link != nil {
		m.note(link.File)
	}
	return m.head(m.page, link, m.when)
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
