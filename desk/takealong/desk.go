// Package takealong is the room in which a page is packed for a system in which nothing can be
// installed: its pictures, what to paste, and the steps, one after the other.
package takealong

import (
	"archive/zip"
	"bytes"
	"fmt"
	"io"
	"maps"
	"path"
	"slices"
	"strings"

	"mivlet/core/page"
	"mivlet/core/takealong"
	"mivlet/desk/access"
	"mivlet/desk/address"
	"mivlet/desk/pages"
	"mivlet/desk/publish"
	"mivlet/desk/snapshot"
	"mivlet/store"
)

// Desk is where pages are packed.
type Desk struct {
	*access.Seat
	pages    *pages.Desk
	snapshot *snapshot.Desk
	publish  *publish.Desk
}

// New returns the desk of the house itself.
func New(s *access.Seat, p *pages.Desk, n *snapshot.Desk, pub *publish.Desk) *Desk {
	return &Desk{s, p, n, pub}
}

// At returns the same desk for another seat.
func (d *Desk) At(s *access.Seat) *Desk {
	return &Desk{s, d.pages.At(s), d.snapshot.At(s), d.publish.At(s)}
}

// Packed is a page as it is taken along.
type Packed struct {
	Title string
	HTML  string // with placeholders
	Items []Item
}

// Item is a file that is brought in by hand.
type Item struct {
	takealong.Item
	Name string // of the file in the package
}

// Files are what lies in the package beside the pictures, by their names.
type Files func(Packed) (map[string][]byte, error)

// here begins the addresses that pages have for files while they are packed.
const here = "https://in-this-package.invalid/"

// Pack writes the draft of a page as a ZIP: pictures and files under pictures/ and files/, and beside
// them what beside makes of the rest. Nothing is packed that a visitor would not get: veils are in
// the pictures, and nothing travels inside them.
func (d *Desk) Pack(w io.Writer, id uint, beside Files) error {
	p, err := d.pages.OwnPage(id)
	if err != nil {
		return err
	}
	n, err := d.snapshot.Snap(p.ID)
	if err != nil {
		return err
	}
	hashes := map[string]string{}
	at := address.Places{}
	put := func(name string, f address.Filed) string {
		name = at.Put(name, f)
		hashes[here+name] = f.Hash
		return here + name
	}
	how := d.publish.Writing(n, func(pic store.Picture, c store.Cut) string {
		return put(path.Join("pictures", address.CutFile(pic, c)), address.Filed{Hash: c.Hash, Picture: pic.ID})
	}, func(f page.Attachment) string {
		return put(path.Join("files", f.Name), address.Filed{Hash: f.Hash})
	})
	how.Inline = true // other systems know none of our classes
	var main bytes.Buffer
	if err := page.WriteHTML(&main, n.Doc, how); err != nil {
		return err
	}
	packed := Packed{Title: n.Doc.Title}
	var items []takealong.Item
	if packed.HTML, items, err = takealong.Prepare(main.String(), func(a string) bool { return hashes[a] != "" }); err != nil {
		return err
	}
	z := zip.NewWriter(w)
	for _, i := range items {
		name := strings.TrimPrefix(i.Address, here)
		folder, file := path.Split(name)
		name = fmt.Sprintf("%s%02d-%s", folder, i.Number, file) // in the order of the steps
		packed.Items = append(packed.Items, Item{i, name})
		if err := d.addKept(z, name, hashes[i.Address]); err != nil {
			return err
		}
	}
	more, err := beside(packed)
	if err != nil {
		return err
	}
	for _, name := range slices.Sorted(maps.Keys(more)) {
		f, err := z.CreateHeader(&zip.FileHeader{Name: name, Method: zip.Deflate, Modified: d.Now()})
		if err != nil {
			return err
		}
		if _, err := f.Write(more[name]); err != nil {
			return err
		}
	}
	return z.Close()
}

// addKept adds a kept file, as it is: pictures are packed already.
func (d *Desk) addKept(z *zip.Writer, name, hash string) error {
	in, err := d.Store.Files.Open(hash)
	if err != nil {
		return err
	}
	defer in.Close()
	f, err := z.CreateHeader(&zip.FileHeader{Name: name, Method: zip.Store, Modified: d.Now()})
	if err != nil {
		return err
	}
	_, err = io.Copy(f, in)
	return err
}
