package web

import (
	"encoding/csv"
	"fmt"
	"net/http"
	"net/url"
	"time"

	"github.com/go-chi/chi/v5"

	"mivlet/core/rules"
	"mivlet/desk/access"
	"mivlet/desk/people"
	"mivlet/store"
)

func (s *server) peopleRoutes(r chi.Router) {
	r.Get("/people", s.people)
	s.providerRoutes(r)
	r.Post("/people", s.saveAccount)
	r.Post("/people/{id}/invite", s.invite)
	r.Get("/trail", s.trail)
	r.Get("/help", s.showHelp)
	r.Get("/trail.csv", s.trailCSV)
	r.Post("/people/{id}/second/remove", s.dropSecondOf)
	r.Post("/people/{id}/passkeys/remove", s.dropPasskeysOf)
	s.accountRoutes(r)
}

// peopleView is the list of people, with the one whose account is open.
type peopleView struct {
	People   []store.Person
	Sections []rules.Section
	Open     *store.Person
	Passkeys int // that the one has whose account is open
	New      bool
}

// Role is what a person may do in a section.
func (v peopleView) Role(p store.Person, section string) string {
	for _, r := range p.Roles {
		if r.Section == section {
			return r.Role
		}
	}
	return ""
}

func (s *server) people(w http.ResponseWriter, r *http.Request) {
	all, err := s.at(r).People.People()
	if err != nil {
		s.fail(w, r, err)
		return
	}
	v := peopleView{People: all, Sections: s.at(r).Rules().Sections}
	if asked := r.FormValue("person"); asked == "new" {
		v.Open, v.New = &store.Person{}, true
	} else {
		for _, p := range all {
			if p.ID == number(asked) {
				v.Open = &p
			}
		}
	}
	if v.Open != nil && !v.New {
		keys, err := s.at(r).Passkeys.Of(v.Open.ID)
		if err != nil {
			s.fail(w, r, err)
			return
		}
		v.Passkeys = len(keys)
	}
	s.screen(w, r, "people", "People", "", v)
}

func (s *server) saveAccount(w http.ResponseWriter, r *http.Request) {
	a := people.Account{ID: number(r.FormValue("id")), Name: r.FormValue("name"), Login: r.FormValue("login"), Password: r.FormValue("password"),
		Keeper: r.FormValue("keeper") != "", Away: r.FormValue("away") != "", Roles: map[string]access.Role{}}
	for _, section := range s.at(r).Rules().Sections {
		a.Roles[section.Code] = access.Role(r.FormValue("role-" + section.Code))
	}
	id, err := s.at(r).People.SaveAccount(a)
	if err != nil {
		s.fail(w, r, err)
		return
	}
	if a.ID == 0 && a.Password == "" { // an invitation is next
		s.goOn(w, r, fmt.Sprintf("/people?person=%d", id))
		return
	}
	s.goOn(w, r, "/people")
}

// invitation is what is told of one, once.
type invitation struct {
	Address string
	Until   time.Time
}

// invite tells the address of an invitation, which is shown this once.
func (s *server) invite(w http.ResponseWriter, r *http.Request) { s.tellInvitation(w, r, id(r)) }

func (s *server) tellInvitation(w http.ResponseWriter, r *http.Request, person uint) {
	code, until, err := s.at(r).People.Invite(person)
	if err != nil {
		s.fail(w, r, err)
		return
	}
	s.write(w, "people", "invitation", http.StatusOK, invitation{s.address(r, "/join") + "?" + url.Values{"code": {code}}.Encode(), until})
}

// trailView is who did what.
type trailView struct {
	Traces   []store.Trace
	People   []store.Person
	Sections []rules.Section
	Filter   store.TrailFilter
	Older    uint // where the next, older, entries begin; 0 where none are left
}

const tracesShown = 100

func trailFilter(r *http.Request) store.TrailFilter {
	return store.TrailFilter{Person: r.FormValue("person"), Section: r.FormValue("section"), Before: number(r.FormValue("before"))}
}

func (s *server) trail(w http.ResponseWriter, r *http.Request) {
	f := trailFilter(r)
	f.Most = tracesShown
	traces, err := s.at(r).People.Trail(f)
	if err != nil {
		s.fail(w, r, err)
		return
	}
	people, err := s.at(r).People.People()
	if err != nil {
		s.fail(w, r, err)
		return
	}
	v := trailView{Traces: traces, People: people, Sections: s.at(r).Rules().Sections, Filter: f}
	if len(traces) == tracesShown {
		v.Older = traces[len(traces)-1].ID
	}
	s.screen(w, r, "trail", "Trail", "", v)
}

// trailCSV gives the whole trail (RFC 4180).
func (s *server) trailCSV(w http.ResponseWriter, r *http.Request) {
	traces, err := s.at(r).People.Trail(trailFilter(r))
	if err != nil {
		s.fail(w, r, err)
		return
	}
	w.Header().Set("Content-Type", "text/csv; charset=utf-8; header=present")
	w.Header().Set("Content-Disposition", `attachment; filename="trail.csv"`)
	out := csv.NewWriter(w)
	out.UseCRLF = true
	_ = out.Write([]string{"when", "who", "section", "what"})
	for _, t := range traces {
		_ = out.Write([]string{t.At.UTC().Format(time.RFC3339), plainCell(t.Person), t.Section, plainCell(t.What)})
	}
	out.Flush()
}

// plainCell keeps a spreadsheet from taking words for a formula (common
// practice).
func plainCell(s string) string {
	if s != "" && (s[0] == '=' || s[0] == '+' || s[0] == '-' || s[0] == '@') {
		return "'" + s
	}
	return s
}

// dropSecondOf takes the second step of somebody away who has lost what makes the codes.
func (s *server) dropSecondOf(w http.ResponseWriter, r *http.Request) {
	if err := s.at(r).People.DropSecondOf(id(r)); err != nil {
		s.fail(w, r, err)
		return
	}
	s.goOn(w, r, fmt.Sprintf("/people?person=%d", id(r)))
}
