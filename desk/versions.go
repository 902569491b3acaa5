package desk

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"slices"

	"mivlet/core/page"
	"mivlet/store"
)

// keepLive keeps what goes live, so that it can be put back.
func (d *Desk) keepLive(s *store.Store, p store.Page, files []store.Published, print string, signed *Sign) error {
	doc, err := json.Marshal(p.Doc)
	if err != nil {
		return err
	}
	v := store.LiveVersion{PageID: p.ID, At: d.now(), Person: d.who.Name, Path: p.Path(), Doc: string(doc), Files: files, Print: print}
	if signed != nil {
		why, err := json.Marshal(signed)
		if err != nil {
			return err
		}
		v.Signed = string(why)
	}
	return s.AddLiveVersion(&v)
}

// PutBack makes an earlier live version of a page the live page again, file by
// file as it was; the draft stays as it is.
func (d *Desk) PutBack(ctx context.Context, id, version uint) (Report, error) {
	err := d.publishing(id, func(s *store.Store, p *store.Page) error {
		v, err := s.LiveVersion(id, version)
		if err != nil {
			return missing(err, "That version")
		}
		for i, f := range v.Files {
			if !d.store.Blobs.Has(f.Hash) {
				return refuse(Missing, "A picture of that version was thrown away for good.", "Publish the draft instead.")
			}
			if name, err := d.uncovered(s, f.Hash); err != nil {
				return err
			} else if name != "" {
				return refuse(Bad, fmt.Sprintf("%s was veiled since: that version would show what is hidden now.", name), "Publish the draft instead; it has the veil.")
			}
			if f.Path == v.Path {
				v.Files[i].Path = p.Path() // the page may have moved since
			}
		}
		if err := s.Publish(p, v.Files, v.Print, d.now()); err != nil {
			return err
		}
		if err := d.keepLive(s, *p, v.Files, v.Print, nil); err != nil {
			return err
		}
		return d.trace(s, p.Section, "Put back %s as it was on %s", p.Doc.Title, v.At.Format("2 Jan 2006, 15:04"))
	})
	if err != nil {
		return Report{}, err
	}
	return d.CheckLive(ctx, id)
}

// uncovered returns the name of a picture that a published file shows otherwise
// than it is now, where it hides something by now or somebody on it said no; ""
// where the file shows none such.
func (d *Desk) uncovered(s *store.Store, hash string) (string, error) {
	made, err := s.CutsByHash(hash)
	if err != nil && !errors.Is(err, store.ErrNotFound) {
		return "", err
	}
	name := ""
	for _, c := range made {
		p, err := s.Picture(c.PictureID)
		if errors.Is(err, store.ErrNotFound) {
			continue
		}
		if err != nil {
			return "", err
		}
		if d.isCurrent(p, c) {
			return "", nil
		}
		if len(p.Work.Recipe.Veils()) > 0 || p.Work.Consent == store.ConsentRefused {
			name = nameOr(p)
		}
	}
	return name, nil
}

// TakePageOff takes a page off the site. Visitors who have its address are told so.
func (d *Desk) TakePageOff(id uint) error {
	return d.publishing(id, func(s *store.Store, p *store.Page) error {
		if !p.Live() {
			return refuse(Bad, "The page is not live.", "Nothing was changed.")
		}
		if err := s.TakeOffline(p); err != nil {
			return err
		}
		return d.trace(s, p.Section, "Took %s off the site", p.Doc.Title)
	})
}

// publishing does something to what visitors get of a page, for its publishers.
func (d *Desk) publishing(id uint, do func(*store.Store, *store.Page) error) error {
	err := d.store.Tx(func(s *store.Store) error {
		p, err := s.Page(id)
		if err != nil {
			return missing(err, "The page")
		}
		if err := d.mayPublish(p.Section); err != nil {
			return err
		}
		return do(s, &p)
	})
	if err == nil {
		d.stir(pageRoom(id))
	}
	return err
}

// Whereabouts tells visitors of an address where nothing is published: the address
// that it has moved to, or the title of the page that was taken off there.
func (d *Desk) Whereabouts(section, slug string) (moved, gone string, err error) {
	p, err := d.store.MovedTo("/" + section + "/" + slug)
	if err == nil && p.Live() {
		return p.Path(), "", nil
	}
	if err != nil && !errors.Is(err, store.ErrNotFound) {
		return "", "", err
	}
	p, err = d.store.PageAt(section, slug)
	if errors.Is(err, store.ErrNotFound) {
		return "", "", nil
	}
	if err != nil {
		return "", "", err
	}
	was, err := d.store.LiveVersions(p.ID)
	if err != nil || len(was) == 0 || p.Live() {
		return "", "", err
	}
	doc, err := page.Parse([]byte(was[0].Doc))
	return "", doc.Title, err
}

// Lives lists what visitors got of a page, newest first.
func (d *Desk) Lives(id uint) ([]store.LiveVersion, error) {
	if err := d.mayLook(); err != nil {
		return nil, err
	}
	return d.store.LiveVersions(id)
}

// Signature reads who let a live version go out all the same, and why; nil where
// nothing said stop.
func Signature(v store.LiveVersion) (*Sign, error) {
	if v.Signed == "" {
		return nil, nil
	}
	var s Sign
	err := json.Unmarshal([]byte(v.Signed), &s)
	return &s, err
}

// Change is one thing that publishing a page would change for visitors.
type Change struct {
	What   string // added, taken off, changed, or picture where only the picture has
	Block  page.Block
	Before page.Block     // of a changed block
	Was    string         // the hash of the cut that visitors see; "" where they see none
	Now    *store.Picture // what they would see; nil where nothing
}

// Changes tells what publishing a page would change for visitors: the blocks that
// were added, taken off and changed since it last went live, and the pictures that
// look otherwise now.
func (d *Desk) Changes(id uint) ([]Change, error) {
	if err := d.mayLook(); err != nil {
		return nil, err
	}
	p, err := d.store.Page(id)
	if err != nil {
		return nil, missing(err, "The page")
	}
	was, err := d.store.LiveVersions(id)
	if err != nil || len(was) == 0 || !p.Live() {
		return nil, err
	}
	before, err := page.Parse([]byte(was[0].Doc))
	if err != nil {
		return nil, fmt.Errorf("the live version of page %d: %w", id, err)
	}
	seen, err := d.cutsSeen(was[0])
	if err != nil {
		return nil, err
	}
	return d.withPictures(compareDocs(before, p.Doc), p.Doc, seen)
}

// cutsSeen are the cuts that visitors get of a live version, by picture.
func (d *Desk) cutsSeen(v store.LiveVersion) (map[uint][]store.Cut, error) {
	seen := map[uint][]store.Cut{}
	for _, f := range v.Files {
		made, err := d.store.CutsByHash(f.Hash)
		if errors.Is(err, store.ErrNotFound) {
			continue
		}
		if err != nil {
			return nil, err
		}
		for _, c := range made {
			seen[c.PictureID] = append(seen[c.PictureID], c)
		}
	}
	for _, cuts := range seen { // the smallest first
		slices.SortFunc(cuts, func(a, b store.Cut) int { return a.Width - b.Width })
	}
	return seen, nil
}

// withPictures adds what the pictures of changed blocks look like before and after,
// and blocks where nothing but the picture has changed.
func (d *Desk) withPictures(all []Change, now page.Doc, seen map[uint][]store.Cut) ([]Change, error) {
	shown := func(b page.Block) string {
		for _, at := range b.Holds() {
			if cuts := seen[at.Picture]; len(cuts) > 0 {
				return cuts[0].Hash
			}
		}
		return ""
	}
	for i, c := range all {
		if all[i].Was = shown(c.Before); c.What == "taken off" {
			all[i].Was = shown(c.Block)
			continue
		}
		for _, at := range c.Block.Holds() {
			if pic, err := d.store.Picture(at.Picture); err == nil {
				all[i].Now = &pic
				break
			}
		}
	}
	for _, s := range now.Stands(d.Rules()) {
		if s.Waits() || slices.ContainsFunc(all, func(c Change) bool { return c.Block.ID == s.Block }) {
			continue
		}
		pic, err := d.store.Picture(s.Picture)
		if err != nil {
			return nil, err
		}
		key := d.cutKey(pic, s.Slot)
		if cuts := seen[pic.ID]; len(cuts) > 0 && !slices.ContainsFunc(cuts, func(c store.Cut) bool { return c.Key == key }) {
			b, _ := now.Block(s.Block)
			all = append(all, Change{What: "picture", Block: b, Before: b, Was: cuts[0].Hash, Now: &pic})
		}
	}
	return all, nil
}

func compareDocs(before, now page.Doc) []Change {
	var all []Change
	if before.Title != now.Title {
		title := func(t string) page.Block { return page.Block{Kind: page.Heading, Text: t} }
		all = append(all, Change{What: "changed", Block: title(now.Title), Before: title(before.Title)})
	}
	for _, b := range now.Blocks {
		old, ok := before.Block(b.ID)
		switch {
		case !ok:
			all = append(all, Change{What: "added", Block: b})
		case old.Mark() != b.Mark():
			all = append(all, Change{What: "changed", Block: b, Before: old})
		}
	}
	for _, b := range before.Blocks {
		if _, ok := now.Block(b.ID); !ok {
			all = append(all, Change{What: "taken off", Block: b})
		}
	}
	return all
}
