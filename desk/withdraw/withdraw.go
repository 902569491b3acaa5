package withdraw

import (
	"bytes"
	"context"
	"fmt"
	"maps"
	"path"
	"slices"
	"strings"

	"mivlet/core/page"
	"mivlet/desk/access"
	"mivlet/desk/address"
	"mivlet/desk/lists"
	"mivlet/desk/presence"
	"mivlet/desk/publish"
	"mivlet/store"
)

// Withdraw takes a picture off the air at once: on every live page a neutral space of
// its size stands in its place, and its addresses answer that it is gone, until the
// pages are published again. Whoever works on the picture may do it, on the pages of
// other sections, too.
func (d *Desk) Withdraw(ctx context.Context, id uint) error {
	var pages []uint
	err := d.pictures.Stirring(id, func(s store.Records) error {
		pic, err := d.Mine(s, id)
		if err != nil {
			return err
		}
		if pages, err = d.withdraw(s, id, "was taken off the air", false); err != nil {
			return err
		}
		banners, err := d.offBanners(s, id)
		if err != nil {
			return err
		}
		if len(pages)+banners == 0 {
			return access.Refuse(access.Bad, "No live page and no banner shows this picture.", "Nothing was changed.")
		}
		return d.TracePicture(s, pic, "Took %s off the air: %s now show a neutral space, %s nothing", access.NameOr(pic), access.Count(len(pages), "live page"), access.Count(banners, "banner"))
	})
	if err != nil {
		return err
	}
	return d.lookAgain(ctx, pages)
}

// offBanners takes the approval of all banners back that show a picture to visitors, and returns
// how many there were. What was drafted of them stays.
func (d *Desk) offBanners(s store.Records, id uint) (n int, err error) {
	all, err := s.BannersWith(id)
	if err != nil {
		return 0, err
	}
	for _, b := range all {
		if b.Live == nil || b.Live.Picture != id {
			continue
		}
		b.Live, b.ApprovedAt, b.ApprovedBy = nil, nil, ""
		if err := s.Approve(&b, nil, d.Now()); err != nil {
			return n, err
		}
		n++
		if err := d.Trace(s, b.Section, "A picture on the banner %s was taken off the air", b.Doc.Title); err != nil {
			return n, err
		}
	}
	return n, nil
}

// lookAgain checks pages whose live versions have changed.
func (d *Desk) lookAgain(ctx context.Context, pages []uint) error {
	for _, p := range pages {
		d.Rooms.Notify(presence.Page(p))
		if _, err := d.visit.Check(ctx, p); err != nil {
			return err
		}
	}
	return nil
}

// withdraw puts a neutral space in the place of a picture on every live page, and
// returns their numbers. With erase nothing stands there, and nothing stays of what was
// said of it there.
func (d *Desk) withdraw(s store.Records, id uint, what string, erase bool) ([]uint, error) {
	listing, err := d.lists.Uncovered(s, id) // what other pages list comes first: it is theirs no more
	if err != nil {
		return nil, err
	}
	files, err := s.Showing(id)
	if err != nil {
		return nil, err
	}
	var ids []uint
	for _, f := range files {
		if !slices.Contains(ids, f.PageID) {
			ids = append(ids, f.PageID)
		}
	}
	if erase { // also where a neutral space stands for it already
		if ids, err = s.PagesThatShowed(id); err != nil {
			return nil, err
		}
	}
	pages, err := s.PagesIn(ids)
	if err != nil {
		return nil, err
	}
	ids = listing
	for _, p := range pages {
		if !p.Live() {
			continue
		}
		ids = access.AddOnce(ids, p.ID)
		live, err := s.NewestLive(p.ID)
		if err != nil {
			return nil, err
		}
		if live.Files, err = d.neutralised(s, p, id, erase); err != nil {
			return nil, fmt.Errorf("the live page %s: %w", p.Path(), err)
		}
		begins, err := lists.ReadLeaf(live)
		if err != nil {
			return nil, err
		}
		if begins != nil && begins.Picture == id {
			live.Leaf = ""
		}
		live.Print, live.Signed = "", "" // it is not what anybody signed
		if _, err := d.publish.KeepLiveAs(s, &p, live); err != nil {
			return nil, err
		}
		if err := d.Trace(s, p.Section, "A picture on %s %s", p.Doc.Title, what); err != nil {
			return nil, err
		}
	}
	return ids, nil
}

// neutralised are the files of a live page with neutral spaces in the place of a
// picture.
func (d *Desk) neutralised(s store.Records, p store.Page, picture uint, erase bool) ([]store.Published, error) {
	before, err := s.FilesOf(p.ID)
	if err != nil {
		return nil, err
	}
	addresses := map[string]bool{}
	off := page.Taking{Picture: picture, Addresses: addresses, Pages: map[string]page.Ways{}}
	var html store.Published
	var files []store.Published
	for _, f := range before {
		switch {
		case f.Path == p.Path():
			html = f
		case f.PictureID == picture && f.For == store.ForAlbum:
			if off.Pages[f.Path], err = d.waysOf(f); err != nil {
				return nil, err
			}
		case f.PictureID == picture:
			addresses[f.Path] = true
		default:
			files = append(files, f)
		}
	}
	spaces := neutral{desk: d, section: p.Section, at: address.Places{}}
	if !erase {
		off.Space = spaces.space
	}
	if html, err = d.rewritten(html, off); err != nil {
		return nil, err
	}
	for i, f := range files {
		if f.For == store.ForAlbum && len(off.Pages) > 0 {
			if files[i], err = d.rewritten(f, off); err != nil {
				return nil, err
			}
		}
	}
	for _, f := range spaces.files {
		files = publish.WithFile(files, f)
	}
	return append([]store.Published{html}, files...), nil
}

// waysOf are where the page of a picture in an album leads.
func (d *Desk) waysOf(f store.Published) (page.Ways, error) {
	blob, err := d.Store.Files.Open(f.Hash)
	if err != nil {
		return page.Ways{}, err
	}
	defer blob.Close()
	return page.WaysOf(blob)
}

// rewritten is a published page without a picture. One that has nothing to do with the
// picture is not written anew.
func (d *Desk) rewritten(f store.Published, off page.Taking) (store.Published, error) {
	data, err := store.Content(d.Store.Files, f.Hash)
	if err != nil {
		return f, err
	}
	if f.For == store.ForAlbum && !slices.ContainsFunc(slices.Collect(maps.Keys(off.Pages)), func(at string) bool { return bytes.Contains(data, []byte(at)) }) {
		return f, nil
	}
	written, err := off.From(bytes.NewReader(data))
	if err != nil {
		return f, err
	}
	f.Hash, err = d.Store.Files.Put(bytes.NewReader(written), f.MediaType)
	return f, err
}

const svgType = "image/svg+xml"

// neutral keeps the files of the neutral spaces on a page.
type neutral struct {
	desk    *Desk
	section string
	at      address.Places
	files   []store.Published
}

// space makes the file of a neutral space and returns its address.
func (n *neutral) space(w, h int) (string, error) {
	hash, err := n.desk.Store.Files.Put(strings.NewReader(page.SpaceSVG(w, h)), svgType)
	if err != nil {
		return "", err
	}
	at, found := n.at.Addressed(n.desk.Rules(), path.Join("/", n.section, fmt.Sprintf("taken-off-%d-%d.svg", w, h)), address.Filed{Hash: hash})
	n.files = append(n.files, store.Published{Path: at, Hash: hash, MediaType: svgType})
	return found, nil
}
