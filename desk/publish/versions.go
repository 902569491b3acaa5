package publish

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"strings"

	"mivlet/core/page"
	"mivlet/desk/access"
	"mivlet/desk/lists"
	"mivlet/desk/pages"
	"mivlet/desk/presence"
	"mivlet/desk/snapshot"
	"mivlet/desk/visit"
	"mivlet/store"
)

// keepLive makes files what visitors get of a page, and keeps them so that they can be
// put back.
func (d *Desk) keepLive(s store.Records, p *store.Page, r release) ([]uint, error) {
	doc, err := json.Marshal(r.Doc)
	if err != nil {
		return nil, err
	}
	v := store.LiveVersion{PageID: p.ID, At: d.Now(), Person: d.Person.Name, Path: p.Path(), Doc: string(doc), Files: r.files, Print: r.Print(), Leaf: r.leaf}
	if r.signed != nil {
		why, err := json.Marshal(r.signed)
		if err != nil {
			return nil, err
		}
		v.Signed = string(why)
	}
	return d.KeepLiveAs(s, p, v)
}

// KeepLiveAs is keepLive for a version that is made up already. It returns the other live
// pages whose lists have changed with it.
func (d *Desk) KeepLiveAs(s store.Records, p *store.Page, v store.LiveVersion) ([]uint, error) {
	v.ID, v.PageID, v.At, v.Person, v.Path = 0, p.ID, d.Now(), d.Person.Name, p.Path()
	doc, err := page.Parse([]byte(v.Doc))
	if err != nil {
		return nil, fmt.Errorf("the live version of page %d: %w", p.ID, err)
	}
	if err := s.Publish(p, v.Files, v.Print, v.At); err != nil {
		return nil, err
	}
	if err := s.AddLiveVersion(&v); err != nil {
		return nil, err
	}
	if err := d.noteSpots(s, *p, v.Files); err != nil {
		return nil, err
	}
	return d.lists.Went(s, *p, doc, v.Files)
}

// noteSpots notes which spots the HTML of a live page has a place for.
func (d *Desk) noteSpots(s store.Records, p store.Page, files []store.Published) error {
	for _, f := range files {
		if f.Path != p.Path() {
			continue
		}
		html, err := store.Content(d.Store.Files, f.Hash)
		if err != nil {
			return err
		}
		return s.SetSpots(p.ID, page.MarkedSpots(html))
	}
	return nil
}

// Outdated is the refusal to put back an earlier live version as it was, because of
// what has happened to its pictures since. Its words and its arrangement can be put
// back with the pictures of today: see [Desk.PutBackWords].
type Outdated struct {
	*access.Refusal
	Version uint
}

// Unwrap returns the refusal.
func (o *Outdated) Unwrap() error { return o.Refusal }

// PutBack makes an earlier live version of a page the live page again, file by file as
// it was; the draft stays as it is. Where a picture in it has gone since, was thrown
// away, refused, veiled or swapped, it fails with an [*Outdated].
func (d *Desk) PutBack(ctx context.Context, id, version uint) (visit.Report, error) {
	var others []uint
	err := d.publishing(id, func(s store.Records, p *store.Page) error {
		v, err := s.LiveVersion(id, version)
		if err != nil {
			return access.NotFound(err, "That version")
		}
		v.Files = lists.Own(v.Files)
		if err := d.showable(s, v); err != nil {
			return err
		}
		for i, f := range v.Files {
			if f.Path == v.Path {
				v.Files[i].Path = p.Path() // the page may have moved since
			}
		}
		at := v.At
		if others, err = d.KeepLiveAs(s, p, v); err != nil {
			return err
		}
		return d.Trace(s, p.Section, "Put back %s as it was on %s", p.Doc.Title, at.Format("2 Jan 2006, 15:04"))
	})
	if err == nil {
		err = d.visit.LookAt(ctx, others)
	}
	if err != nil {
		return visit.Report{}, err
	}
	return d.visit.Check(ctx, id)
}

// showable refuses to show visitors the files of an earlier version again where one of
// its pictures may not be shown like that any more.
func (d *Desk) showable(s store.Records, v store.LiveVersion) error {
	var ids []uint
	for _, f := range v.Files {
		if !d.Store.Files.Has(f.Hash) {
			return &Outdated{access.Refuse(access.Missing, "A file of that version is gone for good.", "Put back its words and arrangement instead, or publish the draft."), v.ID}
		}
		if f.PictureID != 0 {
			ids = append(ids, f.PictureID)
		}
	}
	pictures, err := s.PicturesIn(ids)
	if err != nil {
		return err
	}
	var reasons []string
	for _, f := range v.Files {
		if f.PictureID == 0 {
			continue
		}
		pic, there := pictures[f.PictureID]
		if !there {
			reasons = access.AddOnce(reasons, "a picture of it is gone for good")
		} else if why := d.pictures.SinceThen(f, pic, access.NameOr(pic)); why != "" {
			reasons = access.AddOnce(reasons, why)
		}
	}
	if len(reasons) == 0 {
		return nil
	}
	return &Outdated{access.Refuse(access.Clash, "That version cannot be shown as it was: "+strings.Join(reasons, "; ")+".", "Put back its words and arrangement with the pictures of today, or publish the draft."), v.ID}
}

// PutBackWords makes the words and the arrangement of an earlier live version the draft
// of a page, with its pictures as they are today. Where one of them is gone or thrown
// away, its place waits for another. Visitors see it when it is published.
func (d *Desk) PutBackWords(id, version uint) error {
	return d.pages.OnDraft(id, pages.Newest, func(s store.Records, p *store.Page) error {
		v, err := s.LiveVersion(id, version)
		if err != nil {
			return access.NotFound(err, "That version")
		}
		doc, err := page.Parse([]byte(v.Doc))
		if err != nil {
			return fmt.Errorf("the live version %d: %w", version, err)
		}
		pictures, err := s.PicturesIn(doc.Pictures())
		if err != nil {
			return err
		}
		for _, pic := range doc.Pictures() {
			if now, there := pictures[pic]; !there || now.Station == store.Bin {
				doc = doc.Without(pic)
			}
		}
		p.Doc = doc
		text := "Words and arrangement as they were live on " + v.At.Format("2 Jan 2006, 15:04")
		if err := s.AddPageStep(p, text, d.Person.Name, d.Now()); err != nil {
			return err
		}
		return d.Trace(s, p.Section, "Page %s: %s", p.Doc.Title, text)
	})
}

// TakePageOff takes a page off the site. Visitors who have its address are told so.
func (d *Desk) TakePageOff(id uint) error {
	var others []uint
	err := d.publishing(id, func(s store.Records, p *store.Page) error {
		if !p.Live() {
			return access.Refuse(access.Bad, "The page is not live.", "Nothing was changed.")
		}
		known, err := d.lists.KnownBy(s, id)
		if err != nil {
			return err
		}
		if err := s.TakeOffline(p, d.Now()); err != nil {
			return err
		}
		if others, err = d.lists.Gone(s, known); err != nil {
			return err
		}
		return d.Trace(s, p.Section, "Took %s off the site", p.Doc.Title)
	})
	if err != nil {
		return err
	}
	return d.visit.LookAt(d.Context, others)
}

// publishing does something to what visitors get of a page, for its publishers.
func (d *Desk) publishing(id uint, do func(store.Records, *store.Page) error) error {
	err := d.Store.Tx(func(s store.Records) error {
		p, err := s.Page(id)
		if err != nil {
			return access.NotFound(err, "The page")
		}
		if err := d.MayPublish(p.Section); err != nil {
			return err
		}
		return do(s, &p)
	})
	if err == nil {
		d.Rooms.Notify(presence.Page(id))
	}
	return err
}

// Whereabouts tells visitors of an address where nothing is published: the address
// that it has moved to, or the title of the page that was taken off there.
func (d *Desk) Whereabouts(section, slug string) (moved, gone string, err error) {
	p, err := d.Store.MovedTo("/" + section + "/" + slug)
	if err == nil && p.Live() {
		return p.Path(), "", nil
	}
	if err != nil && !errors.Is(err, store.ErrNotFound) {
		return "", "", err
	}
	p, err = d.Store.PageAt(section, slug)
	if errors.Is(err, store.ErrNotFound) {
		return "", "", nil
	}
	if err != nil {
		return "", "", err
	}
	if p.Live() {
		return "", "", nil
	}
	was, err := d.Store.NewestLive(p.ID)
	if errors.Is(err, store.ErrNotFound) {
		return "", "", nil
	}
	if err != nil {
		return "", "", err
	}
	doc, err := page.Parse([]byte(was.Doc))
	return "", doc.Title, err
}

// Lives lists what visitors got of a page, newest first.
func (d *Desk) Lives(id uint) ([]store.LiveVersion, error) {
	if err := d.MayLook(); err != nil {
		return nil, err
	}
	return d.Store.LiveVersions(id)
}

// Signature reads who let a live version go out all the same, and why; nil where
// nothing said stop.
func Signature(v store.LiveVersion) (*snapshot.Sign, error) {
	if v.Signed == "" {
		return nil, nil
	}
	var s snapshot.Sign
	err := json.Unmarshal([]byte(v.Signed), &s)
	return &s, err
}

// Changes tells what publishing a page would change for visitors.
func (d *Desk) Changes(id uint) ([]snapshot.Difference, error) {
	v, err := d.pages.Page(id)
	return v.Changes, err
}
