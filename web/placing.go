package web

import (
	"fmt"
	"io"
	"math"
	"net/http"
	"slices"
	"strconv"
	"strings"

	"github.com/go-chi/chi/v5"

	"mivlet/core/layout"
	"mivlet/core/page"
	"mivlet/core/rules"
	"mivlet/desk/access"
	"mivlet/desk/landing"
	"mivlet/desk/pages"
	"mivlet/desk/pictures"
)

// placingRoutes are how pictures come to a page, and how they stand there.
func (s *server) placingRoutes(r chi.Router) {
	r.Get("/insert", s.insertPanel)
	r.Post("/insert", s.insert)
	r.Get("/placement", s.placementPanel)
	r.Post("/placement", s.setPlacement)
	r.Post("/replace", s.replace)
	r.Post("/take-off", s.takeOff)
}

// placing is a picture about to be placed, or one that stands on the page, or a
// place that waits for one.
type placing struct {
	Gap   page.Gap
	Block string // empty while it is new
	Nth   int    // which of the block's pictures
	Mark  string // of its block as it was seen
	page.Placement
	Kind page.Kind

	Usual string // its usual description
	Name  string
	Sides []page.Side
	Slots []rules.Slot // that fit there
	Told  []string     // what that is on wide and narrow screens
	Tray  []pictures.Item
	Text  string // what the tray is searched for

	Run    int        // pictures that stand one below the other with it, itself among them; 0 where alone
	Finish *finishing // what the picture lacks where it stands; nil where nothing
}

// New reports whether the picture is not on the page yet.
func (p placing) New() bool { return p.Block == "" }

// insertPanel opens the tray for a gap. Choosing a picture or a slot asks
// again, so that only sides that go with the slot are offered.
func (s *server) insertPanel(w http.ResponseWriter, r *http.Request) {
	s.showPage(w, r, showing{open: func(p pages.PageView) *placing {
		return &placing{Gap: gapOf(r), Placement: placementOf(r), Kind: page.Picture, Text: r.FormValue("find")}
	}})
}

func (s *server) insert(w http.ResponseWriter, r *http.Request) {
	p := placementOf(r)
	if p.Picture == 0 {
		s.fail(w, r, &access.Refusal{Kind: access.Bad, What: "No picture is chosen.", Next: "Choose one from the tray."})
		return
	}
	_, err := s.at(r).Pages.Insert(id(r), gapOf(r), p)
	s.pageChanged(w, r, err)
}

// opened shows the panel for a picture that stands on the page.
func opened(block string, nth int) func(pages.PageView) *placing {
	return func(p pages.PageView) *placing {
		b, ok := p.Doc.Block(block)
		if !ok || nth < 0 || nth >= len(b.Holds()) {
			return nil
		}
		return &placing{Block: block, Nth: nth, Mark: b.Mark(), Placement: b.Holds()[nth], Kind: b.Kind}
	}
}

func (s *server) placementPanel(w http.ResponseWriter, r *http.Request) {
	s.showPage(w, r, showing{open: func(p pages.PageView) *placing {
		open := opened(r.FormValue("block"), whole(r, "nth", 0))(p)
		if open != nil {
			open.Text = r.FormValue("find")
		}
		return open
	}})
}

func (s *server) setPlacement(w http.ResponseWriter, r *http.Request) {
	block, nth := r.FormValue("block"), whole(r, "nth", 0)
	err := s.at(r).Pages.SetPlacement(id(r), block, nth, r.FormValue("mark"), placementOf(r))
	s.pageChangedTo(w, r, err, showing{open: opened(block, nth)})
}

func (s *server) replace(w http.ResponseWriter, r *http.Request) {
	block, nth := r.FormValue("block"), whole(r, "nth", 0)
	err := s.at(r).Pages.Replace(id(r), block, nth, r.FormValue("mark"), number(r.FormValue("picture")))
	s.pageChangedTo(w, r, err, showing{open: opened(block, nth)})
}

func (s *server) takeOff(w http.ResponseWriter, r *http.Request) {
	s.pageChanged(w, r, s.at(r).Pages.TakeOff(id(r), r.FormValue("block"), whole(r, "nth", 0), r.FormValue("mark")))
}

// fillPlacing adds the tray, and what goes with the picture and the slot.
func (s *server) fillPlacing(r *http.Request, doc page.Doc, p *placing, refused *pictures.NameRefusal) (err error) {
	d := s.at(r)
	if p.Tray, err = d.Pages.Tray(p.Text); err != nil {
		return err
	}
	for _, slot := range d.Rules().Slots {
		if p.Kind.Takes(slot) {
			p.Slots = append(p.Slots, slot)
		}
	}
	if p.Waits() {
		return nil
	}
	item, err := d.Pages.InTray(p.Picture)
	if err != nil {
		return err
	}
	p.Usual, p.Name, p.Run = item.Work.Alt, item.Name, len(doc.Run(p.Block))
	if !p.New() && len(item.Lacks) > 0 {
		if p.Finish, err = s.finishing(r, *item, landing.Place{Block: p.Block, Nth: p.Nth}, refused); err != nil {
			return err
		}
	}
	if p.New() {
		if p.Slot == "" || r.FormValue("chosen") != r.FormValue("picture") { // another picture brings its own slot
			p.Slot = p.Kind.SlotFor(d.Rules(), item.Work.Slot)
		}
		if p.Caption == "" {
			p.Caption = page.PlainCaption(item.Work.Caption)
		}
	}
	return s.standing(r, doc, p)
}

// standing works out the sides that go with a placement, and tells what it is on wide
// and narrow screens.
func (s *server) standing(r *http.Request, doc page.Doc, p *placing) error {
	d := s.at(r)
	if p.Side == "" {
		p.Side = page.None
	}
	block := p.Block
	if p.New() { // as it would stand
		block = "new"
		var err error
		if doc, err = doc.InsertAt(p.Gap, page.Block{ID: block, Kind: page.Picture, Placement: &p.Placement}); err != nil {
			return err
		}
	}
	st, _ := doc.Stand(d.Rules(), block, p.Nth)
	p.Sides = d.Pages.Sides(st)
	if !slices.Contains(p.Sides, p.Side) {
		p.Side = p.Sides[0]
	}
	for _, device := range []layout.Device{layout.Desktop, layout.Tablet, layout.Phone} {
		p.Told = append(p.Told, toldOf(st, device))
	}
	return nil
}

// toldOf tells in words how a picture stands on a device.
func toldOf(s page.Stand, device layout.Device) string {
	v := device.Viewport()
	if s.Kind == page.Strip {
		return fmt.Sprintf("%s: %d px high, slides sideways", device, s.Slot.Height)
	}
	wide, room := s.Place.Width(v), s.Place.Section.Column(v, s.Place.Column)
	text := fmt.Sprintf("%s: %d px", device, int(math.Round(wide)))
	if room-wide > 1 {
		text += fmt.Sprintf(" of %d", int(math.Round(room)))
	}
	switch {
	case s.Kind != page.Picture || !s.Beside():
		return text
	case s.Place.Beside(v):
		return text + ", words flow beside it"
	}
	return text + ", words go on below it"
}

// placementOf reads how a picture stands from a form.
func placementOf(r *http.Request) page.Placement {
	p := page.Placement{Picture: number(r.FormValue("picture")), Slot: r.FormValue("slot"), Side: page.Side(r.FormValue("side")),
		Caption: r.FormValue("caption"), Alt: r.FormValue("alt"), Decorative: r.FormValue("nothing") != ""}
	value, _ := strconv.ParseFloat(strings.TrimSpace(r.FormValue("width")), 64)
	switch r.FormValue("by") {
	case "px":
		p.Rule = &layout.Rule{Fixed: int(value), Cap: whole(r, "cap", 0)}
	case "percent":
		p.Rule = &layout.Rule{Percent: value, Cap: whole(r, "cap", 0)}
	}
	if filled(r, "air-top", "air-right", "air-bottom", "air-left") {
		p.Air = &page.Edges{Top: whole(r, "air-top", 0), Right: whole(r, "air-right", 0), Bottom: whole(r, "air-bottom", 0), Left: whole(r, "air-left", 0)}
	}
	if filled(r, "line-width") {
		p.Line = &page.Border{Width: whole(r, "line-width", 0), Colour: r.FormValue("line-colour")}
	}
	if filled(r, "shadow-x", "shadow-y") {
		p.Shadow = &page.Shadow{X: whole(r, "shadow-x", 0), Y: whole(r, "shadow-y", 0), Colour: r.FormValue("shadow-colour")}
	}
	p.Link = page.Link{Kind: rules.Link(r.FormValue("link")), Address: r.FormValue("address"), New: r.FormValue("new-window") != ""}
	return p
}

// Edge writes one edge of the air as its field shows it: an edge without air is left
// empty, unless none has any.
func (p placing) Edge(edge string) string {
	if p.Air == nil {
		return ""
	}
	a := *p.Air
	return shown(map[string]int{"top": a.Top, "right": a.Right, "bottom": a.Bottom, "left": a.Left}[edge], a == page.Edges{})
}

// Cast writes how far the shadow is cast, right or down, as its field shows it.
func (p placing) Cast(way string) string {
	if p.Shadow == nil {
		return ""
	}
	s := *p.Shadow
	return shown(map[string]int{"right": s.X, "down": s.Y}[way], s.X == 0 && s.Y == 0)
}

func shown(v int, all bool) string {
	if v == 0 && !all {
		return ""
	}
	return strconv.Itoa(v)
}

// filled reports whether something is written in one of the fields.
func filled(r *http.Request, fields ...string) bool {
	for _, f := range fields {
		if strings.TrimSpace(r.FormValue(f)) != "" {
			return true
		}
	}
	return false
}

// land takes a file that was dropped from somebody's own folder straight into a gap,
// or onto a picture. Documents become files to take along.
func (s *server) land(w http.ResponseWriter, r *http.Request) {
	name, body := s.streamed(w, r, "the file")
	q := r.URL.Query()
	column, _ := strconv.Atoi(q.Get("column"))
	nth, _ := strconv.Atoi(q.Get("nth"))
	gap := page.Gap{After: q.Get("after"), Column: column}
	var err error
	var block string
	show := showing{}
	switch as := q.Get("as"); as {
	case "file":
		_, err = s.at(r).Attachments.Add(id(r), gap, name, body)
	case coverOf, linkOf:
		show.cover = as
		err = s.landAs(r, as, name, body)
	default:
		block, err = s.at(r).Landing.Land(id(r), pages.Target{Gap: gap, Block: q.Get("block"), Nth: nth, Mark: q.Get("mark")}, name, body)
	}
	if err != nil {
		s.fail(w, r, err)
		return
	}
	if block != "" {
		show.open = opened(block, nth)
	}
	s.showPage(w, r, show)
}

// landAs takes a file in and has it stand for the page: in lists, or where it is shared.
func (s *server) landAs(r *http.Request, as, name string, body io.Reader) error {
	d := s.at(r)
	picture, err := d.Pages.Bring(id(r), name, body)
	if err != nil {
		return err
	}
	if as == linkOf {
		return d.Covers.SetLink(id(r), "", picture)
	}
	return d.Covers.Set(id(r), "", picture)
}

// insertable is a kind of block that the panel of a gap offers, as a drawing.
type insertable struct {
	Kind  page.Kind
	Title string
	Key   string // that adds it
	Size  string // what a picture needs there; empty for words
}

// Insertables lists what can be added where the panel is open.
func (v pageView) Insertables() []insertable {
	sizes := map[page.Kind]string{}
	for _, o := range v.Doc.Offers(v.Rules, v.Open.Gap) {
		sizes[o.Kind] = needs(o)
	}
	all := []insertable{{page.Text, "Text", "t", ""}, {page.Heading, "Heading", "h", ""}, {page.Divider, "Divider", "", ""},
		{page.List, "List of pages", "", ""}, {page.Facts, "Facts", "", ""}, {page.HTML, "HTML to keep", "", ""},
		{page.Picture, "Picture", "", ""}, {page.Beside, "Beside words", "", ""}, {page.Pair, "Pair", "", ""}, {page.Strip, "Strip", "", ""}}
	for i := range all {
		all[i].Size = sizes[all[i].Kind]
	}
	return all
}

// inView is how high a picture above text may be, in CSS px, so that the text is seen beside
// it in the window of a small laptop: half of about 600 (common practice).
const inView = 300

// needs says what a picture has to have for a place.
func needs(o page.Offer) string {
	if o.High > 0 {
		return fmt.Sprintf("%d high, %d for sharp screens", o.High, o.Sharp)
	}
	text := fmt.Sprintf("%d wide, %d for sharp screens", o.Wide, o.Sharp)
	if o.Kind == page.Picture && o.Wide > inView {
		text += fmt.Sprintf("; about %d high keeps text in view", inView)
	}
	return text
}
