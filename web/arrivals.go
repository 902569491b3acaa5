package web

import (
	"cmp"
	"fmt"
	"io"
	"net/http"
	"net/url"
	"strings"
	"time"

	"github.com/go-chi/chi/v5"

	"mivlet/core/rules"
	"mivlet/core/words"
	"mivlet/desk/access"
	"mivlet/desk/bench"
	"mivlet/desk/intake"
	"mivlet/desk/pictures"
	"mivlet/store"
)

// arrivalsView is the Arrivals station.
type arrivalsView struct {
	Waiting []arrivalView
	Binned  []store.Picture
	Rules   rules.Rules
	// Sections are those whoever is signed in works for.
	Sections []rules.Section
	Slot     string // chosen
	Section  string // chosen
	Card     intake.CardView
	// Begin are the first steps that a keeper has left open; asked for until a page is live.
	Begin func() ([]welcomeStep, error)
}

// arrivalView is one picture that waits.
type arrivalView struct {
	pictures.Arrival
	TooSmall []rules.Slot
	Rules    rules.Rules
}

// TwinSection is what the section is called that has the same file.
func (v arrivalView) TwinSection() string {
	section, _ := v.Rules.Section(v.Twin.Section)
	return cmp.Or(section.Title, v.Twin.Section)
}

// TooSmallFor names the slots that it has too few pixels for, as one reads it; empty
// where it has enough for all.
func (v arrivalView) TooSmallFor() string {
	names := make([]string, len(v.TooSmall))
	for i, slot := range v.TooSmall {
		names[i] = slot.Title
	}
	return words.Listed(names)
}

func (s *server) arrivalsRoutes(r chi.Router) {
	r.Get("/arrivals", s.arrivals)
	r.Get("/arrivals/count", s.arrivalsCount)
	r.Get("/arrivals/waiting", s.waiting)
	r.Post("/arrivals/send", s.send)
	r.Post("/arrivals/card", s.insertCard)
	r.Post("/arrivals/card/take", s.takeFromCard)
	r.Post("/pictures/{id}/pages", s.bringPages)
}

func (s *server) arrivals(w http.ResponseWriter, r *http.Request) {
	v, err := s.arrivalsView(r)
	if err != nil {
		s.fail(w, r, err)
		return
	}
	s.screen(w, r, "arrivals", "Arrivals", "arrivals", v)
}

func (s *server) arrivalsView(r *http.Request) (arrivalsView, error) {
	all := s.at(r).Rules()
	who := s.at(r).Who()
	v := arrivalsView{Rules: all, Slot: all.Slots[0].ID, Sections: ownSections(all, who)}
	if len(v.Sections) > 0 {
		v.Section = v.Sections[0].Code
	}
	if slot, ok := all.Slot(r.FormValue("slot")); ok {
		v.Slot = slot.ID
	}
	if section, ok := all.Section(r.FormValue("section")); ok && who.CanWork(section.Code) {
		v.Section = section.Code
	}
	waiting, err := s.at(r).Pictures.Waiting()
	if err != nil {
		return v, err
	}
	for _, a := range waiting {
		v.Waiting = append(v.Waiting, s.arrivalView(r, a))
	}
	if v.Card, err = s.at(r).Intake.Card(); err != nil {
		return v, err
	}
	v.Begin = func() ([]welcomeStep, error) { return s.leftOpen(r) }
	v.Binned, err = s.at(r).Pictures.Binned()
	return v, err
}

func (s *server) arrivalView(r *http.Request, a pictures.Arrival) arrivalView {
	return arrivalView{a, s.at(r).Pictures.TooSmallFor(a.Picture), s.at(r).Rules()}
}

// streamed gives the file that is the body of a request, as it is, and what it is
// called: its name comes percent-encoded in a header. A large one has time, to
// come and to be looked at.
func (s *server) streamed(w http.ResponseWriter, r *http.Request, unnamed string) (string, io.ReadCloser) {
	name, err := url.PathUnescape(r.Header.Get("X-File-Name"))
	if err != nil || name == "" {
		name = unnamed
	}
	line := http.NewResponseController(w)
	_ = line.SetReadDeadline(time.Now().Add(patience))
	_ = line.SetWriteDeadline(time.Now().Add(patience))
	return name, http.MaxBytesReader(w, r.Body, s.at(r).Rules().Limits.Bytes+1)
}

// arrive takes one file in.
func (s *server) arrive(w http.ResponseWriter, r *http.Request) {
	name, body := s.streamed(w, r, "the file")
	if r.ContentLength > s.at(r).Rules().Limits.Bytes {
		w.Header().Set("Connection", "close")
		s.fail(w, r, s.at(r).TooLarge(name))
		return
	}
	section := r.URL.Query().Get("section")
	if own := ownSections(s.at(r).Rules(), s.at(r).Who()); section == "" && len(own) > 0 {
		section = own[0].Code
	}
	came, err := s.at(r).Landing.Arrive(name, body, section)
	switch {
	case err != nil:
		s.fail(w, r, err)
	case came.File != nil:
		w.Header().Set("X-Kept", "file") // it waits for nothing
		s.part(w, "arrivals", "kept-file", came.File)
	default:
		s.part(w, "arrivals", "arrival", s.arrivalView(r, *came.Picture))
	}
}

// arrivalsCount redraws the line after a picture came in.
func (s *server) arrivalsCount(w http.ResponseWriter, r *http.Request) {
	counts, err := s.at(r).Pages.Counts()
	if err != nil {
		s.fail(w, r, err)
		return
	}
	s.part(w, "arrivals", "line", frame{Station: "arrivals", Counts: counts, Who: s.at(r).Who()})
}

// send gives the chosen arrivals what was said of all of them, sends them to the
// bench and goes there.
func (s *server) send(w http.ResponseWriter, r *http.Request) {
	ids := chosen(r)
	a := bench.Assignment{Slot: r.FormValue("slot"), Section: r.FormValue("section"), Folder: r.FormValue("folder"), Subject: r.FormValue("subject"),
		Credit: r.FormValue("credit"), Tags: strings.Split(r.FormValue("tags"), ",")}
	if err := s.at(r).Bench.Send(ids, a); err != nil {
		s.fail(w, r, err)
		return
	}
	s.goOn(w, r, fmt.Sprintf("/bench/%d", ids[len(ids)-1]))
}

// waiting gives the rows of what waits, and the card, drawn anew.
func (s *server) waiting(w http.ResponseWriter, r *http.Request) {
	v, err := s.arrivalsView(r)
	if err != nil {
		s.fail(w, r, err)
		return
	}
	s.part(w, "arrivals", "waiting-again", v)
}

func (s *server) insertCard(w http.ResponseWriter, r *http.Request) {
	if err := s.at(r).Intake.InsertCard(r.FormValue("in") == "yes"); err != nil {
		s.fail(w, r, err)
		return
	}
	s.goOn(w, r, "/arrivals")
}

func (s *server) takeFromCard(w http.ResponseWriter, r *http.Request) {
	if err := r.ParseForm(); err != nil {
		s.fail(w, r, &access.Refusal{Kind: access.Bad, What: "Part of the form was lost on the way.", Next: "Send it again.", Err: err})
		return
	}
	job, err := s.at(r).Intake.TakeFromCard(r.Form["file"], r.FormValue("section"))
	if err != nil {
		s.fail(w, r, err)
		return
	}
	s.part(w, "arrivals", "card-job", job.Progress())
}

// bringPages brings the other pages of a file in.
func (s *server) bringPages(w http.ResponseWriter, r *http.Request) {
	job, err := s.at(r).Intake.BringPages(id(r))
	if err != nil {
		s.fail(w, r, err)
		return
	}
	s.part(w, "arrivals", "card-job", job.Progress())
}

func (s *server) throwAway(w http.ResponseWriter, r *http.Request) {
	if err := s.at(r).Shelves.ThrowAway(id(r)); err != nil {
		s.fail(w, r, err)
		return
	}
	s.goOn(w, r, "/arrivals")
}

func (s *server) bringBack(w http.ResponseWriter, r *http.Request) {
	if err := s.at(r).Shelves.BringBack(id(r)); err != nil {
		s.fail(w, r, err)
		return
	}
	s.goOn(w, r, "/arrivals")
}

// goOn leads to another screen, whoever asked.
func (s *server) goOn(w http.ResponseWriter, r *http.Request, to string) {
	if fromHTMX(r) {
		w.Header().Set("HX-Redirect", to)
		return
	}
	http.Redirect(w, r, to, http.StatusSeeOther)
}

// ownSections are the sections that a person works for.
func ownSections(r rules.Rules, who access.Person) []rules.Section {
	var own []rules.Section
	for _, section := range r.Sections {
		if who.CanWork(section.Code) {
			own = append(own, section)
		}
	}
	return own
}
