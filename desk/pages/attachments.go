package pages

import (
	"fmt"
	"io"
	"path"
	"slices"
	"strings"

	"github.com/gabriel-vasile/mimetype"

	"mivlet/core/page"
	"mivlet/desk/access"
	"mivlet/desk/derive"
	"mivlet/desk/pictures"
)

// takenAlong are the types of files that visitors may be offered, by what their
// bytes say: documents, tables, texts and archives, nothing that acts in a browser
// or on a machine.
var takenAlong = []string{
	"application/pdf", "application/rtf", "text/rtf", "text/csv", "text/plain", "application/json", "text/calendar", "application/gpx+xml", "application/epub+zip", "application/zip",
	"application/vnd.oasis.opendocument.text", "application/vnd.oasis.opendocument.spreadsheet", "application/vnd.oasis.opendocument.presentation",
	"application/vnd.openxmlformats-officedocument.wordprocessingml.document", "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet", "application/vnd.openxmlformats-officedocument.presentationml.presentation",
}

// mostAttached is the most bytes of a file that a page offers.
const mostAttached = 25 << 20

// AddFile puts a file that visitors can take along into a gap of a page.
func (d *Desk) AddFile(id uint, at page.Gap, name string, r io.Reader) (block string, err error) {
	if err := d.MayWorkOn(id); err != nil {
		return "", err
	}
	in, err := d.Store.Files.Receive(io.LimitReader(r, mostAttached+1))
	if err != nil {
		return "", fmt.Errorf("%s could not be taken in: %w", name, err)
	}
	defer in.Discard()
	switch {
	case in.Bytes > mostAttached:
		return "", access.Refuse(access.TooMuch, fmt.Sprintf("%s is larger than %d MB.", name, mostAttached>>20), "Choose a smaller one.")
	case in.Bytes == 0:
		return "", access.Refuse(access.Bad, name+" is empty.", "Look at the file, then bring it again.")
	}
	kind, err := mimetype.DetectReader(in)
	if err != nil {
		return "", err
	}
	media, _, _ := strings.Cut(kind.String(), ";")
	if !slices.Contains(takenAlong, media) {
		next := "Visitors can download documents, tables, texts and ZIP archives."
		if strings.HasPrefix(media, "image/") {
			next = "Pictures are placed: choose one from the tray, or drop it into a gap."
		}
		return "", access.Refuse(access.Bad, fmt.Sprintf("%s is not a file that visitors can download (%s).", name, media), next)
	}
	title := strings.TrimSuffix(pictures.BaseName(name), path.Ext(name))
	file := page.Attachment{Hash: in.Hash, Name: pictures.AttachedName(name, kind.Extension()), MediaType: media, Bytes: in.Bytes}
	if err := in.Keep(media); err != nil {
		return "", err
	}
	b := page.Block{ID: access.NewBlock(), Kind: page.File, Text: title, File: &file}
	err = d.Edit(id, Newest, "Added the file "+file.Name, func(doc page.Doc) (page.Doc, error) { return doc.InsertAt(at, b) })
	return b.ID, err
}

// OpenFile opens a file that a page of the desk offers.
func (d *Desk) OpenFile(id uint, hash string) (derive.File, error) {
	p, err := d.OwnPage(id)
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
