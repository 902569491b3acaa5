package web

import (
	"fmt"
	"html/template"
	"net/http"

	"mivlet/core/page"
	"mivlet/core/rules"
	"mivlet/desk"
)

func (s *server) pages(w http.ResponseWriter, r *http.Request) {
	pages, err := s.at(r).Pages()
	if err != nil {
		s.fail(w, r, err)
		return
	}
	type group struct {
		rules.Section
		Pages []desk.PageEntry
	}
	var groups []group
	for _, section := range s.at(r).Rules().Sections {
		g := group{Section: section}
		for _, p := range pages {
			if p.Section == section.Code {
				g.Pages = append(g.Pages, p)
			}
		}
		if len(g.Pages) > 0 {
			groups = append(groups, g)
		}
	}
	s.screen(w, r, "pages", "Pages", "pages", groups)
}

// pageView is a page on its screen, with what its side panel shows.
type pageView struct {
	desk.PageView
	Rules rules.Rules
	Open  *placing // nil: the panel shows the sign-off
	// Picked is the picture that was brought along from the bench, and waits
	// for a gap; nil where none was.
	Picked *desk.Item
	// What whoever is signed in may do here.
	CanWork, CanPublish bool
}

// placing is a picture about to be placed, or one that stands on the page.
type placing struct {
	Gap     int
	Block   string // empty while it is new
	Picture uint
	Slot    string
	Side    page.Side
	Caption string
	Alt     string // of this place; empty for the usual one
	Usual   string
	Nothing bool // decorative here
	Sides   []page.Side
}

// New reports whether the picture is not on the page yet.
func (p placing) New() bool { return p.Block == "" }

// HTML gives a text block as it will be published.
func (v pageView) HTML(b desk.BlockView) template.HTML {
	return template.HTML(page.TextHTML(b.Text)) //nolint:gosec // sanitised by core/page
}

// Gap reports whether the gap at a position is the one that is open.
func (v pageView) Gap(at int) bool { return v.Open != nil && v.Open.New() && v.Open.Gap == at }

func (s *server) page(w http.ResponseWriter, r *http.Request) { s.showPage(w, r, nil) }

// showPage draws a page as it is now. open tells what the panel shows for it;
// without it, or where it gives nil, that is the sign-off.
func (s *server) showPage(w http.ResponseWriter, r *http.Request, open func(desk.PageView) *placing) {
	p, err := s.at(r).Page(id(r))
	if err != nil {
		s.fail(w, r, err)
		return
	}
	who := s.at(r).Who()
	v := pageView{PageView: p, Rules: s.at(r).Rules(), CanWork: who.CanWork(p.Section), CanPublish: who.CanPublish(p.Section)}
	if open != nil {
		v.Open = open(p)
	}
	if v.Open != nil {
		if item := inTray(p, v.Open.Picture); item != nil {
			v.Open.Usual = item.Work.Alt
			if v.Open.New() && v.Open.Caption == "" {
				v.Open.Caption = item.Work.Caption
			}
		}
	}
	if item := inTray(p, number(r.FormValue("picture"))); v.Open == nil && item != nil && len(item.Lacks) == 0 {
		v.Picked = item
	}
	s.screen(w, r, "page", p.Doc.Title, "pages", v)
}

// inTray returns the item of a picture, or nil.
func inTray(p desk.PageView, picture uint) *desk.Item {
	for _, item := range p.Tray {
		if item.ID == picture {
			return &item
		}
	}
	return nil
}

// insertPanel opens the tray for a gap. Choosing a picture or a slot asks
// again, so that only sides that go with the slot are offered.
func (s *server) insertPanel(w http.ResponseWriter, r *http.Request) {
	s.showPage(w, r, func(p desk.PageView) *placing {
		open := s.placing(r)
		open.Gap = whole(r, "gap", 0)
		item := inTray(p, open.Picture)
		if item != nil && (r.FormValue("chosen") != r.FormValue("picture") || open.Slot == "") {
			open.Slot = item.Work.Slot // another picture brings its own slot
		}
		return s.withSides(r, open)
	})
}

func (s *server) insert(w http.ResponseWriter, r *http.Request) {
	open := s.placing(r)
	if open.Picture == 0 {
		s.fail(w, r, &desk.Refusal{Kind: desk.Bad, What: "No picture is chosen.", Next: "Pick one from the tray."})
		return
	}
	_, err := s.at(r).Insert(id(r), version(r), whole(r, "gap", -1), open.placement())
	s.pageChanged(w, r, err)
}

func (s *server) placementPanel(w http.ResponseWriter, r *http.Request) {
	s.showPage(w, r, func(p desk.PageView) *placing {
		b, ok := p.Doc.Block(r.FormValue("block"))
		if !ok || b.Placement == nil {
			return nil
		}
		open := &placing{Block: b.ID, Picture: b.Placement.Picture, Slot: b.Placement.Slot, Side: b.Placement.Side, Caption: b.Placement.Caption, Alt: b.Placement.Alt, Nothing: b.Placement.Decorative}
		if r.Form.Has("slot") {
			asked := s.placing(r)
			open.Slot, open.Side, open.Caption, open.Alt, open.Nothing = asked.Slot, asked.Side, asked.Caption, asked.Alt, asked.Nothing
		}
		return s.withSides(r, open)
	})
}

func (s *server) setPlacement(w http.ResponseWriter, r *http.Request) {
	s.pageChanged(w, r, s.at(r).SetPlacement(id(r), version(r), r.FormValue("block"), s.placing(r).placement()))
}

func (s *server) takeOff(w http.ResponseWriter, r *http.Request) {
	s.pageChanged(w, r, s.at(r).TakeOff(id(r), version(r), r.FormValue("block")))
}

func (s *server) pageStep(w http.ResponseWriter, r *http.Request) {
	s.pageChanged(w, r, s.at(r).PageStep(id(r), version(r), whole(r, "seq", -1)))
}

func (s *server) publish(w http.ResponseWriter, r *http.Request) {
	_, err := s.at(r).Publish(r.Context(), id(r), version(r), s.opts.Layout)
	s.pageChanged(w, r, err)
}

func (s *server) pageChanged(w http.ResponseWriter, r *http.Request, err error) {
	switch {
	case err != nil:
		s.fail(w, r, err)
	case fromHTMX(r):
		r.Form.Del("picture") // it is placed now
		s.showPage(w, r, nil)
	default:
		http.Redirect(w, r, fmt.Sprintf("/pages/%d", id(r)), http.StatusSeeOther)
	}
}

func (s *server) placing(r *http.Request) *placing {
	return &placing{Block: r.FormValue("block"), Picture: number(r.FormValue("picture")), Slot: r.FormValue("slot"),
		Side: page.Side(r.FormValue("side")), Caption: r.FormValue("caption"), Alt: r.FormValue("alt"), Nothing: r.FormValue("nothing") != ""}
}

func (p *placing) placement() page.Placement {
	return page.Placement{Picture: p.Picture, Slot: p.Slot, Side: p.Side, Caption: p.Caption, Alt: p.Alt, Decorative: p.Nothing}
}

// withSides offers the sides that go with the slot, and keeps to one of them.
func (s *server) withSides(r *http.Request, p *placing) *placing {
	slot, ok := s.at(r).Rules().Slot(p.Slot)
	if !ok {
		slot = s.at(r).Rules().Slots[0]
		p.Slot = slot.ID
	}
	p.Sides = s.at(r).Sides(slot)
	for _, side := range p.Sides {
		if side == p.Side {
			return p
		}
	}
	p.Side = page.None
	return p
}

// version is the draft that the editor saw.
func version(r *http.Request) int { return whole(r, "version", -1) }

func (s *server) live(w http.ResponseWriter, r *http.Request) {
	all, err := s.at(r).LivePages()
	if err != nil {
		s.fail(w, r, err)
		return
	}
	s.screen(w, r, "live", "Live", "live", all)
}

func (s *server) checkLive(w http.ResponseWriter, r *http.Request) {
	if _, err := s.at(r).CheckLive(r.Context(), id(r)); err != nil {
		s.fail(w, r, err)
		return
	}
	if fromHTMX(r) {
		s.live(w, r)
		return
	}
	http.Redirect(w, r, "/live", http.StatusSeeOther)
}
