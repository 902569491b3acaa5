// Package attachments is the room of files that are no pictures and that visitors can download:
// documents, tables, recordings. They are kept on the shelves, named, and offered on pages as
// downloads. What the house does with a type of file is decided by its rules alone (see
// [rules.Rules.Arriving]); what can act in a browser or on a machine is never kept.
package attachments

import (
	"bufio"
	"fmt"
	"io"
	"path"
	"strings"

	"github.com/gabriel-vasile/mimetype"

	"mivlet/core/page"
	"mivlet/core/rules"
	"mivlet/core/words"
	"mivlet/desk/access"
	"mivlet/desk/derive"
	"mivlet/desk/pages"
	"mivlet/desk/pictures"
	"mivlet/store"
)

// Desk is where one person keeps such files.
type Desk struct {
	*access.Seat
	pictures *pictures.Desk
	pages    *pages.Desk
}

// New returns the desk of the house itself.
func New(s *access.Seat, p *pictures.Desk, pg *pages.Desk) *Desk { return &Desk{s, p, pg} }

// At returns the same desk for another seat.
func (d *Desk) At(s *access.Seat) *Desk { return &Desk{s, d.pictures.At(s), d.pages.At(s)} }

const (
	mostBytes = 25 << 20 // of a file that visitors download
	mostTitle = 120      // letters
	headBytes = 3072     // of a file, which tell what it is
)

// Peek reads the beginning of a file that comes in, and reports whether it is one to keep here:
// no picture, also by its name, and of a type that the house keeps. all gives the whole file,
// from its start.
func (d *Desk) Peek(name string, r io.Reader) (all io.Reader, mine bool, err error) {
	first := bufio.NewReaderSize(r, headBytes)
	head, err := first.Peek(headBytes)
	if err != nil && err != io.EOF {
		return first, false, fmt.Errorf("%s could not be taken in: %w", name, err)
	}
	kind, known := d.Rules().Arriving(plain(mimetype.Detect(head)), head)
	return first, known && kind.Own() && kind.Do == rules.Keep && !rules.OfPicture(path.Ext(name)), nil
}

// Keep takes a file in for a section. One that the section has already is not kept twice: the
// one that is there is returned, back from where it was thrown away.
func (d *Desk) Keep(name string, r io.Reader, section string) (store.Attachment, error) {
	name = pictures.BaseName(name)
	if err := d.MayWork(section); err != nil {
		return store.Attachment{}, err
	}
	in, err := d.Store.Files.Receive(io.LimitReader(r, mostBytes+1))
	if err != nil {
		return store.Attachment{}, fmt.Errorf("%s could not be taken in: %w", name, err)
	}
	defer in.Discard()
	switch {
	case in.Bytes > mostBytes:
		return store.Attachment{}, access.Refuse(access.TooMuch, fmt.Sprintf("%s is larger than %d MB.", name, mostBytes>>20), "Choose a smaller one.")
	case in.Bytes == 0:
		return store.Attachment{}, access.Refuse(access.Bad, name+" is empty.", "Look at the file, then bring it again.")
	}
	kind, err := d.kindOf(in, name)
	if err != nil {
		return store.Attachment{}, err
	}
	if err := in.Keep(kind.MediaType); err != nil {
		return store.Attachment{}, err
	}
	title := words.VisibleLine(strings.TrimSuffix(name, path.Ext(name)), mostTitle)
	a := store.Attachment{Section: section, Title: title, Name: pictures.AttachedName(name, kind.Extension), OriginalName: name,
		Hash: in.Hash, MediaType: kind.MediaType, Bytes: in.Bytes, Person: d.Person.Name, CreatedAt: d.Now()}
	return a, d.Store.Tx(func(s store.Records) error {
		there, err := s.AttachmentsOf([]string{section})
		if err != nil {
			return err
		}
		for _, b := range there {
			if b.Hash == a.Hash {
				a, b.DroppedAt = b, nil
				a.DroppedAt = nil
				return s.SaveAttachment(&b)
			}
		}
		if err := s.AddAttachment(&a); err != nil {
			return err
		}
		return d.Trace(s, section, "Brought the file %s in", name)
	})
}

// kindOf is the type of a file that visitors can download; why it is refused where it is none.
func (d *Desk) kindOf(in io.ReadSeeker, name string) (rules.Type, error) {
	found, err := mimetype.DetectReader(in)
	if err != nil {
		return rules.Type{}, err
	}
	media := plain(found)
	switch kind, known, err := d.JudgeFile(in, name, media); {
	case err != nil:
		return kind, err
	case known && kind.Own():
		return kind, nil
	case known || strings.HasPrefix(media, "image/"):
		return kind, access.Refuse(access.Bad, name+" is a picture, not a file to download.", "Pictures are placed: choose one from the tray, or drop it into a gap.")
	}
	return rules.Type{}, access.Refuse(access.Bad, fmt.Sprintf("%s is not a file that visitors can download (%s).", name, media),
		"Visitors can download documents, tables, texts and ZIP archives. A keeper can add other types under House rules.")
}

// plain is a media type without its parameters.
func plain(m *mimetype.MIME) string {
	media, _, _ := strings.Cut(m.String(), ";")
	return media
}

// Kept returns the files of the sections that whoever is at the desk works for, newest first:
// those on the shelves, and those that were thrown away.
func (d *Desk) Kept() (on, thrown []store.Attachment, err error) {
	if err := d.MayLook(); err != nil {
		return nil, nil, err
	}
	all, err := d.Store.AttachmentsOf(d.pictures.OwnSections())
	for _, a := range all {
		if a.DroppedAt == nil {
			on = append(on, a)
		} else {
			thrown = append(thrown, a)
		}
	}
	return on, thrown, err
}

// mine is a file of a section that whoever is at the desk works for.
func (d *Desk) mine(s store.Records, id uint) (store.Attachment, error) {
	a, err := s.Attachment(id)
	if err != nil {
		return a, access.NotFound(err, "This file")
	}
	return a, d.MayWork(a.Section)
}

// change changes a file of the shelves; text tells what was done, with its title behind it.
func (d *Desk) change(id uint, text string, act func(*store.Attachment) error) error {
	return d.Store.Tx(func(s store.Records) error {
		a, err := d.mine(s, id)
		if err != nil {
			return err
		}
		if err := act(&a); err != nil {
			return err
		}
		if err := s.SaveAttachment(&a); err != nil {
			return err
		}
		return d.Trace(s, a.Section, text+" the file %s", a.Title)
	})
}

// SetTitle gives a file another title, and a name on the site that follows from it. Pages that
// offer it already keep theirs.
func (d *Desk) SetTitle(id uint, title string) error {
	title = words.VisibleLine(title, mostTitle)
	if title == "" {
		return access.Refuse(access.Bad, "A file needs a title.", "Write what visitors get, such as “Rota of the autumn”.")
	}
	return d.change(id, "Named", func(a *store.Attachment) error {
		a.Title, a.Name = title, pictures.AttachedName(title+".x", path.Ext(a.Name))
		return nil
	})
}

// ThrowAway takes a file off the shelves. Pages that offer it keep it, and it can be brought back.
func (d *Desk) ThrowAway(id uint) error {
	return d.change(id, "Threw away", func(a *store.Attachment) error {
		now := d.Now()
		a.DroppedAt = &now
		return nil
	})
}

// BringBack puts a file that was thrown away on the shelves again.
func (d *Desk) BringBack(id uint) error {
	return d.change(id, "Brought back", func(a *store.Attachment) error {
		a.DroppedAt = nil
		return nil
	})
}

// Delete forgets a file that was thrown away. Its bytes go where no page offers it.
func (d *Desk) Delete(id uint) error {
	return d.Store.Tx(func(s store.Records) error {
		a, err := d.mine(s, id)
		if err != nil {
			return err
		}
		if a.DroppedAt == nil {
			return access.Refuse(access.Clash, a.Title+" is on the shelves.", "Throw it away first. It can be brought back until you delete it.")
		}
		if err := s.DropAttachment(id); err != nil {
			return err
		}
		return d.Trace(s, a.Section, "Deleted the file %s", a.Title)
	})
}

// Open opens a file of the shelves.
func (d *Desk) Open(id uint) (derive.File, store.Attachment, error) {
	a, err := d.mine(d.Store, id)
	if err != nil {
		return derive.File{}, a, err
	}
	blob, err := d.Store.Files.Open(a.Hash)
	return derive.File{ReadSeekCloser: blob, MediaType: a.MediaType, Tag: a.Hash}, a, err
}

// Place offers a file of the shelves in a gap of a page.
func (d *Desk) Place(pageID uint, at page.Gap, id uint) (block string, err error) {
	a, err := d.mine(d.Store, id)
	if err != nil {
		return "", err
	}
	if a.DroppedAt != nil {
		return "", access.Refuse(access.Missing, a.Title+" was thrown away.", "Bring it back first.")
	}
	return d.offer(pageID, at, a)
}

// Add keeps a file for the section of a page, and offers it there in a gap.
func (d *Desk) Add(pageID uint, at page.Gap, name string, r io.Reader) (block string, err error) {
	p, err := d.pages.OwnPage(pageID)
	if err != nil {
		return "", err
	}
	a, err := d.Keep(name, r, p.Section)
	if err != nil {
		return "", err
	}
	return d.offer(pageID, at, a)
}

func (d *Desk) offer(pageID uint, at page.Gap, a store.Attachment) (string, error) {
	b := page.Block{ID: access.NewBlock(), Kind: page.File, Text: a.Title, File: &page.Attachment{Hash: a.Hash, Name: a.Name, MediaType: a.MediaType, Bytes: a.Bytes}}
	err := d.pages.Edit(pageID, pages.Newest, "Added the file "+a.Name, func(doc page.Doc) (page.Doc, error) { return doc.InsertAt(at, b) })
	return b.ID, err
}

// OpenOffered opens a file that a page of the desk offers.
func (d *Desk) OpenOffered(pageID uint, hash string) (derive.File, error) {
	p, err := d.pages.OwnPage(pageID)
	if err != nil {
		return derive.File{}, err
	}
	for _, b := range p.Doc.Blocks {
		if b.File != nil && b.File.Hash == hash {
			blob, err := d.Store.Files.Open(hash)
			return derive.File{ReadSeekCloser: blob, MediaType: b.File.MediaType, Tag: hash}, err
		}
	}
	return derive.File{}, access.Refuse(access.Missing, "This page has no such file.", "Look at the page.")
}
