package web

import (
	"fmt"
	"net/http"
	"net/url"
	"time"

	"mivlet/core/rules"
	"mivlet/desk"
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
}

// arrivalView is one picture that waits.
type arrivalView struct {
	desk.Arrival
	TooSmall []rules.Slot
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
	waiting, err := s.at(r).Waiting()
	if err != nil {
		return v, err
	}
	for _, a := range waiting {
		v.Waiting = append(v.Waiting, s.arrivalView(r, a))
	}
	v.Binned, err = s.at(r).Binned()
	return v, err
}

func (s *server) arrivalView(r *http.Request, a desk.Arrival) arrivalView {
	return arrivalView{a, s.at(r).TooSmallFor(a.Picture)}
}

// arrive takes one file in from the body of the request, as it is. Its name
// comes percent-encoded in a header.
func (s *server) arrive(w http.ResponseWriter, r *http.Request) {
	limit := s.at(r).Rules().Limits.Bytes
	name, err := url.PathUnescape(r.Header.Get("X-File-Name"))
	if err != nil || name == "" {
		name = "the file"
	}
	if r.ContentLength > limit {
		w.Header().Set("Connection", "close")
		s.fail(w, r, s.at(r).TooLarge(name))
		return
	}
	line := http.NewResponseController(w)
	_ = line.SetReadDeadline(time.Now().Add(patience))
	_ = line.SetWriteDeadline(time.Now().Add(patience))
	section := r.URL.Query().Get("section")
	if own := ownSections(s.at(r).Rules(), s.at(r).Who()); section == "" && len(own) > 0 {
		section = own[0].Code
	}
	a, err := s.at(r).Arrive(name, http.MaxBytesReader(w, r.Body, limit+1), section)
	if err != nil {
		s.fail(w, r, err)
		return
	}
	s.part(w, "arrivals", "arrival", s.arrivalView(r, a))
}

// arrivalsCount redraws the line after a picture came in.
func (s *server) arrivalsCount(w http.ResponseWriter, r *http.Request) {
	counts, err := s.at(r).Counts()
	if err != nil {
		s.fail(w, r, err)
		return
	}
	s.part(w, "arrivals", "line", frame{Station: "arrivals", Counts: counts, Who: s.at(r).Who()})
}

// send sends the chosen arrivals to the bench and goes there.
func (s *server) send(w http.ResponseWriter, r *http.Request) {
	var ids []uint
	if err := r.ParseForm(); err != nil {
		s.fail(w, r, &desk.Refusal{Kind: desk.Bad, What: "That form did not arrive whole.", Next: "Send it again.", Err: err})
		return
	}
	for _, v := range r.Form["picture"] {
		ids = append(ids, number(v))
	}
	if err := s.at(r).ToBench(ids, r.FormValue("slot"), r.FormValue("section")); err != nil {
		s.fail(w, r, err)
		return
	}
	s.goOn(w, r, fmt.Sprintf("/bench/%d", ids[len(ids)-1]))
}

func (s *server) throwAway(w http.ResponseWriter, r *http.Request) {
	if err := s.at(r).ThrowAway(id(r)); err != nil {
		s.fail(w, r, err)
		return
	}
	s.goOn(w, r, "/arrivals")
}

func (s *server) bringBack(w http.ResponseWriter, r *http.Request) {
	if err := s.at(r).BringBack(id(r)); err != nil {
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
func ownSections(r rules.Rules, who desk.Person) []rules.Section {
	var own []rules.Section
	for _, section := range r.Sections {
		if who.CanWork(section.Code) {
			own = append(own, section)
		}
	}
	return own
}
