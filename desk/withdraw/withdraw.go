package withdraw

import (
	"bytes"
	"context"
	"fmt"
	"io"
	"path"
	"slices"
	"strconv"
	"strings"

	"github.com/PuerkitoBio/goquery"

	"mivlet/core/page"
	"mivlet/desk/access"
	"mivlet/desk/presence"
	"mivlet/desk/publish"
	"mivlet/desk/snapshot"
	"mivlet/store"
)

// Withdraw takes a picture off the air at once: on every live page a neutral space of
// its size stands in its place, and its addresses answer that it is gone, until the
// pages are published again. Whoever works on the picture may do it, on the pages of
// other sections, too.
func (d *Desk) Withdraw(ctx context.Context, id uint) error {
	var pages []uint
	err := d.pictures.Stirring(id, func(s *store.Store) error {
		pic, err := d.Mine(s, id)
		if err != nil {
			return err
		}
		if pages, err = d.withdraw(s, id, "was taken off the air", false); err != nil {
			return err
		}
		if len(pages) == 0 {
			return access.Refuse(access.Bad, "No live page shows this picture.", "Nothing was changed.")
		}
		return d.TracePicture(s, pic, "Took %s off the air: a neutral space stands on %s", access.NameOr(pic), access.Count(len(pages), "live page"))
	})
	if err != nil {
		return err
	}
	return d.lookAgain(ctx, pages)
}

// lookAgain checks pages whose live versions have changed.
func (d *Desk) lookAgain(ctx context.Context, pages []uint) error {
	for _, p := range pages {
		d.Rooms.Notify(presence.Page(p))
		if _, err := d.publish.CheckLive(ctx, p); err != nil {
			return err
		}
	}
	return nil
}

// withdraw puts a neutral space in the place of a picture on every live page, and
// returns their numbers. With erase nothing stands there, and nothing stays of what was
// said of it there.
func (d *Desk) withdraw(s *store.Store, id uint, what string, erase bool) ([]uint, error) {
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
	ids = nil
	for _, p := range pages {
		if !p.Live() {
			continue
		}
		ids = append(ids, p.ID)
		live, err := s.NewestLive(p.ID)
		if err != nil {
			return nil, err
		}
		if live.Files, err = d.neutralised(s, p, id, erase); err != nil {
			return nil, fmt.Errorf("the live page %s: %w", p.Path(), err)
		}
		live.Print, live.Signed = "", "" // it is not what anybody signed
		if err := d.publish.KeepLiveAs(s, &p, live); err != nil {
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
func (d *Desk) neutralised(s *store.Store, p store.Page, picture uint, erase bool) ([]store.Published, error) {
	before, err := s.FilesOf(p.ID)
	if err != nil {
		return nil, err
	}
	addresses := map[string]bool{}
	var html store.Published
	var files []store.Published
	for _, f := range before {
		switch {
		case f.Path == p.Path():
			html = f
		case f.PictureID == picture:
			addresses[f.Path] = true
		default:
			files = append(files, f)
		}
	}
	blob, err := d.Store.Blobs.Open(html.Hash)
	if err != nil {
		return nil, err
	}
	defer blob.Close()
	spaces := neutral{desk: d, picture: picture, section: p.Section, addresses: addresses, at: snapshot.Places{}, erase: erase}
	written, err := spaces.rewrite(blob)
	if err != nil {
		return nil, err
	}
	if html.Hash, err = d.Store.Blobs.Put(bytes.NewReader(written)); err != nil {
		return nil, err
	}
	for _, f := range spaces.files {
		files = publish.WithFile(files, f)
	}
	return append([]store.Published{html}, files...), nil
}

// neutral writes neutral spaces in the place of the pictures at some addresses.
type neutral struct {
	desk      *Desk
	picture   uint
	section   string
	addresses map[string]bool // paths, without a mark
	erase     bool            // nothing stands in their place, and captions go, too
	at        snapshot.Places
	files     []store.Published
}

// spaceFor is the attribute that tells which picture a space stands for, by its number.
const spaceFor = "data-space"

// spaceWords is what those hear who cannot see that a space is empty.
const spaceWords = "This picture was taken off."

func (n *neutral) rewrite(before io.Reader) ([]byte, error) {
	doc, err := goquery.NewDocumentFromReader(before)
	if err != nil {
		return nil, err
	}
	var bad error
	doc.Find("img").Each(func(_ int, img *goquery.Selection) {
		from, _, _ := strings.Cut(img.AttrOr("src", ""), "?")
		number := strconv.FormatUint(uint64(n.picture), 10)
		if !n.addresses[from] && img.AttrOr(spaceFor, "") != number || bad != nil {
			return
		}
		if n.erase {
			img.Closest("figure, .large").Remove()
			return
		}
		w, h := max(1, publish.Atoi(img.AttrOr("width", "4"))), max(1, publish.Atoi(img.AttrOr("height", "3")))
		var address string
		if address, bad = n.space(w, h); bad != nil {
			return
		}
		img.SetAttr(spaceFor, number).SetAttr("src", address).SetAttr("alt", spaceWords).SetAttr("width", strconv.Itoa(w)).SetAttr("height", strconv.Itoa(h))
		img.RemoveAttr("srcset").RemoveAttr("sizes")
	})
	if bad != nil {
		return nil, bad
	}
	var b bytes.Buffer
	err = goquery.Render(&b, doc.Selection)
	return []byte(page.PlainVoid(b.String())), err
}

// space makes the file of a neutral space and returns its address.
func (n *neutral) space(w, h int) (string, error) {
	drawing := fmt.Sprintf(`<svg xmlns="http://www.w3.org/2000/svg" width="%d" height="%d" viewBox="0 0 %[1]d %[2]d"><rect width="%[1]d" height="%[2]d" fill="#e4e0d6"/></svg>`, w, h)
	hash, err := n.desk.Store.Blobs.Put(strings.NewReader(drawing))
	if err != nil {
		return "", err
	}
	at, address := n.at.Addressed(n.desk.Rules(), path.Join("/", n.section, fmt.Sprintf("taken-off-%d-%d.svg", w, h)), snapshot.Filed{Hash: hash})
	n.files = append(n.files, store.Published{Path: at, Hash: hash, MediaType: "image/svg+xml"})
	return address, nil
}
