package web

import (
	"errors"
	"fmt"
	"html/template"
	"log/slog"
	"net/http"
	"slices"
	"strings"

	"github.com/go-chi/chi/v5"

	"mivlet/core/audit"
	"mivlet/core/page"
	"mivlet/core/rules"
	"mivlet/desk/covers"
	"mivlet/desk/lighter"
	"mivlet/desk/pages"
	"mivlet/desk/pictures"
	"mivlet/desk/publish"
	"mivlet/desk/snapshot"
	"mivlet/store"
)

// pageRoutes are one page: what it holds, how it stands, and what becomes of it.
func (s *server) pageRoutes(r chi.Router) {
	r.Get("/", s.page)
	r.Get("/style.css", s.pageStyle)
	r.Post("/step", s.pageStep)
	r.Post("/publish", s.publish)
	r.Post("/mend", s.mend)
	r.Get("/lighter", s.lighterPart)
	s.placingRoutes(r)
	s.blockRoutes(r)
	s.bandRoutes(r)
	s.backgroundRoutes(r)
	s.sharedRoutes(r)
	s.pageCoverRoutes(r)
	s.stationRoutes(r)
}

// pageView is a page on its screen, with what its side panel shows.
type pageView struct {
	pages.PageView
	base    string // where addresses begin
	Rules   rules.Rules
	Spreads []spreadView
	Open    *placing  // the picture that the panel is for; nil for none
	Band    *bandForm // the band that the panel is for; nil for none
	List    *listForm // the list that the panel is for; nil for none
	Album   *albumForm
	Albums  []store.Album      // that can be put on the page, while something is
	Files   []store.Attachment // that can be offered on the page, while something is
	Cover   *coverPanel
	Behind  *backgroundPanel
	// Picked is the picture that was brought along from the bench, and waits
	// for a gap; nil where none was.
	Picked *pictures.Item
	// What whoever is signed in may do here.
	CanWork, CanPublish bool

	Write string           // the block whose words are being written
	Clash *pages.TextClash // what somebody else wrote there meanwhile
	Lives []liveView
	Own   []rules.Section // that it can be handed over to

	Lighter *lighter.Progress // of the files that the live page will offer; nil where none are due

	CoverWhy    string // why what stands for it stands for it
	DetailsSeen string // the mark of its details and cover
	made        func(page.Block) template.HTML
}

// IsList reports whether a block is a list.
func (v pageView) IsList(block string) bool {
	b, ok := v.Doc.Block(block)
	return ok && b.Kind == page.List
}

// Made gives a block that is made of what else is known: a list, or the facts of the page.
func (v pageView) Made(b pages.BlockView) template.HTML { return v.made(b.Block) }

// liveView is a version that visitors got, with who signed for it.
type liveView struct {
	store.LiveVersion
	Sign *snapshot.Sign
}

// spreadView is a band of the page, or what stands before the first.
type spreadView struct {
	page.Spread
	Bar     *pages.BlockView // the band itself; nil before the first
	Columns [][]pieceView
	Backing template.HTML // the picture behind it
	Titled  bool          // the title of the page stands in it
}

// pieceView is a gap, or a block.
type pieceView struct {
	Gap         *gapView
	Block       *pages.BlockView
	First, Last bool // of the blocks of its column
}

// gapView is a place between two blocks.
type gapView struct {
	page.Gap
	N    int // in the order of the page, counted from 0
	Open bool
}

// Tells are the pictures of the page, each once: what they tell is looked at before they
// leave.
func (v pageView) Tells() []store.Picture {
	var all []store.Picture
	for _, b := range v.Blocks {
		for _, s := range b.Shown {
			if s.Shows != nil && !slices.ContainsFunc(all, func(p store.Picture) bool { return p.ID == s.Shows.ID }) {
				all = append(all, *s.Shows)
			}
		}
	}
	return all
}

// spreads lays the blocks of a page out by bands and columns, with a gap before and
// after each.
func (v *pageView) spreads() {
	blocks := map[string]*pages.BlockView{}
	for i := range v.Blocks {
		blocks[v.Blocks[i].ID] = &v.Blocks[i]
	}
	all := v.Doc.Spreads(v.Rules)
	if all[0].Frame != nil { // there is always room before the first band
		all = slices.Insert(all, 0, page.Spread{Columns: make([][]page.Block, 1)})
	}
	n := 0
	gap := func(after string, column int) pieceView {
		g := &gapView{Gap: page.Gap{After: after, Column: column}, N: n}
		g.Open = v.Open != nil && v.Open.New() && v.Open.Gap == g.Gap
		n++
		return pieceView{Gap: g}
	}
	for _, s := range all {
		view := spreadView{Spread: s, Bar: blocks[s.ID]}
		if s.Frame != nil && s.Frame.Background != nil {
			view.Backing = template.HTML(draftBacking(*v, s.ID, *s.Frame.Background, page.BandRoom(v.Rules, s.Frame)).HTML(0)) //nolint:gosec // made and escaped by core/page
			view.Titled = v.Doc.Header() == s.Frame.Background
		}
		for c, column := range s.Columns {
			pieces := []pieceView{gap(s.ID, c)}
			for i, b := range column {
				pieces = append(pieces, pieceView{Block: blocks[b.ID], First: i == 0 && s.Frame == nil, Last: i == len(column)-1 && len(all) == 1}, gap(b.ID, 0))
			}
			view.Columns = append(view.Columns, pieces)
		}
		v.Spreads = append(v.Spreads, view)
	}
}

// Held reports whether the panel is for the nth picture of a block.
func (v pageView) Held(block string, nth int) bool {
	return v.Open != nil && v.Open.Block == block && v.Open.Nth == nth
}

// HTML gives the words of a block as they will be published.
func (v pageView) HTML(b pages.BlockView) template.HTML {
	if b.Kind == page.HTML {
		return template.HTML(page.CleanHTML(b.Text)) //nolint:gosec // sanitised by core/page
	}
	return template.HTML(page.TextHTML(b.Text)) //nolint:gosec // sanitised by core/page
}

func (s *server) page(w http.ResponseWriter, r *http.Request) { s.showPage(w, r, showing{}) }

// showing tells what the screen of a page shows besides the page.
type showing struct {
	open    func(pages.PageView) *placing
	band    string                // the band that the panel is for
	list    string                // the list that the panel is for
	album   string                // the album that the panel is for
	behind  string                // the band whose background the panel is for
	cover   string                // the panel is for the cover, or the link picture: cover or link
	refused *pictures.NameRefusal // the name that the open picture cannot have
	clash   *pages.TextClash      // what somebody else wrote over the same words meanwhile
}

// showPage draws a page as it is now.
func (s *server) showPage(w http.ResponseWriter, r *http.Request, show showing) {
	s.reading(w, r)
	d := s.at(r)
	p, err := d.Pages.Page(id(r))
	if err != nil {
		s.fail(w, r, err)
		return
	}
	who := d.Who()
	v := pageView{PageView: p, Rules: d.Rules(), CanWork: who.CanWork(p.Section), CanPublish: who.CanPublish(p.Section), base: s.opts.Base, Own: ownSections(d.Rules(), who)}
	if show.open != nil {
		v.Open = show.open(p)
	}
	if b, ok := p.Doc.Block(show.band); ok && b.Kind == page.Band {
		v.Band = newBandForm(b, v.Rules)
	}
	if b, ok := p.Doc.Block(show.list); ok && b.Kind == page.List {
		v.List, err = s.listForm(r, b)
	}
	if b, ok := p.Doc.Block(show.album); err == nil && ok && b.Kind == page.Album {
		v.Album = &albumForm{AlbumShow: *b.Album, Block: b.ID, Mark: b.Mark()}
	}
	if b, ok := p.Doc.Block(show.behind); err == nil && ok && b.Kind == page.Band {
		v.Behind, err = s.backgroundPanel(r, p.Page, v.Rules, b)
	}
	if err == nil && show.cover != "" {
		v.Cover, err = s.coverPanel(r, p.Page, show.cover)
	}
	if err != nil {
		s.fail(w, r, err)
		return
	}
	if err := s.fillPage(r, &v, show.refused); err != nil {
		s.fail(w, r, err)
		return
	}
	v.Write, v.Clash = r.FormValue("write"), show.clash
	v.spreads()
	s.screen(w, r, "page", p.Doc.Title, "pages", v)
}

// fillPage adds what the panel shows.
func (s *server) fillPage(r *http.Request, v *pageView, refused *pictures.NameRefusal) (err error) {
	d := s.at(r)
	if v.Open != nil {
		if err := s.fillPlacing(r, v.Doc, v.Open, refused); err != nil {
			return err
		}
		if v.Open.Block == "" {
			if v.Albums, err = d.Albums.Placeable(); err == nil {
				v.Files, _, err = d.Attachments.Kept()
			}
			return err
		}
	} else if picture := number(r.FormValue("picture")); picture != 0 {
		if v.Picked, err = d.Pages.InTray(picture); err != nil {
			return err
		}
	}
	v.DetailsSeen = pages.DetailsMark(v.Doc)
	v.CoverWhy = coverDrawing{View: covers.View{By: v.StandsBy}}.Why()
	how := page.Writing{Rules: v.Rules, List: func(b page.Block) (page.ListView, error) { return d.Lists.Draft(v.Page, b, s.opts.Base) }}
	v.made = func(b page.Block) template.HTML {
		var out strings.Builder
		if err := page.WriteBlock(&out, v.Doc, b.ID, how); err != nil {
			return "This list could not be read."
		}
		return template.HTML(out.String()) //nolint:gosec // made and escaped by core/page
	}
	if v.Open != nil {
		return nil // its panel stands where they would
	}
	lives, err := d.Publish.Lives(v.ID)
	for _, l := range lives {
		one := liveView{LiveVersion: l}
		if one.Sign, err = publish.Signature(l); err != nil {
			return err
		}
		v.Lives = append(v.Lives, one)
	}
	if err == nil {
		v.Lighter, err = s.lighterFiles(r, v.Page)
	}
	return err
}

// lighterFiles is how far the files are that a live page will offer; nil where none are due.
func (s *server) lighterFiles(r *http.Request, p store.Page) (*lighter.Progress, error) {
	at, due, err := s.at(r).Lighter.Progress(p)
	if err != nil || !due {
		return nil, err
	}
	return &at, nil
}

// lighterPart tells it anew.
func (s *server) lighterPart(w http.ResponseWriter, r *http.Request) {
	p, err := s.at(r).Pages.Page(id(r))
	var at *lighter.Progress
	if err == nil {
		at, err = s.lighterFiles(r, p.Page)
	}
	if err != nil {
		s.fail(w, r, err)
		return
	}
	s.part(w, "page", "lighter-files", at)
}

// pageStyle gives the measures that a page's draft has of its own.
func (s *server) pageStyle(w http.ResponseWriter, r *http.Request) {
	css, err := s.at(r).House.PageStyle(id(r))
	if err != nil {
		s.fail(w, r, err)
		return
	}
	w.Header().Set("Content-Type", "text/css; charset=utf-8")
	w.Header().Set("Cache-Control", "private, max-age=3600") // its address carries the version of the draft
	_, _ = w.Write(css)
}

func (s *server) pageStep(w http.ResponseWriter, r *http.Request) {
	s.pageChanged(w, r, s.at(r).Pages.PageStep(id(r), version(r), whole(r, "seq", -1)))
}

func (s *server) publish(w http.ResponseWriter, r *http.Request) {
	_, err := s.at(r).Publish.Publish(r.Context(), id(r), snapshot.ParseSeen(r.FormValue("seen")), r.FormValue("reason"), s.opts.Layout)
	s.pageChanged(w, r, err)
}

func (s *server) mend(w http.ResponseWriter, r *http.Request) {
	s.pageChanged(w, r, s.at(r).Pages.Mend(id(r), r.FormValue("block"), whole(r, "nth", 0), audit.Mending(r.FormValue("do")), r.FormValue("value")))
}

// pageChanged answers an act on a page: with the page as it is now, or with why it
// was not done.
func (s *server) pageChanged(w http.ResponseWriter, r *http.Request, err error) {
	s.pageChangedTo(w, r, err, showing{})
}

// pageChangedTo also keeps the panel open for what it is for.
func (s *server) pageChangedTo(w http.ResponseWriter, r *http.Request, err error, show showing) {
	var clash *pages.TextClash
	switch {
	case errors.As(err, &clash):
		r.Form.Set("write", clash.Block)
		show.clash = clash
		s.showPage(w, r, show)
	case err != nil:
		s.fail(w, r, err)
	case fromHTMX(r):
		s.makeAhead(r)
		r.Form.Del("picture") // it is placed now
		s.showPage(w, r, show)
	default:
		s.makeAhead(r)
		http.Redirect(w, r, fmt.Sprintf("/pages/%d", id(r)), http.StatusSeeOther)
	}
}

// makeAhead has the files of a page made while its editor goes on: publishing waits for none.
func (s *server) makeAhead(r *http.Request) {
	if !s.opts.Ahead {
		return
	}
	if err := s.at(r).Publish.Ahead(id(r)); err != nil {
		slog.Warn("files are not made ahead", "page", id(r), "error", err)
	}
}

// version is the draft that the editor saw.
func version(r *http.Request) int { return whole(r, "version", -1) }

// gapOf reads a gap from a form.
func gapOf(r *http.Request) page.Gap {
	return page.Gap{After: strings.TrimSpace(r.FormValue("after")), Column: whole(r, "column", 0)}
}
