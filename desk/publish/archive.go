package publish

import (
	"archive/zip"
	"bytes"
	"io"
	"maps"
	"path"
	"slices"

	"mivlet/core/page"
	"mivlet/desk/access"
	"mivlet/desk/address"
	"mivlet/store"
)

// Dressing is what pages of the site share: their styles, and the script that helps
// with enlarged pictures.
type Dressing struct{ CSS, Script []byte }

// scriptName is what the script that helps with enlarged pictures is called in an archive.
const scriptName = "enlarge.js"

// archive collects the files of pages, each once.
type archive struct {
	desk  *Desk
	dress Dressing
	at    address.Places
	files map[string]func() (io.ReadCloser, error)
}

func (d *Desk) newArchive(dress Dressing) archive {
	a := archive{d, dress, address.Places{}, map[string]func() (io.ReadCloser, error){}}
	a.add("page.css", dress.CSS)
	if len(dress.Script) > 0 {
		a.add(scriptName, dress.Script)
	}
	return a
}

func (a archive) add(name string, data []byte) {
	a.files[name] = func() (io.ReadCloser, error) { return io.NopCloser(bytes.NewReader(data)), nil }
}

// addBlob adds a kept file, and returns the name that it has in the archive: its own
// where no other file has that.
func (a archive) addBlob(name string, f address.Filed) string {
	name, hash := a.at.Put(name, f), f.Hash
	a.files[name] = func() (io.ReadCloser, error) { return a.desk.Store.Files.Open(hash) }
	return name
}

// page adds a page as a file of a name, with all that it shows.
func (a archive) page(p store.Page, name string) error {
	n, err := a.desk.snapshot.Snap(p.ID)
	if err != nil {
		return err
	}
	p = n.Page
	how := a.desk.Writing(n, func(pic store.Picture, c store.Cut) string {
		return a.addBlob(path.Join("pictures", pic.Section, address.CutFile(pic, c)), address.Filed{Hash: c.Hash, Picture: pic.ID})
	}, func(f page.Attachment) string {
		return a.addBlob(path.Join("files", p.Slug, f.Name), address.Filed{Hash: f.Hash})
	})
	var main, measures bytes.Buffer
	how.Measures = &measures
	if err := page.WriteHTML(&main, p.Doc, how); err != nil {
		return err
	}
	style := ""
	if css := append(page.DocCSS(how.Rules, p.Doc, n.Views), measures.Bytes()...); len(css) > 0 {
		style = p.Slug + ".css"
		a.add(style, css)
	}
	return a.document(name, p.Doc.Title, style, main.String())
}

func (a archive) document(name, title, style, main string) error {
	doc := page.Document{Language: a.desk.Rules().Words.Language, Title: title, Style: style, Main: main}
	if len(a.dress.Script) > 0 {
		doc.Script = scriptName
	}
	var b bytes.Buffer
	err := doc.Write(&b)
	a.add(name, b.Bytes())
	return err
}

// write streams all of it as a ZIP, in the order of the names.
func (a archive) write(w io.Writer) error {
	z := zip.NewWriter(w)
	for _, name := range slices.Sorted(maps.Keys(a.files)) {
		method := zip.Deflate
		if path.Dir(name) != "." {
			method = zip.Store // pictures are packed already
		}
		f, err := z.CreateHeader(&zip.FileHeader{Name: name, Method: method, Modified: a.desk.Now()})
		if err != nil {
			return err
		}
		from, err := a.files[name]()
		if err != nil {
			return err
		}
		_, err = io.Copy(f, from)
		from.Close()
		if err != nil {
			return err
		}
	}
	return z.Close()
}

// PageArchive writes a page as a ZIP of HTML, stylesheet and pictures that works
// from a folder.
func (d *Desk) PageArchive(w io.Writer, id uint, dress Dressing) error {
	p, err := d.pages.OwnPage(id)
	if err != nil {
		return err
	}
	a := d.newArchive(dress)
	if err := a.page(p, "index.html"); err != nil {
		return err
	}
	return a.write(w)
}

// SectionArchive writes all pages of a section as one ZIP that works from a folder:
// its index.html leads to each.
func (d *Desk) SectionArchive(w io.Writer, section string, dress Dressing) error {
	if err := d.MayWork(section); err != nil {
		return err
	}
	all, err := d.Store.Pages()
	if err != nil {
		return err
	}
	a := d.newArchive(dress)
	var list []page.Listed
	for _, p := range all {
		if p.Section != section {
			continue
		}
		name := p.Slug + ".html"
		if name == "index.html" {
			name = "index-page.html"
		}
		if err := a.page(p, name); err != nil {
			return err
		}
		list = append(list, page.Listed{Name: name, Title: p.Doc.Title})
	}
	if len(list) == 0 {
		return access.Refuse(access.Bad, "The section has no page yet.", "Write one first, then download it.")
	}
	var main bytes.Buffer
	if err := page.WriteContents(&main, d.SectionTitle(section), list); err != nil {
		return err
	}
	if err := a.document("index.html", d.SectionTitle(section), "", main.String()); err != nil {
		return err
	}
	return a.write(w)
}

// PageHTML is the clean HTML of a page, or of one of its blocks, with the
// addresses that its pictures have on the site. By the rules of the house its
// measures are in classes, or, for pages that live elsewhere, in the elements.
func (d *Desk) PageHTML(id uint, block string) (string, error) {
	if err := d.pages.MayWorkOn(id); err != nil {
		return "", err
	}
	p, err := d.snapshot.Snap(id)
	if err != nil {
		return "", err
	}
	at := address.Places{}
	how := d.Writing(p, func(pic store.Picture, c store.Cut) string {
		_, address := at.Addressed(p.House.Rules, address.CutPath(pic, c), address.Filed{Hash: c.Hash, Picture: pic.ID})
		return d.Site + address
	}, func(a page.Attachment) string {
		_, address := at.Addressed(p.House.Rules, address.FilePath(p.Page, a), address.Filed{Hash: a.Hash})
		return d.Site + address
	})
	how.Inline = how.Rules.Placing.Inline
	var b bytes.Buffer
	if block == "" {
		err = page.WriteHTML(&b, p.Doc, how)
		return b.String(), err
	}
	if _, ok := p.Doc.Block(block); !ok {
		return "", access.Refuse(access.Missing, "The block is not on the page any more.", "Look again.")
	}
	err = page.WriteBlock(&b, p.Doc, block, how)
	return b.String(), err
}
