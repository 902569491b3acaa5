package publish

import (
	"bytes"
	"cmp"
	"fmt"
	"io"
	"path"

	"mivlet/core/page"
	"mivlet/desk/cuts"
	"mivlet/desk/pictures"
	"mivlet/desk/snapshot"
	"mivlet/store"
)

// albumAt is the address of the page of one picture of an album, below that of the page that
// shows the album.
func (m *making) albumAt(b page.Block, nth int) string {
	below := m.page.Path()
	if below == "/" {
		below = "/front"
	}
	folder := "pictures"
	for i, other := range m.page.Doc.Albums() {
		if other == b.Album.Album && i > 0 {
			folder = fmt.Sprintf("pictures-%d", i+1)
		}
	}
	return path.Join(below, folder, m.albumNames(b)[nth])
}

// albumNames are what the pages of an album's pictures are called, each once: sections may
// have pictures of one name.
func (m *making) albumNames(b page.Block) []string {
	if known, ok := m.named[b.Album.Album]; ok {
		return known
	}
	used := map[string]bool{}
	names := make([]string, len(b.Pictures))
	for i, p := range b.Pictures {
		name := cmp.Or(m.page.Pictures[p.Picture].Work.Name, "picture")
		if used[name] {
			name = fmt.Sprintf("%s-%d", name, p.Picture)
		}
		for used[name] {
			name += "-again"
		}
		used[name], names[i] = true, name
	}
	m.named[b.Album.Album] = names
	return names
}

// albums makes a page for each picture of the albums on the page. An album that stands there
// twice has its pages once.
func (m *making) albums(site SitePage, layout Layout) error {
	made := map[uint]bool{}
	for _, b := range m.page.Doc.Blocks {
		if b.Album == nil || made[b.Album.Album] {
			continue
		}
		made[b.Album.Album] = true
		for n := range b.Pictures {
			if err := m.albumPicture(b, n, site, layout); err != nil {
				return fmt.Errorf("picture %d of the album: %w", n+1, err)
			}
		}
	}
	return nil
}

// albumPicture makes the page of one picture of an album.
func (m *making) albumPicture(b page.Block, n int, site SitePage, layout Layout) error {
	s, _ := m.page.Doc.Stand(m.page.House.Rules, b.ID, n)
	pic := m.page.Pictures[s.Picture]
	img, err := m.how.Image(s)
	if err != nil {
		return err
	}
	p := page.AlbumPicture{Album: b.Album.Title, Nth: n + 1, Of: len(b.Pictures), Image: *img.Large, Caption: page.CaptionText(s.Caption), Back: m.page.Path() + "#album-" + b.ID}
	if n > 0 {
		p.Previous = m.albumAt(b, n-1)
	}
	if n+1 < len(b.Pictures) {
		p.Next = m.albumAt(b, n+1)
	}
	at := m.albumAt(b, n)
	head := m.around(m.page, m.when)
	head.Title, head.Description, head.Address, head.Article = p.Title(), cmp.Or(page.CaptionText(s.Caption), img.Alt), m.Site+at, false
	head.Image = &page.HeadImage{Address: m.Site + p.Image.Src, Width: p.Image.Width, Height: p.Image.Height, Alt: img.Alt}
	head.Crumbs = append(head.Crumbs, page.Crumb{Title: m.page.Doc.Title, Address: m.Site + m.page.Path()})
	one := SitePage{Title: p.Title(), Section: site.Section, Main: p.HTML(), Top: site.Top}
	if site.Top != nil {
		one.Style = site.Style
	}
	if one.Head, err = head.HTML(); err != nil {
		return err
	}
	var doc bytes.Buffer
	if err := layout(&doc, one); err != nil {
		return err
	}
	hash, err := m.Store.Files.Put(&doc, store.PageType)
	m.note(store.Published{Path: at, Hash: hash, MediaType: store.PageType, PictureID: pic.ID, PictureVersion: pic.Version, For: store.ForAlbum,
		CutKey: cuts.CutKey(m.page.House.Rules, pic, page.EnlargedSlot(m.page.House.Rules)), Original: pic.OriginalHash, Veils: pictures.Hiding(pic)})
	return err
}

// Style is the measures that a page's draft has of its own.
func (d *Desk) Style(n *snapshot.Snapshot) ([]byte, error) {
	css := bytes.NewBuffer(page.DocCSS(n.House.Rules, n.Doc, n.Views))
	if len(n.Doc.Albums()) == 0 {
		return css.Bytes(), nil
	}
	if d.MayWork(n.Section) != nil { // it may have to make cuts
		return css.Bytes(), nil
	}
	how := d.Writing(n, func(store.Picture, store.Cut) string { return "" }, func(page.Attachment) string { return "" })
	how.Measures, how.List = css, func(page.Block) (page.ListView, error) { return page.ListView{}, nil }
	err := page.WriteHTML(io.Discard, n.Doc, how)
	return css.Bytes(), err
}
