package survey

import (
	"context"
	"fmt"
	"io"
	"io/fs"
	"net/url"
	"path"
	"slices"
	"strings"

	"mivlet/core/facts"
	"mivlet/core/twin"
)

// Limits of what is read, whatever a site says of itself.
const (
	largestPicture = 64 << 20 // bytes of a picture that is read from an archive
	mostFiles      = 200_000
	deepestImports = 5 // of style sheets
)

// LargestPage is how many bytes of a page or a style sheet are read; the rest is left out.
const LargestPage = 8 << 20

// Options say how a site is read.
type Options struct {
	// Hosts are the names that the site is reached at: addresses of those lead into the site, too.
	Hosts []string
	// Progress is told how many of all files were read; nil where nobody wants to know. It is called from
	// one goroutine at a time.
	Progress func(read, all int)
}

// File is one file of the site.
type File struct {
	Path  string
	Bytes int64
	Facts *facts.Facts // of a picture; nil of others
	Fault string       // why a picture cannot be read; empty where it can
	Hash  string       // of its content, in hex digits; only where another file has as many bytes
	used  int          // how many pages show it or lead to it
	shown [len(Viewports)]float64
	// estimated is whether shown follows from HTML and CSS on some page.
	estimated bool
	seen      *Seen // nil where nobody looked
	// glance is what it looks like, where its description is that of another one, too; nil where that cannot be told.
	glance *twin.Hash
	alone  bool // some page shows it and offers no larger one with it
}

// Picture reports whether a file is a picture, or says that it is one.
func (f *File) Picture() bool { return f.Facts != nil || f.Fault != "" }

// Survey is what is known of a site.
type Survey struct {
	Pages []*Page          // in the order of their paths
	Files map[string]*File // by path; pages apart

	at      space
	there   map[string]bool // paths of all files and pages
	folders map[string]bool
	byName  map[string]string // paths by their small letters
	broken  map[brokenLink]missed
	unread  []string // pages that cannot be read
}

// brokenLink is an address on a page, or in styles, that leads to nothing.
type brokenLink struct {
	page, address string
	picture       bool
}

// missed is what is known of one.
type missed struct {
	near  string // a file that may be meant
	times int
}

// Read reads a site: the pages, the styles that they use, and the heads of all pictures; the pixels only of those
// that are described alike. It fails where
// the folder or the archive itself cannot be read; what is wrong with single files becomes findings.
func Read(ctx context.Context, files fs.FS, o Options) (*Survey, error) {
	s := &Survey{Files: map[string]*File{}, at: newSpace(o.Hosts), there: map[string]bool{}, folders: map[string]bool{}, byName: map[string]string{}, broken: map[brokenLink]missed{}}
	var pages []string
	err := fs.WalkDir(files, ".", func(at string, e fs.DirEntry, err error) error {
		switch {
		case err != nil && at == ".":
			return err
		case err != nil:
			return nil // a folder that nobody may read is no part of what visitors see
		case ctx.Err() != nil:
			return ctx.Err()
		case at != "." && clutter(e):
			if e.IsDir() {
				return fs.SkipDir
			}
			return nil
		case e.IsDir():
			s.folders[at] = true
			return nil
		case !e.Type().IsRegular() && e.Type()&fs.ModeSymlink == 0:
			return nil
		case len(s.Files)+len(pages) >= mostFiles:
			return fmt.Errorf("more than %d files are there: look through parts of the site", mostFiles)
		}
		info, err := fs.Stat(files, at) // of what a link leads to
		if err != nil || !info.Mode().IsRegular() {
			return nil
		}
		s.there[at], s.byName[strings.ToLower(at)] = true, at
		if IsPage(at) {
			pages = append(pages, at)
			return nil
		}
		s.Files[at] = &File{Path: at, Bytes: info.Size()}
		return nil
	})
	if err != nil {
		return nil, err
	}
	read := newProgress(o.Progress, len(pages)+len(s.Files))
	if err := s.readHeads(ctx, files, read); err != nil {
		return nil, err
	}
	if err := s.readPages(ctx, files, pages, read); err != nil {
		return s, err
	}
	s.tally()
	return s, s.glanceAtNamesakes(ctx, files)
}

// clutter reports whether something is there that no server serves, and that only lies beside the site: what
// versions are kept in, and what systems put into folders and archives (common practice).
func clutter(e fs.DirEntry) bool {
	name := e.Name()
	if e.IsDir() {
		return name == "__MACOSX" || strings.HasPrefix(name, ".") && name != ".well-known" // RFC 8615
	}
	return strings.HasPrefix(name, "._") || name == ".DS_Store" || strings.EqualFold(name, "Thumbs.db") || strings.EqualFold(name, "desktop.ini")
}

// PagePaths are the paths of all pages, and of those that could not be read, in their order.
func (s *Survey) PagePaths() []string {
	all := slices.Clone(s.unread)
	for _, p := range s.Pages {
		all = append(all, p.Path)
	}
	slices.Sort(all)
	return all
}

// IsPage tells pages by their names, as servers do (common practice).
func IsPage(at string) bool {
	return slices.Contains([]string{".html", ".htm", ".xhtml", ".shtml", ".php", ".asp", ".aspx"}, strings.ToLower(path.Ext(at)))
}

// readPages reads the pages one after the other, with their styles.
func (s *Survey) readPages(ctx context.Context, files fs.FS, pages []string, read func()) error {
	sheets := map[string]sheet{}
	for _, at := range pages {
		if ctx.Err() != nil {
			return ctx.Err()
		}
		data, err := ReadText(files, at)
		if err == nil {
			err = s.readPage(files, at, data, sheets)
		}
		if err != nil {
			s.unread = append(s.unread, at)
		}
		read()
	}
	return nil
}

// ReadText reads a page or a style sheet, as far as [LargestPage].
func ReadText(files fs.FS, at string) ([]byte, error) {
	in, err := files.Open(at)
	if err != nil {
		return nil, err
	}
	defer in.Close()
	return io.ReadAll(io.LimitReader(in, LargestPage))
}

func (s *Survey) readPage(files fs.FS, at string, data []byte, sheets map[string]sheet) error {
	d, err := readPage(at, data, s.at)
	if err != nil {
		return err
	}
	var all []sheet
	for _, address := range d.sheets {
		if found := s.lead(d.Path, d.base, address, false); found != "" {
			all = append(all, s.sheetAt(files, found, sheets, 0)...)
		}
	}
	for _, address := range d.sheet.imports {
		if found := s.lead(d.Path, d.base, address, false); found != "" {
			all = append(all, s.sheetAt(files, found, sheets, 1)...)
		}
	}
	styles := newStyles(append(all, d.sheet)...)
	styles.unclear = styles.unclear || slices.ContainsFunc(slices.Concat(d.sheets, d.sheet.imports), func(address string) bool {
		_, to := s.at.locate(d.base, address)
		return to == elsewhere // its styles are not here
	})
	d.find(styles)
	seen := map[string]bool{}
	use := func(found string) {
		if f := s.Files[found]; f != nil && !seen[found] {
			seen[found] = true
			f.used++
		}
	}
	for i := range d.Uses {
		u := &d.Uses[i]
		u.File = s.lead(d.Path, d.base, u.Address, true)
		use(u.File)
		for _, other := range u.Others {
			found := s.lead(d.Path, d.base, other, true)
			use(found)
			u.others = append(u.others, found)
		}
		if f := s.Files[u.File]; f != nil && f.Facts != nil {
			own := f.Facts.Upright()
			u.fill(own.W, own.H)
		}
	}
	for _, address := range d.links {
		use(s.lead(d.Path, d.base, address, false))
	}
	s.Pages = append(s.Pages, d.Page)
	return nil
}

// sheetAt are the styles in a file, those that it imports first. What they show counts as used.
func (s *Survey) sheetAt(files fs.FS, at string, known map[string]sheet, deep int) []sheet {
	if f := s.Files[at]; f != nil {
		f.used++
	}
	read, ok := known[at]
	if !ok {
		data, err := ReadText(files, at)
		if err != nil {
			return nil
		}
		read.add(string(data), "")
		known[at] = read
		for _, address := range read.addresses {
			if f := s.Files[s.lead(at, s.at.pageURL(at), address, true)]; f != nil {
				f.used++
			}
		}
	}
	var all []sheet
	if deep < deepestImports {
		for _, address := range read.imports {
			if found := s.lead(at, s.at.pageURL(at), address, false); found != "" {
				all = append(all, s.sheetAt(files, found, known, deep+1)...)
			}
		}
	}
	return append(all, read)
}

// lead is the path of the file that an address leads to; empty where it leads elsewhere. One that leads to
// nothing in the site is noted.
func (s *Survey) lead(from string, base *url.URL, address string, picture bool) string {
	at, to := s.at.locate(base, address)
	if to != inside {
		return ""
	}
	if found, ok := s.fileAt(at); ok {
		return found
	}
	link := brokenLink{from, address, picture}
	s.broken[link] = missed{s.byName[strings.ToLower(strings.TrimSuffix(at, "/"))], s.broken[link].times + 1}
	return ""
}

// fileAt is the file that a server answers with for a path (common practice): of a folder, its first page.
func (s *Survey) fileAt(at string) (string, bool) {
	for _, name := range []string{at, path.Join(at, "index.html"), path.Join(at, "index.htm"), path.Join(at, "index.php"), path.Join(at, "default.htm"), at + ".html"} {
		if s.there[name] {
			return name, true
		}
	}
	return "", s.folders[strings.TrimSuffix(at, "/")] // a folder with nothing to show in it
}

// Top is where the site in an archive begins: archives often hold one folder, and all in that.
func Top(files fs.FS) (fs.FS, error) {
	for {
		entries, err := fs.ReadDir(files, ".")
		if err != nil {
			return nil, err
		}
		entries = slices.DeleteFunc(entries, clutter)
		if len(entries) != 1 || !entries[0].IsDir() {
			return files, nil
		}
		if files, err = fs.Sub(files, entries[0].Name()); err != nil {
			return nil, err
		}
	}
}

// Leads returns the addresses that a page or a style sheet leads to, as it says them: pages, pictures, styles
// and other files. at is its path; page tells which of the two it is. Where a page says where its addresses
// begin, base is that; else it is empty.
func Leads(at string, data []byte, page bool) (all []string, base string, err error) {
	if !page {
		var s sheet
		s.add(string(data), "")
		return append(s.imports, s.addresses...), "", nil
	}
	d, err := readPage(at, data, newSpace(nil))
	if err != nil {
		return nil, "", err
	}
	d.find(newStyles())
	all = slices.Concat(d.links, d.sheets, d.sheet.imports)
	for _, u := range d.Uses {
		all = append(append(all, u.Address), u.Others...)
	}
	base, _ = d.root.Find("base[href]").First().Attr("href")
	return all, strings.TrimSpace(base), nil
}
