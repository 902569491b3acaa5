package web

import (
	"fmt"
	"image"
	"math"
	"net/http"
	"slices"
	"strconv"
	"strings"

	"github.com/go-chi/chi/v5"

	"mivlet/core/fit"
	"mivlet/core/page"
	"mivlet/core/rules"
	"mivlet/desk/covers"
	"mivlet/desk/pages"
	"mivlet/desk/pictures"
	"mivlet/store"
)

// coverRoutes are what stands for pages elsewhere, all of them together.
func (s *server) coverRoutes(r chi.Router) {
	r.Get("/covers", s.covers)
	r.Get("/tags", s.tags)
	r.Post("/covers/fill", s.fillCovers)
	r.Post("/covers/front", s.beginFront)
	r.Get("/covers/{id}/text", s.coverText)
	r.Post("/covers/{id}", s.setCoverHere)
}

// pageCoverRoutes are the details and the cover of one page.
func (s *server) pageCoverRoutes(r chi.Router) {
	for _, what := range []string{coverOf, linkOf} {
		r.Get("/"+what, func(w http.ResponseWriter, r *http.Request) { s.showPage(w, r, showing{cover: what}) })
		r.Post("/"+what, func(w http.ResponseWriter, r *http.Request) { s.setCover(w, r, what) })
		r.Post("/"+what+"/frame", func(w http.ResponseWriter, r *http.Request) { s.frameCover(w, r, what) })
	}
	r.Post("/card", s.setCard)
	r.Post("/details", s.setDetails)
	r.Get("/list", func(w http.ResponseWriter, r *http.Request) { s.showPage(w, r, showing{list: r.FormValue("block")}) })
	r.Post("/list", s.setList)
}

// What stands for a page: in lists, and where it is shared.
const (
	coverOf = "cover"
	linkOf  = "link"
)

// coverDrawing is a cover as it is drawn: the picture's own frame as it is seen, and what
// each shape shows of it.
type coverDrawing struct {
	covers.View
	Size   image.Point // of the picture's own frame as it is seen, in its pixels
	Part   image.Rectangle
	Shapes []coverShape
}

// coverShape is what one shape shows.
type coverShape struct {
	rules.Slot
	Shown image.Rectangle
	Cut   []image.Rectangle // faces and lines that it cuts off
}

func drawCover(v covers.View) coverDrawing { return drawShapes(v, page.CoverSlots) }

func drawShapes(v covers.View, shapes []rules.Slot) coverDrawing {
	d := coverDrawing{View: v}
	if v.Picture == nil {
		return d
	}
	seen := v.Picture.Work.Recipe.View(v.Picture.Facts.Upright()).Seen()
	d.Size, d.Part = seen.Size(), page.Closer(seen, v.Focus, v.Closer)
	in := fit.Focus{X: (v.Focus.X*float64(seen.Dx()) - float64(d.Part.Min.X)) / float64(d.Part.Dx()), Y: (v.Focus.Y*float64(seen.Dy()) - float64(d.Part.Min.Y)) / float64(d.Part.Dy())}
	for _, slot := range shapes {
		shape := coverShape{Slot: slot, Shown: fit.BoxFrame(d.Part, fit.Size{W: slot.Width, H: slot.Height}, in)}
		for _, f := range v.Faults {
			for _, box := range f.Boxes {
				if f.Shape == slot.Title {
					shape.Cut = append(shape.Cut, seenBox(v.Picture, box))
				}
			}
		}
		d.Shapes = append(d.Shapes, shape)
	}
	return d
}

// seenBox is a box of the upright original where it lies in the picture's frame as it is seen.
func seenBox(p *store.Picture, box image.Rectangle) image.Rectangle {
	view := p.Work.Recipe.View(p.Facts.Upright())
	return view.Turn.RectToUpright(box.Intersect(view.Frame).Sub(view.Frame.Min), fit.SizeOf(view.Frame))
}

// Across and Down are where the focus lies, in percent.
func (d coverDrawing) Across() int { return int(math.Round(100 * d.Focus.X)) }

// Down is how far down the focus lies, in percent.
func (d coverDrawing) Down() int { return int(math.Round(100 * d.Focus.Y)) }

// At is the spot of the focus, in pixels of the frame as it is seen.
func (d coverDrawing) At() image.Point {
	return image.Pt(int(d.Focus.X*float64(d.Size.X)), int(d.Focus.Y*float64(d.Size.Y)))
}

// Dot is the radius of the spot that marks the focus.
func (d coverDrawing) Dot() int { return max(d.Size.X, d.Size.Y) / 28 }

// Outside is the outline of what the cover leaves out of the picture's own frame.
func (d coverDrawing) Outside() string {
	p := d.Part
	return fmt.Sprintf("M0 0H%dV%dH0Z M%d %dH%dV%dH%dZ", d.Size.X, d.Size.Y, p.Min.X, p.Min.Y, p.Max.X, p.Max.Y, p.Min.X)
}

// Why tells why it stands there.
func (d coverDrawing) Why() string {
	return map[page.CoverBy]string{page.CoverOwn: "chosen for it", page.CoverRule: "by rule: its first large picture", page.NoCover: "no picture"}[d.By]
}

// Says tells a fault in a sentence.
func (coverDrawing) Says(f covers.Fault) string {
	switch f.Code {
	case "soft":
		return fmt.Sprintf("“%s” is soft: the picture has only %s pixels for it.", f.Shape, f.Value)
	case "face":
		return fmt.Sprintf("“%s” cuts off a face.", f.Shape)
	case "text":
		return fmt.Sprintf("“%s” cuts off a line of text.", f.Shape)
	case "twin":
		return fmt.Sprintf("%s has the same picture.", f.Value)
	}
	return fmt.Sprintf("The picture belongs to %s.", f.Value)
}

// coversView is all covers, with the pictures to choose from.
type coversView struct {
	Groups, Pages []coverDrawing
	Blank         int // how many have none
	NoFront       []noFront
	Tray          []pictures.Item
	Find          string
	Blanks        bool // only blanks are shown
}

// noFront is a section or category without a front page.
type noFront struct{ Section, Category, Title string }

func (s *server) covers(w http.ResponseWriter, r *http.Request) {
	d := s.at(r)
	all, err := d.Covers.All()
	if err != nil {
		s.fail(w, r, err)
		return
	}
	v := coversView{Find: r.FormValue("find"), Blanks: r.FormValue("show") == "blanks"}
	fronts := map[string]bool{}
	for _, c := range all {
		if c.Group != "" {
			fronts[c.Path()] = true
		}
		if c.Picture == nil {
			v.Blank++
		} else if v.Blanks {
			continue
		}
		if c.Group != "" {
			v.Groups = append(v.Groups, drawCover(c))
		} else {
			v.Pages = append(v.Pages, drawCover(c))
		}
	}
	v.NoFront = missingFronts(d.Rules(), fronts, d.Who().CanWork)
	if v.Tray, err = d.Pages.Tray(v.Find); err != nil {
		s.fail(w, r, err)
		return
	}
	s.screen(w, r, "covers", "Covers", "pages", v)
}

// missingFronts are the groups without a front page that somebody may begin.
func missingFronts(r rules.Rules, there map[string]bool, may func(section string) bool) (all []noFront) {
	add := func(f noFront, path string) {
		if !there[path] && may(f.Section) {
			all = append(all, f)
		}
	}
	add(noFront{Title: r.House}, "/")
	for _, one := range r.Sections {
		add(noFront{Section: one.Code, Title: one.Title}, "/"+one.Code)
	}
	for _, one := range r.Categories {
		add(noFront{Category: one.Code, Title: one.Title}, "/"+one.Code)
	}
	return all
}

// tags gives the tags of all pages, to choose from.
func (s *server) tags(w http.ResponseWriter, r *http.Request) {
	all, err := s.at(r).Pages.Tags()
	if err != nil {
		s.fail(w, r, err)
		return
	}
	s.part(w, "page", "tag-options", all)
}

// setCoverHere puts a picture on a page from the screen of all covers.
func (s *server) setCoverHere(w http.ResponseWriter, r *http.Request) {
	if err := s.at(r).Covers.Set(id(r), "", number(r.FormValue("picture"))); err != nil {
		s.fail(w, r, err)
		return
	}
	s.covers(w, r)
}

func (s *server) fillCovers(w http.ResponseWriter, r *http.Request) {
	numbers := func(field string) (all []uint) {
		for _, text := range r.Form[field] {
			all = append(all, number(text))
		}
		return all
	}
	_ = r.FormValue("picture") // reads the form
	if _, err := s.at(r).Covers.Fill(numbers("blank"), numbers("picture")); err != nil {
		s.fail(w, r, err)
		return
	}
	s.covers(w, r)
}

// coverText tells of lines of text that a cover cuts off, which takes a moment to find.
func (s *server) coverText(w http.ResponseWriter, r *http.Request) {
	v, err := s.at(r).Covers.Of(id(r))
	if err != nil {
		s.fail(w, r, err)
		return
	}
	v.Faults = slices.DeleteFunc(v.Faults, func(f covers.Fault) bool { return f.Code != "text" })
	s.part(w, "covers", "cover-faults", drawCover(v))
}

func (s *server) beginFront(w http.ResponseWriter, r *http.Request) {
	page, err := s.at(r).Covers.BeginFront(r.FormValue("section"), r.FormValue("category"))
	if err != nil {
		s.fail(w, r, err)
		return
	}
	s.goOn(w, r, fmt.Sprintf("/pages/%d", page))
}

func (s *server) setCover(w http.ResponseWriter, r *http.Request, what string) {
	set := s.at(r).Covers.Set
	if what == linkOf {
		set = s.at(r).Covers.SetLink
	}
	s.pageChangedTo(w, r, set(id(r), r.FormValue("seen"), number(r.FormValue("picture"))), showing{cover: what})
}

// frameCover reads the focus in percent, and how far the frame is drawn in, in tenths.
func (s *server) frameCover(w http.ResponseWriter, r *http.Request, what string) {
	frame := s.at(r).Covers.Frame
	if what == linkOf {
		frame = s.at(r).Covers.FrameLink
	}
	focus := fit.Focus{X: float64(whole(r, "across", 50)) / 100, Y: float64(whole(r, "down", 50)) / 100}
	s.pageChangedTo(w, r, frame(id(r), r.FormValue("seen"), focus, float64(whole(r, "closer", 10))/10), showing{cover: what})
}

// setCard reads what a title card stands on: a ground of the site, the picture that is shown
// now, or nothing, which takes it off.
func (s *server) setCard(w http.ResponseWriter, r *http.Request) {
	var c *page.TitleCard
	switch on := r.FormValue("on"); on {
	case "off":
	case "picture":
		c = &page.TitleCard{Ground: page.Deep, Behind: &page.Cover{Picture: number(r.FormValue("picture"))}}
	default:
		c = &page.TitleCard{Ground: page.Ground(on)}
	}
	s.pageChangedTo(w, r, s.at(r).Covers.SetCard(id(r), r.FormValue("seen"), c), showing{cover: linkOf})
}

func (s *server) setDetails(w http.ResponseWriter, r *http.Request) {
	_ = r.FormValue("seen") // reads the form
	d := page.Details{From: r.FormValue("from"), Until: r.FormValue("until"), Whom: r.FormValue("whom"), Tags: strings.Split(r.FormValue("tags"), ","),
		Categories: r.Form["category"], Summary: r.FormValue("summary"), Address: r.FormValue("address")}
	s.pageChanged(w, r, s.at(r).Pages.SetDetails(id(r), r.FormValue("seen"), d))
}

// coverPanel is the cover of a page in its panel.
type coverPanel struct {
	coverDrawing
	For  string          // cover or link
	Own  bool            // it was chosen for this
	Card *page.TitleCard // shown for the link; nil for none
	Seen string
	Tray []pictures.Item
	Find string
}

// Tenths is how far the frame is drawn in, in tenths.
func (p coverPanel) Tenths() int { return int(math.Round(10 * p.Closer)) }

func (s *server) coverPanel(r *http.Request, p store.Page, what string) (*coverPanel, error) {
	d := s.at(r)
	var v covers.View
	var err error
	shapes, own := page.CoverSlots, p.Doc.Cover != nil
	if what == linkOf {
		shapes, own = page.LinkShapes, p.Doc.Shared != nil && p.Doc.Card == nil
		v, _, err = d.Covers.OfLink(p.ID)
	} else {
		v, err = d.Covers.Of(p.ID)
	}
	if err != nil {
		return nil, err
	}
	c := &coverPanel{coverDrawing: drawShapes(v, shapes), For: what, Own: own, Seen: pages.DetailsMark(p.Doc), Find: r.FormValue("find")}
	if what == linkOf {
		c.Card = p.Doc.Card
	}
	c.Tray, err = d.Pages.Tray(c.Find)
	return c, err
}

// listForm is a list in its panel.
type listForm struct {
	page.Listing
	Block, Mark string
	Tags        []string
	Titles      []store.PageTitle // to choose from by hand
}

// Chosen reports whether a page is chosen by hand.
func (f listForm) Chosen(id uint) bool { return slices.Contains(f.Pages, id) }

// Place is the place of a page among those chosen by hand, counted from 1; 0 for none.
func (f listForm) Place(id uint) int { return slices.Index(f.Pages, id) + 1 }

func (s *server) listForm(r *http.Request, b page.Block) (*listForm, error) {
	f := &listForm{Listing: *b.List, Block: b.ID, Mark: b.Mark()}
	var err error
	if f.Tags, err = s.at(r).Pages.Tags(); err != nil {
		return nil, err
	}
	f.Titles, err = s.at(r).Pages.PageTitles(0)
	return f, err
}

func (s *server) setList(w http.ResponseWriter, r *http.Request) {
	block := r.FormValue("block")
	l := page.Listing{Of: page.Source(r.FormValue("of")), Order: page.Order(r.FormValue("order")), Most: whole(r, "most", 0), Look: page.Look(r.FormValue("look")),
		Days: r.FormValue("days") != "", Summary: r.FormValue("summary") != "", All: r.FormValue("all") != ""}
	switch l.Of {
	case page.OfSection, page.OfCategory, page.OfTag:
		l.Which = r.FormValue(string(l.Of))
	case page.OfHand:
		l.Pages = byPlace(r)
	}
	s.pageChangedTo(w, r, s.at(r).Pages.SetList(id(r), block, r.FormValue("mark"), l), showing{list: block})
}

// byPlace are the pages chosen by hand, in the order of the places that were typed for them.
func byPlace(r *http.Request) []uint {
	type chosen struct {
		id    uint
		place int
	}
	var all []chosen
	for _, text := range r.Form["page"] {
		place, err := strconv.Atoi(r.FormValue("place-" + text))
		if err != nil || place < 1 {
			place = 1 << 20
		}
		all = append(all, chosen{number(text), place})
	}
	slices.SortStableFunc(all, func(a, b chosen) int { return a.place - b.place })
	ids := make([]uint, len(all))
	for i, c := range all {
		ids[i] = c.id
	}
	return ids
}
