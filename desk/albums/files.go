package albums

import (
	"archive/zip"
	"bytes"
	"encoding/csv"
	"errors"
	"fmt"
	"io"
	"os"
	"path"
	"slices"
	"strings"

	"mivlet/core/album"
	"mivlet/core/facts"
	"mivlet/core/page"
	"mivlet/core/rules"
	"mivlet/desk/access"
	"mivlet/desk/pictures"
	"mivlet/desk/snapshot"
	"mivlet/store"
)

// Bring takes a file in for an album and puts the picture at its end. It comes through
// Arrivals as any other, and to the bench: what it lacks is said there and on the album.
func (d *Desk) Bring(id uint, name string, r io.Reader) (uint, error) {
	a, err := d.own(id)
	if err != nil {
		return 0, err
	}
	if a.Dropped() {
		return 0, access.Refuse(access.Bad, "The album was deleted.", "Bring it back first.")
	}
	came, err := d.bench.Bring(a.Section, page.Picture.SlotFor(d.Rules(), ""), name, r)
	if err != nil {
		return 0, err
	}
	return came, d.Add(id, came)
}

// listName is what the list of words in an album's ZIP is called.
const listName = "album.csv"

// columns of the list, in their order.
var columns = []string{"file", "caption", "alt", "credit", "taken"}

// widthSlot is the slot of files of a width, in pixels; 0 is as large as the house enlarges.
func (d *Desk) widthSlot(width int) (rules.Slot, error) {
	r := d.Rules()
	switch {
	case width == 0:
		return page.EnlargedSlot(r), nil
	case width < 50 || width > 6000:
		return rules.Slot{}, access.Refuse(access.Bad, fmt.Sprintf("%d pixels cannot be cut.", width), "Choose a width from 50 to 6000 pixels.")
	}
	return rules.Slot{ID: "download", Title: "Download", Width: width, Height: 4 * width, Inside: true, Densities: []float64{1}, Budget: 3_000_000}, nil
}

// Archive writes an album as a ZIP: the pictures in their order, cut to a width in pixels (0 is
// as large as the house enlarges) and named by the convention, with a list of their words as
// CSV (RFC 4180). Pictures of somebody who may not be shown are left out; it returns their
// names.
func (d *Desk) Archive(w io.Writer, id uint, width int) (left []string, err error) {
	a, err := d.own(id)
	if err != nil {
		return nil, err
	}
	slot, err := d.widthSlot(width)
	if err != nil {
		return nil, err
	}
	known, err := d.Store.PicturesIn(a.Doc.Pictures())
	if err != nil {
		return nil, err
	}
	z := zip.NewWriter(w)
	lines := [][]string{columns}
	used := map[string]bool{}
	for _, e := range snapshot.Sorted(a.Doc, known).Entries {
		p, ok := known[e.Picture]
		if !ok {
			continue
		}
		if pictures.Refuses(d.stops(p)) {
			left = append(left, access.NameOr(p))
			continue
		}
		cuts, err := d.cuts.CutsOf(p, slot)
		if err != nil {
			return left, err
		}
		name := fileName(p, cuts[0], used)
		if err := d.addFile(z, name, cuts[0].Hash); err != nil {
			return left, err
		}
		taken := ""
		if !p.Facts.Taken.IsZero() {
			taken = p.Facts.Taken.Format("2006-01-02")
		}
		lines = append(lines, []string{name, access.Guarded(e.Caption), access.Guarded(p.Work.Alt), access.Guarded(p.Work.Credit), taken})
	}
	list, err := z.Create(listName)
	if err != nil {
		return left, err
	}
	if err := csv.NewWriter(list).WriteAll(lines); err != nil {
		return left, err
	}
	return left, z.Close()
}

// fileName is what a cut is called in the ZIP: by its picture, each name once.
func fileName(p store.Picture, c store.Cut, used map[string]bool) string {
	stem, ending := p.Work.Name, facts.Extension(c.MediaType)
	if stem == "" || used[stem+ending] {
		stem = strings.TrimPrefix(fmt.Sprintf("%s-%d", stem, p.ID), "-")
	}
	used[stem+ending] = true
	return stem + ending
}

func (d *Desk) addFile(z *zip.Writer, name, hash string) error {
	w, err := z.CreateHeader(&zip.FileHeader{Name: name, Method: zip.Store, Modified: d.Now()}) // pictures are packed already
	if err != nil {
		return err
	}
	blob, err := d.Store.Files.Open(hash)
	if err != nil {
		return err
	}
	defer blob.Close()
	_, err = io.Copy(w, blob)
	return err
}

// How large a ZIP may be that is brought in: so many files, and bytes of all of them unpacked.
const (
	mostFiles = album.Most + 1
	mostBytes = 4 << 30
)

// RefusedFile is a file of a ZIP that did not come in.
type RefusedFile struct {
	Name string
	Why  error
}

// BringArchive makes an album of a ZIP: each picture in it arrives as a file of its own, with
// the words that the list in it says. Files that are no pictures are told, and do not keep the
// others out.
func (d *Desk) BringArchive(section, title string, from io.Reader) (id uint, refused []RefusedFile, err error) {
	if err := d.MayWork(section); err != nil {
		return 0, nil, err
	}
	file, err := os.CreateTemp("", "mivlet-album-*.zip") // a ZIP is read from its end
	if err != nil {
		return 0, nil, err
	}
	defer os.Remove(file.Name())
	defer file.Close()
	size, err := io.Copy(file, from)
	if err != nil {
		return 0, nil, access.Because(access.TooMuch, "The ZIP did not arrive whole.", "Send it again, or make smaller ZIPs of it.", err)
	}
	z, err := zip.NewReader(file, size)
	if err != nil {
		return 0, nil, access.Because(access.Bad, "This is not a ZIP that can be read.", "Choose a ZIP file with pictures.", err)
	}
	if len(z.File) > mostFiles {
		return 0, nil, access.Refuse(access.Bad, fmt.Sprintf("It holds %d files, more than an album takes.", len(z.File)), "Make smaller ZIPs of it.")
	}
	said, order, err := listIn(z)
	if err != nil {
		return 0, nil, err
	}
	id, err = d.Begin(section, title, nil)
	if err != nil {
		return 0, nil, err
	}
	left := int64(mostBytes)
	for _, f := range inOrder(z.File, order) {
		n, err := d.bringFile(id, section, f, said[path.Base(f.Name)], left)
		if left -= n; err != nil {
			refused = append(refused, RefusedFile{f.Name, err})
		}
	}
	return id, refused, nil
}

// listIn reads the words in a ZIP, by the names of files, and their order.
func listIn(z *zip.Reader) (said map[string]map[string]string, order []string, err error) {
	said = map[string]map[string]string{}
	i := slices.IndexFunc(z.File, func(f *zip.File) bool { return path.Base(f.Name) == listName })
	if i < 0 {
		return said, nil, nil
	}
	r, err := z.File[i].Open()
	if err != nil {
		return nil, nil, access.Because(access.Bad, "The list in the ZIP cannot be read.", "Pack it again.", err)
	}
	defer r.Close()
	const mostList = 4 << 20
	data, err := io.ReadAll(io.LimitReader(r, mostList))
	if err != nil {
		return nil, nil, access.Because(access.Bad, "The list in the ZIP cannot be read.", "Pack it again.", err)
	}
	table := csv.NewReader(bytes.NewReader(bytes.TrimPrefix(data, []byte("\ufeff")))) // table programs write a mark of order first
	table.FieldsPerRecord = -1
	lines, err := table.ReadAll()
	if err != nil || len(lines) == 0 {
		return nil, nil, access.Because(access.Bad, fmt.Sprintf("The list %s in the ZIP is no table.", listName), "Save it as CSV with commas, or leave it out.", errors.Join(err))
	}
	for _, line := range lines[1:] {
		row := map[string]string{}
		for i, field := range line {
			if i < len(lines[0]) {
				row[strings.ToLower(strings.TrimSpace(lines[0][i]))] = access.Unguarded(strings.TrimSpace(field))
			}
		}
		if name := row["file"]; name != "" {
			said[path.Base(name)] = row
			order = append(order, path.Base(name))
		}
	}
	return said, order, nil
}

// inOrder are the pictures of a ZIP in the order of its list, then the others by their names.
func inOrder(files []*zip.File, order []string) []*zip.File {
	all := slices.DeleteFunc(slices.Clone(files), func(f *zip.File) bool {
		base := path.Base(f.Name)
		return f.FileInfo().IsDir() || base == listName || strings.HasPrefix(base, ".") || strings.HasPrefix(f.Name, "__MACOSX/")
	})
	at := func(f *zip.File) int {
		if i := slices.Index(order, path.Base(f.Name)); i >= 0 {
			return i
		}
		return len(order)
	}
	slices.SortStableFunc(all, func(a, b *zip.File) int {
		if n := at(a) - at(b); n != 0 {
			return n
		}
		return strings.Compare(a.Name, b.Name)
	})
	return all
}

// bringFile brings one file of a ZIP into an album, with its words. It returns how many bytes
// it took.
func (d *Desk) bringFile(id uint, section string, f *zip.File, said map[string]string, left int64) (int64, error) {
	if f.UncompressedSize64 > uint64(max(left, 0)) { //nolint:gosec // not negative
		return 0, access.Refuse(access.Bad, "The ZIP is too large when it is unpacked.", "Make smaller ZIPs of it.")
	}
	r, err := f.Open()
	if err != nil {
		return 0, err
	}
	defer r.Close()
	counted := &counting{r: io.LimitReader(r, left)}
	came, err := d.bench.Bring(section, page.Picture.SlotFor(d.Rules(), ""), path.Base(f.Name), counted)
	if err != nil {
		return counted.n, err
	}
	if err := d.Add(id, came); err != nil {
		return counted.n, err
	}
	return counted.n, d.say(id, came, said)
}

// say gives a picture that came in a ZIP the words of the list.
func (d *Desk) say(id, picture uint, said map[string]string) error {
	if len(said) == 0 {
		return nil
	}
	p, err := d.Store.Picture(picture)
	if err != nil {
		return err
	}
	w := pictures.WordsOf(p)
	if said["alt"] != "" {
		w.Alt = said["alt"]
	}
	if said["credit"] != "" {
		w.Credit = said["credit"]
	}
	if err := d.pictures.SetWords(picture, pictures.Newest, w); err != nil {
		return err
	}
	if said["caption"] == "" {
		return nil
	}
	return d.SetCaption(id, picture, "", said["caption"])
}

// counting counts what is read.
type counting struct {
	r io.Reader
	n int64
}

// Read reads, and counts it.
func (c *counting) Read(p []byte) (int, error) {
	n, err := c.r.Read(p)
	c.n += int64(n)
	return n, err
}
