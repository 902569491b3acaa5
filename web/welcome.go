package web

import (
	"fmt"
	"net/http"
	"slices"
	"strings"

	"mivlet/core/rules"
	"mivlet/desk/access"
	"mivlet/desk/house"
	"mivlet/desk/people"
	"mivlet/store"
)

// welcomeStep is one of the steps in which a house begins. All that they ask can be changed later.
type welcomeStep struct {
	N     int
	Title string
	Done  bool
	Here  bool
}

// welcomeView is a step of the walk in which a new house begins.
type welcomeView struct {
	Steps    []welcomeStep
	Step     int
	House    string
	Language string
	Zone     string
	Width    int
	Kinds    []rules.Ready
	Sections []rules.Section
	People   []store.Person
}

// Next is the step after this one, which skipping leads to; 0 after the last.
func (v welcomeView) Next() int {
	if v.Step < len(v.Steps) {
		return v.Step + 1
	}
	return 0
}

// What the versions of the rules say that the steps make; by these they are found again.
const (
	whyHouse  = "The house begins"
	whyColumn = "The house begins: its column"
	whyParts  = "The house begins: its sections"
)

// beginning tells which steps of the walk are done.
func (s *server) beginning(r *http.Request) ([]welcomeStep, error) {
	d := s.at(r)
	versions, err := d.House.RulesVersions()
	if err != nil {
		return nil, err
	}
	all, err := d.People.People()
	if err != nil {
		return nil, err
	}
	began := func(why string) bool {
		return slices.ContainsFunc(versions, func(v store.RulesVersion) bool { return v.Why == why })
	}
	return []welcomeStep{
		{N: 1, Title: "Who keeps it", Done: true},
		{N: 2, Title: "What it is", Done: began(whyHouse)},
		{N: 3, Title: "Its column", Done: began(whyColumn)},
		{N: 4, Title: "Sections and people", Done: len(all) > 1 || began(whyParts)},
	}, nil
}

// welcome asks the first keeper for what makes the house theirs, in steps that can be skipped and
// taken up again. All of it are house rules and accounts.
func (s *server) welcome(w http.ResponseWriter, r *http.Request) {
	d := s.at(r)
	if !d.Who().Keeper {
		http.Redirect(w, r, "/arrivals", http.StatusSeeOther)
		return
	}
	steps, err := s.beginning(r)
	if err != nil {
		s.fail(w, r, err)
		return
	}
	now := d.Rules()
	v := welcomeView{Steps: steps, House: now.House, Language: now.Words.Language, Zone: now.TimeZone, Width: now.TextWidth(), Kinds: rules.ReadyMade(), Sections: now.Sections}
	if v.House == rules.Default().House {
		v.House = "" // nobody has named it yet
	}
	v.Step = whole(r, "step", 0)
	if v.Step < 2 || v.Step > len(steps) {
		v.Step = 2
		if i := slices.IndexFunc(steps, func(x welcomeStep) bool { return !x.Done }); i >= 0 {
			v.Step = i + 1
		}
	}
	v.Steps[v.Step-1].Here = true
	if v.Step == len(steps) {
		if v.People, err = d.People.People(); err != nil {
			s.fail(w, r, err)
			return
		}
	}
	s.screen(w, r, "welcome", "Welcome", "", v)
}

// beginHouse makes what a step asked the rules that hold, and goes on to the next.
func (s *server) beginHouse(w http.ResponseWriter, r *http.Request) {
	if whole(r, "step", 2) == 3 {
		s.beginRules(w, r, whyColumn, "/welcome?step=4", func(now rules.Rules) (rules.Rules, error) {
			return now.WithTextWidth(whole(r, "width", now.TextWidth()))
		})
		return
	}
	if whole(r, "step", 2) == 4 {
		s.beginRules(w, r, whyParts, "/welcome?step=4", func(now rules.Rules) (rules.Rules, error) {
			titles := map[string]string{}
			for _, section := range now.Sections {
				if _, asked := r.Form["section-"+section.Code]; asked {
					titles[section.Code] = r.FormValue("section-" + section.Code)
				}
			}
			return now.WithSectionTitles(titles, r.Form["more"])
		})
		return
	}
	next, ok := readyMade(r.FormValue("kind"))
	if !ok {
		s.fail(w, r, &access.Refusal{Kind: access.Bad, What: "No kind of house is chosen.", Next: "Choose the one that is nearest. Nothing is fixed by it."})
		return
	}
	s.beginRules(w, r, whyHouse, "/welcome?step=3", func(now rules.Rules) (rules.Rules, error) {
		next.House = now.House
		if now.House != rules.Default().House { // what is the house's own stays
			next.Sections = now.Sections
		}
		if name := strings.TrimSpace(r.FormValue("house")); name != "" {
			next.House = name
		}
		if language := strings.TrimSpace(r.FormValue("language")); language != "" {
			next.Words.Language = language
		}
		next.TimeZone = strings.TrimSpace(r.FormValue("zone"))
		return next, nil
	})
}

// beginRules has a change of the rules hold at once.
func (s *server) beginRules(w http.ResponseWriter, r *http.Request, why, to string, change func(rules.Rules) (rules.Rules, error)) {
	d := s.at(r)
	err := d.House.ChangeRules(change)
	var draft house.RulesDraft
	if err == nil {
		draft, err = d.House.RulesDraft()
	}
	if err == nil && len(draft.Changes) == 0 {
		err = d.House.ConfirmRules(why)
	} else if err == nil {
		_, err = d.House.ApplyRules(why)
	}
	if err != nil {
		s.fail(w, r, err)
		return
	}
	s.goOn(w, r, to)
}

// inviteFirst makes an account for somebody who keeps pages of all sections, and tells the address
// of an invitation.
func (s *server) inviteFirst(w http.ResponseWriter, r *http.Request) {
	d := s.at(r)
	a := people.Account{Name: r.FormValue("name"), Login: r.FormValue("login"), Keeper: r.FormValue("role") == "keeper", Roles: map[string]access.Role{}}
	for _, section := range d.Rules().Sections {
		if !a.Keeper {
			a.Roles[section.Code] = access.Role(r.FormValue("role"))
		}
	}
	made, err := d.People.SaveAccount(a)
	if err != nil {
		s.fail(w, r, err)
		return
	}
	s.tellInvitation(w, r, made)
}

// leftOpen are the steps that were skipped, for a keeper.
func (s *server) leftOpen(r *http.Request) ([]welcomeStep, error) {
	if !s.at(r).Who().Keeper {
		return nil, nil
	}
	steps, err := s.beginning(r)
	return slices.DeleteFunc(steps, func(x welcomeStep) bool { return x.Done }), err
}

// firstPage begins the first page of a house, empty, and opens it; where there are pages, it leads
// to them.
func (s *server) firstPage(w http.ResponseWriter, r *http.Request) {
	d := s.at(r)
	some, err := d.Pages.PageTitles(0)
	if err != nil {
		s.fail(w, r, err)
		return
	}
	if len(some) > 0 {
		s.goOn(w, r, "/pages")
		return
	}
	id, err := d.Pages.NewPage(d.Rules().Sections[0].Code, "Our first page", "empty")
	if err != nil {
		s.fail(w, r, err)
		return
	}
	s.goOn(w, r, fmt.Sprintf("/pages/%d", id))
}
