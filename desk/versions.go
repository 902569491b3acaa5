package desk

import (
	"cmp"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"strings"

	"mivlet/core/consent"
	"mivlet/core/page"
	"mivlet/store"
)

// keepLive makes files what visitors get of a page, and keeps them so that they can be
// put back.
func (d *Desk) keepLive(s *store.Store, p *store.Page, files []store.Published, print string, signed *Sign) error {
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
	return d.keepLiveAs(s, p, v)
}

// keepLiveAs is keepLive for a version that is made up already.
func (d *Desk) keepLiveAs(s *store.Store, p *store.Page, v store.LiveVersion) error {
	v.ID, v.PageID, v.At, v.Person, v.Path = 0, p.ID, d.now(), d.who.Name, p.Path()
	if err := s.Publish(p, v.Files, v.Print, v.At); err != nil {
		return err
	}
	return s.AddLiveVersion(&v)
}

// Outdated is the refusal to put back an earlier live version as it was, because of
// what has happened to its pictures since. Its words and its arrangement can be put
// back with the pictures of today: see [Desk.PutBackWords].
type Outdated struct {
	*Refusal
	Version uint
}

// Unwrap returns the refusal.
func (o *Outdated) Unwrap() error { return o.Refusal }

// PutBack makes an earlier live version of a page the live page again, file by file as
// it was; the draft stays as it is. Where a picture in it has gone since, was thrown
// away, refused, veiled or swapped, it fails with an [*Outdated].
func (d *Desk) PutBack(ctx context.Context, id, version uint) (Report, error) {
	err := d.publishing(id, func(s *store.Store, p *store.Page) error {
		v, err := s.LiveVersion(id, version)
		if err != nil {
			return missing(err, "That version")
		}
		if err := d.showable(s, v); err != nil {
			return err
		}
		for i, f := range v.Files {
			if f.Path == v.Path {
				v.Files[i].Path = p.Path() // the page may have moved since
			}
		}
		at := v.At
		if err := d.keepLiveAs(s, p, v); err != nil {
			return err
		}
		return d.trace(s, p.Section, "Put back %s as it was on %s", p.Doc.Title, at.Format("2 Jan 2006, 15:04"))
	})
	if err != nil {
		return Report{}, err
	}
	return d.CheckLive(ctx, id)
}

// showable refuses to show visitors the files of an earlier version again where one of
// its pictures may not be shown like that any more.
func (d *Desk) showable(s *store.Store, v store.LiveVersion) error {
	var ids []uint
	for _, f := range v.Files {
		if !d.store.Blobs.Has(f.Hash) {
			return &Outdated{refuse(Missing, "A file of that version is gone for good.", "Put back its words and arrangement instead, or publish the draft."), v.ID}
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
			reasons = addOnce(reasons, "a picture of it is gone for good")
		} else if why := d.sinceThen(f, pic, nameOr(pic)); why != "" {
			reasons = addOnce(reasons, why)
		}
	}
	if len(reasons) == 0 {
		return nil
	}
	return &Outdated{refuse(Clash, "That version cannot be shown as it was: "+strings.Join(reasons, "; ")+".", "Put back its words and arrangement with the pictures of today, or publish the draft."), v.ID}
}

// sinceThen tells why a file that is or was live may not be shown by now: what has
// happened since to its picture, which is called name; "" where nothing speaks against
// it.
func (d *Desk) sinceThen(f store.Published, pic store.Picture, name string) string {
	switch {
	case pic.Station == store.Bin:
		return name + " was thrown away"
	case f.Averaged:
		return "what is hidden on " + name + " went live as averages, which can be guessed back"
	case f.Original == "" || f.Veils == nil:
		return "nobody can tell any more what was hidden on " + name
	case f.Original != pic.OriginalHash:
		return "another file was swapped in for " + name
	case !hidesAllOf(f, pic):
		return "a veil was drawn on " + name + " since"
	}
	return d.mayNotBeSeen(pic, name)
}

// mayNotBeSeen tells who on a picture, which is called name, may not be seen by now and
// is covered by no veil; "" where that is nobody.
func (d *Desk) mayNotBeSeen(pic store.Picture, name string) string {
	binding := consent.Binding(pic.Consents, pic.Work.Recipe.VeilIDs(), d.today())
	switch {
	case len(binding) == 0:
		return ""
	case slices.ContainsFunc(binding, func(e consent.Entry) bool { return e.State == consent.Refused }):
		return "somebody on " + name + " said no"
	default:
		return "the consent of somebody on " + name + " has ended"
	}
}

// hidesAllOf reports whether a file was cut with every veil that its picture has now.
func hidesAllOf(f store.Published, pic store.Picture) bool {
	return !slices.ContainsFunc(hiding(pic), func(v string) bool { return !slices.Contains(f.Veils, v) })
}

// PutBackWords makes the words and the arrangement of an earlier live version the draft
// of a page, with its pictures as they are today. Where one of them is gone or thrown
// away, its place waits for another. Visitors see it when it is published.
func (d *Desk) PutBackWords(id, version uint) error {
	return d.onDraft(id, newest, func(s *store.Store, p *store.Page) error {
		v, err := s.LiveVersion(id, version)
		if err != nil {
			return missing(err, "That version")
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
		if err := s.AddPageStep(p, text, d.who.Name, d.now()); err != nil {
			return err
		}
		return d.trace(s, p.Section, "Page %s: %s", p.Doc.Title, text)
	})
}

// TakePageOff takes a page off the site. Visitors who have its address are told so.
func (d *Desk) TakePageOff(id uint) error {
	return d.publishing(id, func(s *store.Store, p *store.Page) error {
		if !p.Live() {
			return refuse(Bad, "The page is not live.", "Nothing was changed.")
		}
		if err := s.TakeOffline(p, d.now()); err != nil {
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
	if p.Live() {
		return "", "", nil
	}
	was, err := d.store.NewestLive(p.ID)
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

// Changes tells what publishing a page would change for visitors.
func (d *Desk) Changes(id uint) ([]Change, error) {
	v, err := d.Page(id)
	return v.Changes, err
}

// changes tells what publishing a page would change for visitors: the blocks that
// were added, taken off and changed since it last went live, and the pictures that
// look otherwise now.
func (d *Desk) changes(n *snapshot) ([]Change, error) {
	if !n.Live() {
		return nil, nil
	}
	was, err := d.store.NewestLive(n.ID)
	if errors.Is(err, store.ErrNotFound) {
		return nil, nil
	}
	if err != nil {
		return nil, err
	}
	before, err := page.Parse([]byte(was.Doc))
	if err != nil {
		return nil, fmt.Errorf("the live version of page %d: %w", n.ID, err)
	}
	return n.withPictures(compareDocs(before, n.Doc), d.filesSeen(was)), nil
}

// filesSeen are the files that visitors get of a live version, by picture, the smallest
// first.
func (d *Desk) filesSeen(v store.LiveVersion) map[uint][]store.Published {
	seen := map[uint][]store.Published{}
	for _, f := range v.Files {
		if f.PictureID != 0 {
			seen[f.PictureID] = append(seen[f.PictureID], f)
		}
	}
	for _, files := range seen {
		slices.SortFunc(files, func(a, b store.Published) int {
			return cmp.Compare(d.store.Blobs.Size(a.Hash), d.store.Blobs.Size(b.Hash))
		})
	}
	return seen
}

// withPictures adds what the pictures of changed blocks look like before and after,
// and blocks where nothing but the picture has changed.
func (n *snapshot) withPictures(all []Change, seen map[uint][]store.Published) []Change {
	shown := func(b page.Block) string {
		for _, at := range b.Holds() {
			if files := seen[at.Picture]; len(files) > 0 {
				return files[0].Hash
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
			if pic, ok := n.pictures[at.Picture]; ok {
				all[i].Now = &pic
				break
			}
		}
	}
	for _, s := range n.stands() {
		if slices.ContainsFunc(all, func(c Change) bool { return c.Block.ID == s.Block }) {
			continue
		}
		pic := n.pictures[s.Picture]
		key := cutKey(n.house.Rules, pic, s.Slot)
		if files := seen[pic.ID]; !slices.ContainsFunc(files, func(f store.Published) bool { return f.CutKey == key }) {
			b, _ := n.Doc.Block(s.Block)
			c := Change{What: "picture", Block: b, Before: b, Now: &pic}
			if len(files) > 0 {
				c.Was = files[0].Hash
			}
			all = append(all, c)
		}
	}
	return all
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
