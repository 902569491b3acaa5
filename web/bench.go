package web

import (
	"errors"
	"fmt"
	"image"
	"net/http"
	"slices"
	"strconv"
	"strings"

	"mivlet/core/facts"
	"mivlet/core/fit"
	"mivlet/core/naming"
	"mivlet/core/rules"
	"mivlet/desk/access"
	"mivlet/desk/bench"
	"mivlet/desk/cuts"
	"mivlet/desk/pictures"
	"mivlet/store"
	"mivlet/web/drawing"
)

// benchView is a picture on the Bench.
type benchView struct {
	bench.View
	Rules   rules.Rules
	Screens []drawing.Screen
	Words   pictures.Words
	Moving  bool // figures for a hand that moves: do not make cuts yet
	// What the editor typed and the house refused, with what it proposes.
	Typed    string
	Problems []naming.Problem
	Mended   string
	Clash    *pictures.WordsClash // what somebody else wrote meanwhile
	Pages    []store.PageTitle    // of the picture's section, to place it on
	Again    []store.PageTitle    // live ones that visitors still see as they were
	From     *store.PageTitle     // the page that the bench was opened from
	Done     bool                 // nothing in the batch lacks anything
}

// IsAlso reports whether the picture is cut for a further slot.
func (v benchView) IsAlso(slot string) bool { return slices.Contains(v.Work.Also, slot) }

func (s *server) benchFirst(w http.ResponseWriter, r *http.Request) {
	items, err := s.at(r).Bench.OnBench()
	if err != nil {
		s.fail(w, r, err)
		return
	}
	if len(items) == 0 {
		s.screen(w, r, "bench-empty", "Bench", "bench", nil)
		return
	}
	first := items[0]
	for _, item := range items {
		if len(item.Lacks) > 0 {
			first = item
			break
		}
	}
	http.Redirect(w, r, fmt.Sprintf("/bench/%d", first.ID), http.StatusSeeOther)
}

func (s *server) bench(w http.ResponseWriter, r *http.Request) { s.showBench(w, r, nil, nil) }

// showBench draws the bench as it is now, with what refused holds of a name
// that was not taken, and clash of words that somebody else had changed.
func (s *server) showBench(w http.ResponseWriter, r *http.Request, refused *pictures.NameRefusal, clash *pictures.WordsClash) {
	s.reading(w, r)
	b, err := s.at(r).Bench.View(id(r))
	if err != nil {
		s.fail(w, r, err)
		return
	}
	v := benchView{View: b, Clash: clash, Words: pictures.WordsOf(b.Picture), Rules: s.at(r).Rules(), Typed: b.Work.Name, Screens: s.drawings(r, b.Figures)}
	if refused != nil {
		v.Typed, v.Problems, v.Mended = refused.Name, refused.Problems, refused.Proposal
	}
	pages, err := s.at(r).Pages.PageTitles(b.ID)
	if err != nil {
		s.fail(w, r, err)
		return
	}
	for _, p := range pages {
		if p.Live && p.Differs && p.Shows && s.at(r).Who().CanPublish(p.Section) {
			v.Again = append(v.Again, p)
		}
	}
	for _, own := range []bool{true, false} { // the section's own pages first
		for _, p := range pages {
			if own && p.ID == s.fromPage(r) {
				v.From = &p
			} else if (p.Section == b.Section) == own && p.ID != s.fromPage(r) {
				v.Pages = append(v.Pages, p)
			}
		}
	}
	v.Done = r.FormValue("done") == "yes"
	s.screen(w, r, "bench", b.OriginalName, "bench", v)
}

// fromPage remembers the page that the bench was opened from, for this session.
func (s *server) fromPage(r *http.Request) uint {
	if page := number(r.URL.Query().Get("page")); page > 0 {
		s.sessions.Put(r.Context(), "page", int(page))
		return page
	}
	return uint(max(0, s.sessions.GetInt(r.Context(), "page")))
}

// drawings are the column to scale, on a desktop, a tablet and a phone.
func (s *server) drawings(r *http.Request, f cuts.Figures) []drawing.Screen {
	if f.Slot == nil || !f.Slot.Stands() {
		return nil
	}
	const scale, height = 0.19, 132
	house, size := s.at(r).Rules(), fit.SizeOf(f.Frame)
	if len(f.Cuts) > 0 {
		size = f.Usual().Size // turned, as it will stand
	}
	return []drawing.Screen{
		drawing.Column("Desktop", house, 1280, *f.Slot, size, scale, height),
		drawing.Column("Tablet", house, 820, *f.Slot, size, scale, height),
		drawing.Column("Phone", house, 390, *f.Slot, size, scale, height),
	}
}

// measure answers while the hand moves: figures and drawing for a frame that
// is not chosen yet.
func (s *server) measure(w http.ResponseWriter, r *http.Request) {
	frame, err := rectOf(r, "A frame")
	if err != nil {
		s.fail(w, r, err)
		return
	}
	b, err := s.at(r).Bench.Measured(id(r), frame, r.FormValue("slot"))
	if err != nil {
		s.fail(w, r, err)
		return
	}
	v := benchView{View: b, Screens: s.drawings(r, b.Figures), Moving: true}
	s.part(w, "bench", "measured", v)
}

func (s *server) setSlot(w http.ResponseWriter, r *http.Request) {
	s.changed(w, r, s.at(r).Bench.SetSlot(id(r), r.FormValue("slot")))
}

func (s *server) setFrame(w http.ResponseWriter, r *http.Request) {
	frame, err := rectOf(r, "A frame")
	if err == nil {
		err = s.at(r).Bench.SetFrame(id(r), frame, facts.Orientation(whole(r, "turn", int(facts.Upright))))
	}
	s.changed(w, r, err)
}

func (s *server) setName(w http.ResponseWriter, r *http.Request) {
	s.changed(w, r, s.at(r).Pictures.SetName(id(r), r.FormValue("name")))
}

func (s *server) setWords(w http.ResponseWriter, r *http.Request) {
	if err := r.ParseForm(); err != nil || !r.Form.Has("alt") {
		s.changed(w, r, &access.Refusal{Kind: access.Bad, What: "Part of the text was lost on the way.", Next: "Nothing is lost. Try again.", Err: err})
		return
	}
	s.changed(w, r, s.at(r).Pictures.SetWords(id(r), whole(r, "seen", noStep), wordsForm(r)))
}

// checkWords answers while somebody types.
func (s *server) checkWords(w http.ResponseWriter, r *http.Request) {
	found, err := s.at(r).Pictures.CheckWords(id(r), wordsForm(r))
	if err != nil {
		s.fail(w, r, err)
		return
	}
	s.part(w, "bench", "words-found", found)
}

func (s *server) goTo(w http.ResponseWriter, r *http.Request) {
	s.changed(w, r, s.at(r).Bench.GoTo(id(r), whole(r, "seq", -1)))
}

func (s *server) makeCuts(w http.ResponseWriter, r *http.Request) {
	s.reading(w, r) // making the cuts takes its time; what is done meanwhile is newer
	b, err := s.at(r).Bench.CutAll(id(r))
	if err != nil {
		s.fail(w, r, err)
		return
	}
	s.part(w, "bench", "cut-made", benchView{View: b})
}

// changed shows the bench after an act, or why it was refused.
func (s *server) changed(w http.ResponseWriter, r *http.Request, err error) {
	var refused *pictures.NameRefusal
	var clash *pictures.WordsClash
	if err != nil && !errors.As(err, &refused) && !errors.As(err, &clash) {
		s.fail(w, r, err)
		return
	}
	if !fromHTMX(r) && err == nil {
		http.Redirect(w, r, fmt.Sprintf("/bench/%d", id(r)), http.StatusSeeOther)
		return
	}
	s.showBench(w, r, refused, clash)
}

// noStep is no step of any history: a form that does not say what it showed.
const noStep = -1 << 31

// rectOf reads a rectangle from a form; what tells what it is, such as "A frame".
func rectOf(r *http.Request, what string) (image.Rectangle, error) {
	var v [4]int
	for i, field := range []string{"x", "y", "w", "h"} {
		n, err := strconv.Atoi(strings.TrimSpace(r.FormValue(field)))
		if err != nil || n < -1e6 || n > 1e6 {
			return image.Rectangle{}, access.Because(access.Bad, what+" is four whole numbers: left, top, width and height in pixels.", "Nothing was changed.", err)
		}
		v[i] = n
	}
	return image.Rectangle{Min: image.Pt(v[0], v[1]), Max: image.Pt(v[0]+v[2], v[1]+v[3])}, nil
}
