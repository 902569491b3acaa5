package carryover

import (
	"context"
	"errors"
	"fmt"
	"math"
	"net/url"
	"path"
	"slices"
	"strconv"
	"strings"

	"mivlet/core/carry"
	"mivlet/core/mend"
	"mivlet/core/page"
	"mivlet/core/rules"
	"mivlet/core/survey"
	"mivlet/core/words"
	"mivlet/desk/access"
	"mivlet/desk/former"
	"mivlet/desk/jobs"
	"mivlet/desk/landing"
	"mivlet/desk/pages"
	"mivlet/desk/pictures"
	"mivlet/store"
)

// mostTitle is how long the title of a page is, at most, in letters.
const mostTitle = 120

// ToCarry is a page of a former site that can become one of the house's.
type ToCarry struct {
	Path, Title string
	Pictures    int
	As          uint   // the page that it became; 0 where it did not, or where that was deleted
	AsTitle     string // what that is called
}

// Pages lists the pages of a site, and what they became.
func (d *Desk) Pages(id uint) (v former.View, all []ToCarry, err error) {
	if v, err = d.former.Of(id); err != nil {
		return v, nil, err
	}
	found, err := d.former.Known(id)
	if err != nil {
		return v, nil, err
	}
	asPages, _ := carriedOf(found.All)
	titles, err := d.Store.PageTitles(0)
	if err != nil {
		return v, nil, err
	}
	for _, p := range found.Pages {
		one := ToCarry{Path: p.Path, Title: words.VisibleLine(p.Title, mostTitle)}
		for _, u := range p.Uses {
			if u.Kind == survey.Image && found.Files[u.File] != nil {
				one.Pictures++
			}
		}
		for _, t := range titles {
			if t.ID == asPages[p.Path] {
				one.As, one.AsTitle = t.ID, t.Title
			}
		}
		all = append(all, one)
	}
	return v, all, nil
}

// carriedOf are the pages that pages of a site became, by path, and the pictures that its files became.
func carriedOf(all []store.FormerChoice) (asPages, asPictures map[string]uint) {
	asPages, asPictures = map[string]uint{}, map[string]uint{}
	for _, c := range all {
		if c.Kind != store.FormerCarried {
			continue
		}
		n, _ := strconv.ParseUint(c.Text, 10, 63)
		if c.Page != "" {
			asPages[c.Page] = uint(n)
		} else {
			asPictures[c.File] = uint(n)
		}
	}
	return asPages, asPictures
}

// carrying is a page of a former site on its way.
type carrying struct {
	former.Known
	from       *survey.Page
	section    string
	asPages    map[string]uint
	asPictures map[string]uint
	missing    []string // pictures that did not come, each with why
}

// toCarry is a page of a former site that is to become one of a section; without one, links are led on.
type toCarry struct {
	Site    uint   `json:"site"`
	Page    string `json:"page"`
	Section string `json:"section"`
}

// mostPages is how many pages are carried over at a time.
const mostPages = 500

// Begin begins to make pages of a former site drafts of a section, beside the screens, one after the other. Their
// pictures come as if somebody had dropped them there, with their descriptions and captions. At last links between
// all pages that came over are led to those.
func (d *Desk) Begin(id uint, chosen []string, section string) (*jobs.Job, error) {
	if err := d.MayWork(section); err != nil {
		return nil, err
	}
	if _, known := d.Rules().Section(section); !known {
		return nil, access.Refuse(access.Bad, "Choose the section that the pages are for.", "Each page belongs to one.")
	}
	switch n := len(chosen); {
	case n == 0:
		return nil, access.Refuse(access.Bad, "No page is chosen.", "Tick those that come over.")
	case n > mostPages:
		return nil, access.Refuse(access.Bad, fmt.Sprintf("%d pages are chosen. Up to %d come over at a time.", n, mostPages), "Carry the others over later.")
	}
	known, err := d.former.Known(id)
	if err != nil {
		return nil, err
	}
	asPages, _ := carriedOf(known.All)
	var tasks []jobs.Of[toCarry]
	for _, at := range chosen {
		i := slices.IndexFunc(known.Pages, func(p *survey.Page) bool { return p.Path == at })
		if i < 0 {
			return nil, access.Refuse(access.Missing, fmt.Sprintf("There is no page %q in that site.", at), "Choose one from the list.")
		}
		if was, err := d.Store.Page(asPages[at]); err == nil && was.DroppedAt == nil {
			return nil, access.Refuse(access.Clash, fmt.Sprintf("%s has been carried over already: %s.", at, was.Doc.Title), "Work on that draft, or delete it first.")
		}
		tasks = append(tasks, jobs.Of[toCarry]{Steps: len(known.Pages[i].Uses) + 1, Of: toCarry{id, at, section}})
	}
	title := "Carrying over " + access.Count(len(chosen), "page")
	if len(chosen) == 1 {
		title = "Carrying over " + chosen[0]
	}
	d.mu.Lock()
	defer d.mu.Unlock()
	if d.busy[id].Runs() {
		return nil, access.Refuse(access.Clash, "Other pages of this site are being carried over.", "Wait until that is done.")
	}
	d.busy[id], err = d.later(d.jobs, title, append(tasks, jobs.Of[toCarry]{Steps: 1, Of: toCarry{Site: id}}))
	return d.busy[id], err
}

// carry does one task of it. A page that was on its way when the program ended is begun anew.
func (d *Desk) carry(ctx context.Context, j *jobs.Job, of toCarry) error {
	d.mu.Lock()
	d.busy[of.Site] = j
	d.mu.Unlock()
	known, err := d.former.Known(of.Site)
	if err != nil {
		return err
	}
	c := carrying{Known: known, section: of.Section}
	c.asPages, c.asPictures = carriedOf(c.All)
	if of.Page == "" {
		return d.leadOn(&c)
	}
	i := slices.IndexFunc(c.Pages, func(p *survey.Page) bool { return p.Path == of.Page })
	if i < 0 {
		return access.Refuse(access.Missing, of.Page+" is no longer in that site.", "Choose another one.")
	}
	c.from = c.Pages[i]
	return d.carryOver(ctx, &c, j.Come)
}

// Going is the job that carries a page of a site over, or that did and left something out; nil where there is
// none to tell of.
func (d *Desk) Going(id uint) *jobs.Job {
	d.mu.Lock()
	defer d.mu.Unlock()
	return d.busy[id].ToTell()
}

func (d *Desk) carryOver(ctx context.Context, c *carrying, come func(int)) error {
	f, err := d.former.Open(c.ID, false, c.from.Path)
	if err != nil {
		return err
	}
	data := make([]byte, min(f.Size(), survey.LargestPage))
	if _, err := f.ReadAt(data, 0); err != nil {
		return err
	}
	read, err := carry.Read(data, carry.Options{Link: func(address string) string { return d.linkOf(c, address) }})
	if err != nil {
		return err
	}
	id, err := d.draft(c, words.VisibleLine(read.Title, mostTitle))
	if err != nil {
		return err
	}
	behind, err := d.write(id, read.Blocks)
	if err != nil {
		return err
	}
	come(1)
	for i, b := range read.Blocks {
		if ctx.Err() != nil {
			return ctx.Err() // what came stays, as a draft
		}
		if b.Kind != carry.Picture {
			continue
		}
		if behind[i], err = d.place(c, id, gapOf(read.Blocks, behind, i), b); err != nil {
			return err
		}
		come(2 + i)
	}
	if len(c.missing) > 0 {
		return access.Refuse(access.Missing, fmt.Sprintf("%s is there, without %s: %s.", c.from.Path, access.Count(len(c.missing), "picture"), strings.Join(c.missing, "; ")), "Add what is missing by hand.")
	}
	return nil
}

// gapOf is where a picture comes to stand: behind what stands before it in its column.
func gapOf(blocks []carry.Block, became []string, i int) page.Gap {
	for k := i - 1; k >= 0; k-- {
		switch {
		case became[k] == "":
		case blocks[k].Kind == carry.Band:
			return page.Gap{After: became[k], Column: blocks[i].Column}
		case blocks[k].Column == blocks[i].Column:
			return page.Behind(became[k])
		}
	}
	return page.Gap{}
}

// draft begins a page, and notes what it is a page of. Where its address is taken, its title gets a number. One that
// was begun before the program ended is begun anew.
func (d *Desk) draft(c *carrying, title string) (uint, error) {
	if id := c.asPages[c.from.Path]; id != 0 {
		if was, err := d.Store.Page(id); err == nil && was.DroppedAt == nil {
			return id, d.pages.Edit(id, pages.Newest, "Begun anew", func(doc page.Doc) (page.Doc, error) {
				doc.Blocks = nil
				return doc, nil
			})
		}
	}
	if title == "" {
		title = strings.TrimSuffix(path.Base(c.from.Path), path.Ext(c.from.Path))
	}
	for n := 1; ; n++ {
		called := title
		if n > 1 {
			called = fmt.Sprintf("%s, %d", title, n)
		}
		id, err := d.pages.NewPage(c.section, called, "empty")
		var r *access.Refusal
		switch {
		case errors.As(err, &r) && r.Kind == access.Clash && n <= 50:
			continue
		case err != nil:
			return id, err
		}
		return id, d.Store.Tx(func(s store.Records) error {
			return errors.Join(s.ChooseForFormer(&store.FormerChoice{FormerSiteID: c.ID, Kind: store.FormerCarried, Page: c.from.Path, Text: fmt.Sprint(id), Person: d.Person.Name, At: d.Now()}),
				d.Trace(s, c.section, "Carried %s of %s over", c.from.Path, c.Title))
		})
	}
}

// write writes all that are no pictures, in one step. It returns the blocks that they became; those of pictures are
// empty.
func (d *Desk) write(id uint, blocks []carry.Block) ([]string, error) {
	became := make([]string, len(blocks))
	var all []page.Block
	for i := range blocks {
		b := &blocks[i]
		one := page.Block{ID: access.NewBlock(), Text: b.Text}
		switch b.Kind {
		case carry.Heading:
			one.Kind, one.Level = page.Heading, b.Level
		case carry.Words:
			one.Kind = page.Text
		case carry.Line:
			one.Kind = page.Divider
		case carry.HTML:
			one.Kind = page.HTML
		case carry.Band:
			pattern := patternOf(d.Rules().Page.Patterns, b.Shares)
			if pattern == "" { // the house has no such columns: what stands in them comes one after the other
				for k := i + 1; k < len(blocks) && blocks[k].Kind != carry.Band; k++ {
					blocks[k].Column = 0
				}
				pattern = patternOf(d.Rules().Page.Patterns, []float64{100})
			}
			if pattern == "" {
				continue
			}
			one.Kind, one.Band = page.Band, &page.BandLayout{Pattern: pattern}
		default:
			continue
		}
		one.Column = b.Column
		became[i] = one.ID
		all = append(all, one)
	}
	if len(all) == 0 {
		return became, nil
	}
	return became, d.pages.Edit(id, pages.Newest, "Words of the page as it was", func(doc page.Doc) (page.Doc, error) {
		for _, b := range all {
			var err error
			if doc, err = doc.Insert(len(doc.Blocks), b); err != nil {
				return doc, err
			}
		}
		return doc, nil
	})
}

// patternOf is the pattern of the house whose columns are nearest to these; "" where none has so many.
func patternOf(all []rules.Pattern, shares []float64) (id string) {
	nearest := math.Inf(1)
	for _, p := range all {
		if len(p.Shares) != len(shares) {
			continue
		}
		sum, off := 0.0, 0.0
		for _, s := range p.Shares {
			sum += s
		}
		for i, s := range p.Shares {
			off += math.Abs(100*s/sum - shares[i])
		}
		if off < nearest {
			id, nearest = p.ID, off
		}
	}
	return id
}

// leadOn leads the links of all pages that came over, and that are theirs to change, to the pages that came since.
func (d *Desk) leadOn(c *carrying) error {
	for at, id := range c.asPages {
		p, err := d.Store.Page(id)
		if errors.Is(err, store.ErrNotFound) || err == nil && (p.DroppedAt != nil || d.MayWork(p.Section) != nil) {
			continue
		}
		if err != nil {
			return err
		}
		c.from = &survey.Page{Path: at}
		to := func(address string) string {
			if u, err := url.Parse(address); err == nil && u.Host != "" && slices.Contains(c.Hosts, u.Host) {
				if now := d.linkOf(c, address); strings.HasPrefix(now, "/") {
					return now
				}
			}
			return ""
		}
		err = d.pages.Edit(id, pages.Newest, "Links to pages that came over since", func(doc page.Doc) (page.Doc, error) {
			doc.Blocks = slices.Clone(doc.Blocks)
			for i, b := range doc.Blocks {
				if b.Kind == page.Text || b.Kind == page.HTML || b.Kind == page.Beside {
					doc.Blocks[i].Text = carry.Links(b.Text, to)
				}
			}
			return doc, nil
		})
		if err != nil {
			return err
		}
	}
	return nil
}

// place has a picture come to a gap of the page, with its words. What cannot come is noted. It returns the block.
func (d *Desk) place(c *carrying, id uint, gap page.Gap, b carry.Block) (block string, err error) {
	file := ""
	for _, u := range c.from.Uses {
		if u.Address == b.Address {
			file = u.File
		}
	}
	switch f := c.Files[file]; {
	case f == nil:
		c.missing = append(c.missing, b.Address+" is not in the site")
		return "", nil
	case f.Facts == nil:
		c.missing = append(c.missing, b.Address+" is no picture")
		return "", nil
	}
	if was := c.asPictures[file]; was != 0 {
		if block, err = d.pages.Insert(id, gap, page.Placement{Picture: was}); err == nil {
			return block, d.caption(id, block, b.Text)
		}
	}
	if block, err = d.land(c, id, gap, file); err != nil || block == "" {
		return block, err
	}
	alt, said := c.Choices.Words[mend.Spot{Page: c.from.Path, Address: b.Address}]
	if !said {
		alt = b.Alt
	}
	if alt != "" {
		_, err := d.landing.Finish(id, landing.Place{Block: block}, alt, c.Choices.Names[file])
		if refused := (*pictures.NameRefusal)(nil); errors.As(err, &refused) { // the house names otherwise
			_, err = d.landing.Finish(id, landing.Place{Block: block}, alt, "")
		}
		if err != nil && !isRefusal(err) { // what a description still lacks is told where it stands
			return block, err
		}
	}
	return block, d.caption(id, block, b.Text)
}

// land takes a file in where it stands; "" where it is refused, which is noted.
func (d *Desk) land(c *carrying, id uint, gap page.Gap, file string) (string, error) {
	f, err := d.former.Open(c.ID, false, file)
	if err != nil {
		return "", err
	}
	block, err := d.landing.Land(id, pages.Target{Gap: gap}, path.Base(file), f)
	if isRefusal(err) {
		c.missing = append(c.missing, err.Error())
		return "", nil
	}
	if err != nil {
		return "", err
	}
	at, err := d.placed(id, block)
	if err != nil || at.Picture == 0 {
		return block, err
	}
	c.asPictures[file] = at.Picture
	return block, d.Store.Tx(func(s store.Records) error {
		p, err := s.Picture(at.Picture)
		if err != nil {
			return err
		}
		return errors.Join(s.ChooseForFormer(&store.FormerChoice{FormerSiteID: c.ID, Kind: store.FormerCarried, File: file, Text: fmt.Sprint(at.Picture), Person: d.Person.Name, At: d.Now()}),
			d.TracePicture(s, p, "Carried over from %s, where it stood on %s", c.Title, c.from.Path))
	})
}

// placed is how the picture of a block stands; nothing where the block holds none.
func (d *Desk) placed(id uint, block string) (page.Placement, error) {
	p, err := d.pages.OwnPage(id)
	if err != nil {
		return page.Placement{}, err
	}
	b, ok := p.Doc.Block(block)
	if !ok || len(b.Holds()) == 0 {
		return page.Placement{}, nil
	}
	return b.Holds()[0], nil
}

func (d *Desk) caption(id uint, block, text string) error {
	if text == "" {
		return nil
	}
	was, err := d.placed(id, block)
	if err != nil {
		return err
	}
	return d.landing.Caption(id, landing.Place{Block: block}, was.Caption, page.PlainCaption(text))
}

func isRefusal(err error) bool {
	var r *access.Refusal
	return errors.As(err, &r)
}

// linkOf is where a link of a page leads when it has been carried over: to what the other page became, else to where
// the site is reached; "" where nobody knows that.
func (d *Desk) linkOf(c *carrying, address string) string {
	u, err := url.Parse(address)
	if err != nil || u.Scheme == "javascript" || u.Scheme == "data" {
		return ""
	}
	hosts := c.Hosts
	if u.Scheme != "" && u.Host != "" && !slices.Contains(hosts, u.Host) || u.Scheme != "" && u.Host == "" {
		return address // elsewhere, or an address of mail
	}
	if u.Path == "" {
		return "" // within the page, whose places have other names here
	}
	at := strings.TrimPrefix(path.Clean(u.Path), "/")
	if !strings.HasPrefix(u.Path, "/") {
		at = strings.TrimPrefix(path.Join(path.Dir(c.from.Path), u.Path), "/")
	}
	for _, file := range []string{at, path.Join(at, "index.html"), path.Join(at, "index.htm"), at + ".html"} {
		if was, err := d.Store.Page(c.asPages[file]); err == nil && was.DroppedAt == nil {
			return was.Path()
		}
	}
	if len(hosts) == 0 || strings.HasPrefix(at, "..") {
		return ""
	}
	return (&url.URL{Scheme: "https", Host: hosts[0], Path: "/" + at, RawQuery: u.RawQuery, Fragment: u.Fragment}).String()
}
