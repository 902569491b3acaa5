package landing

import (
	"io"

	"mivlet/desk/pages"
	"mivlet/desk/pictures"
	"mivlet/store"
)

// Arrived is what came of a file that was brought in: a picture, or a file to download.
type Arrived struct {
	Picture *pictures.Arrival
	File    *store.Attachment
}

// Arrive takes a file in for a section: a picture comes to Arrivals, what visitors can download
// to the shelves. What the house does with its type is for its rules to say.
func (d *Desk) Arrive(name string, r io.Reader, section string) (Arrived, error) {
	r, file, err := d.attachments.Peek(name, r)
	if err != nil {
		return Arrived{}, err
	}
	if file {
		a, err := d.attachments.Keep(name, r, section)
		return Arrived{File: &a}, err
	}
	a, err := d.pictures.Arrive(name, r, section)
	return Arrived{Picture: &a}, err
}

// Land takes a file from somebody's own folder straight to a spot on a page. A picture goes the
// way of every arrival; what visitors can download comes into a gap as a file to download.
func (d *Desk) Land(pageID uint, to pages.Target, name string, r io.Reader) (block string, err error) {
	r, file, err := d.attachments.Peek(name, r)
	if err != nil {
		return "", err
	}
	if file && to.Block == "" {
		return d.attachments.Add(pageID, to.Gap, name, r)
	}
	return d.pages.Land(pageID, to, name, r)
}
