package mend

import (
	"bytes"
	"cmp"
	"context"
	"fmt"
	"io/fs"
	"maps"
	"path"
	"slices"
	"strings"

	"mivlet/core/facts"
	"mivlet/core/fit"
	"mivlet/core/raster"
	"mivlet/core/survey"
)

// Choices are what editors decided. The zero value leaves to Mivlet what needs no judgement, and nothing else
// is done.
type Choices struct {
	Words map[Spot]string   // what pictures say to those who do not see them; empty for decoration
	Names map[string]string // new names of pictures by their paths, without folder and ending
	Left  map[string]bool   // paths of pictures that stay as they are, wherever they are shown
	// Covered are pictures of which somebody covered parts, by their paths: whatever stands at a path, or is made of what
	// stood there, shows what is covered no more. It goes before Left.
	Covered map[string]Covering
}

// Covering gives the pixels of a covered picture, upright, as many as the file has.
type Covering func() (*raster.Source, error)

// Spot is a picture on a page, by the address that the page shows it at.
type Spot struct{ Page, Address string }

// Kind is what happens to a tag or to a file.
type Kind string

// The kinds.
const (
	Described Kind = "described" // a description was given
	Lighter   Kind = "lighter"   // cuts at the widths at which it is shown
	Covered   Kind = "covered"   // parts of it were covered
	Cleaned   Kind = "cleaned"   // what it told of people is taken out
	Named     Kind = "named"     // it has another name, and stays under the old one, too
	Joined    Kind = "joined"    // the same picture is taken from one file
	Sized     Kind = "sized"     // its tag tells its size, so that nothing moves
	Later     Kind = "later"     // it is fetched when somebody comes near it
)

// Change is one tag that changes.
type Change struct {
	Page    string `json:"page"`
	Picture string `json:"picture"` // the path of the file
	Address string `json:"address"` // as the page said it
	Kinds   []Kind `json:"kinds"`
	Before  string `json:"before"` // the tag, as it stands in the page
	After   string `json:"after"`
}

// Page is a page that changes.
type Page struct {
	Path    string
	Changes []Change

	edits []edit
	of    []string // the picture that each of them shows; empty where it holds whatever becomes of that
}

// Cut is a file that a picture is brought down to.
type Cut struct {
	Path string
	Size fit.Size
}

// Picture is what happens to a picture.
type Picture struct {
	Path  string
	Kinds []Kind
	Cuts  []Cut // the widest first

	own    *Cut          // which of them stands at its own path, too; nil where all its pixels stay
	also   string        // another path that it stands at; empty for none
	format raster.Format // of its cuts
	facts  facts.Facts

	covering Covering // nil where nothing is covered
}

// Plan is all that changes.
type Plan struct {
	Pages    []Page
	Pictures []*Picture
}

// Paths are those of the pages that change.
func (p *Plan) Paths() []string {
	var all []string
	for _, one := range p.Pages {
		all = append(all, one.Path)
	}
	return all
}

// Changes counts the tags that change.
func (p *Plan) Changes() (n int) {
	for _, page := range p.Pages {
		n += len(page.Changes)
	}
	return n
}

// planning is a plan while it is made.
type planning struct {
	found     *survey.Survey
	choices   Choices
	mentioned map[string]bool     // names of files that something else than a picture's tag speaks of
	whole     map[string]bool     // paths of files that are shown where no tag can be changed
	same      map[string]string   // paths of files whose content another one has, and its path
	uses      map[string][]placed // by the path of the file that they will show
	pictures  map[string]*Picture
	taken     map[string]bool // paths that files have
}

// placed is a picture on a page.
type placed struct {
	use  *survey.Use
	keep bool // its size stays what it is, whatever file it shows
}

// New works out what changes, and changes nothing. It reads all pages and what else is text, and no picture. It
// fails where the site cannot be read, and where a name cannot be one of a file.
func New(ctx context.Context, files fs.FS, found *survey.Survey, choices Choices) (*Plan, error) {
	p := &planning{found: found, choices: choices, mentioned: map[string]bool{}, whole: map[string]bool{}, same: map[string]string{}, uses: map[string][]placed{}, pictures: map[string]*Picture{}, taken: map[string]bool{}}
	for at, name := range choices.Names {
		if name == "" || strings.ContainsAny(name, `/\`) || name[0] == '.' {
			return nil, fmt.Errorf("invalid name %q for %s: it is one word without folders", name, at)
		}
	}
	for at := range found.Files {
		p.taken[strings.ToLower(at)] = true
	}
	for _, at := range found.PagePaths() {
		p.taken[strings.ToLower(at)] = true
	}
	p.join()
	read := map[string]*page{}
	for _, page := range found.Pages {
		if ctx.Err() != nil {
			return nil, ctx.Err()
		}
		one, err := p.readPage(files, page)
		if err != nil {
			return nil, fmt.Errorf("%s: %w", page.Path, err)
		}
		read[page.Path] = one
	}
	if err := p.readOthers(ctx, files); err != nil {
		return nil, err
	}
	for _, at := range slices.Sorted(maps.Keys(found.Files)) {
		p.picture(found.Files[at])
	}
	plan := &Plan{}
	for _, page := range found.Pages {
		if one := p.page(page, read[page.Path]); len(one.edits) > 0 {
			plan.Pages = append(plan.Pages, one)
		}
	}
	for _, at := range slices.Sorted(maps.Keys(p.pictures)) {
		if one := p.pictures[at]; len(one.Kinds) > 0 {
			plan.Pictures = append(plan.Pictures, one)
		}
	}
	return plan, nil
}

// join finds the files that have the content of another one.
func (p *planning) join() {
	first := map[string]string{}
	for _, at := range slices.Sorted(maps.Keys(p.found.Files)) {
		f := p.found.Files[at]
		if f.Hash == "" || p.choices.Left[at] {
			continue
		}
		if other, known := first[f.Hash]; known {
			p.same[at] = other
		} else {
			first[f.Hash] = at
		}
	}
}

// fileOf is the path of the file that a use will show; empty where it is none that changes.
func (p *planning) fileOf(u *survey.Use) string {
	f := p.found.Files[u.File]
	if f == nil || f.Facts == nil || p.choices.Left[u.File] {
		return ""
	}
	return cmp.Or(p.same[u.File], u.File)
}

// readPage finds the tags of a page that can be changed. A page that is too long has none.
func (p *planning) readPage(files fs.FS, at *survey.Page) (*page, error) {
	data, err := survey.ReadText(files, at.Path)
	if err != nil {
		return nil, err
	}
	if len(data) == survey.LargestPage {
		for i := range at.Uses {
			p.whole[p.fileOf(&at.Uses[i])] = true
		}
		p.mention(data)
		return nil, nil
	}
	one := newPage(data, at.Encoding)
	rest := slices.Clone(data)
	for i := range at.Uses {
		u := &at.Uses[i]
		t, ok := one.image(u)
		if !ok {
			p.whole[p.fileOf(u)] = true
			continue
		}
		for _, name := range []string{"src", "alt", "title"} { // words may be the name of the file, too
			if a, there := t.find(name); there && a.value >= 0 {
				copy(rest[a.value:a.end], bytes.Repeat([]byte(" "), a.end-a.value))
			}
		}
		if file := p.fileOf(u); file != "" {
			p.uses[file] = append(p.uses[file], placed{u, keeps(t, u)})
		}
	}
	p.mention(rest)
	if text, err := one.decoder.Bytes(rest); err == nil && !bytes.Equal(text, rest) { // in some encodings letters are not the bytes that they are elsewhere
		p.mention(text)
	}
	return one, nil
}

// image is the tag of a picture, where it says what was read of it.
func (p *page) image(u *survey.Use) (tag, bool) {
	t, ok := tagAt(p.data, u.Tag)
	if !ok || u.Kind != survey.Image || !strings.EqualFold(string(p.data[t.from:t.afterName]), "<img") {
		return t, false
	}
	src, ok := t.find("src")
	return t, ok && strings.TrimSpace(p.says(src)) == u.Address
}

// keeps reports whether a picture keeps its size on the page, whatever file it shows: whether the page says
// how wide it is, or can be made to.
func keeps(t tag, u *survey.Use) bool {
	for _, name := range []string{"srcset", "sizes"} {
		if _, there := t.find(name); there {
			return false
		}
	}
	_, wide := t.find("width")
	_, tall := t.find("height") // such as per cent
	return u.Sure && len(u.Others) == 0 && (u.Fixed() || u.Bounded() && !wide && !tall)
}

// free is a path that no file has, and takes it.
func (p *planning) free(at string) string {
	ending := path.Ext(at)
	stem := strings.TrimSuffix(at, ending)
	for n := 2; p.taken[strings.ToLower(at)]; n++ {
		at = fmt.Sprintf("%s-%d%s", stem, n, ending)
	}
	p.taken[strings.ToLower(at)] = true
	return at
}
