package web

import (
	"net/http"
	"strings"

	"mivlet/core/rules"
	"mivlet/desk/access"
)

// welcomeView is the first screen of a new house.
type welcomeView struct {
	House string
	Width int
	Kinds []rules.Ready
}

// welcome asks the first keeper for what makes the house theirs. All of it are house rules, and can
// be changed there later.
func (s *server) welcome(w http.ResponseWriter, r *http.Request) {
	if !s.at(r).Who().Keeper {
		http.Redirect(w, r, "/arrivals", http.StatusSeeOther)
		return
	}
	now := s.at(r).Rules()
	name := now.House
	if name == rules.Default().House {
		name = "" // nobody has named it yet
	}
	s.screen(w, r, "welcome", "Welcome", "", welcomeView{name, now.TextWidth(), rules.ReadyMade()})
}

// beginHouse makes the answers the rules that hold, and goes on to the first picture.
func (s *server) beginHouse(w http.ResponseWriter, r *http.Request) {
	d := s.at(r)
	next, ok := readyMade(r.FormValue("kind"))
	if !ok {
		s.fail(w, r, &access.Refusal{Kind: access.Bad, What: "No kind of house is chosen.", Next: "Choose the one that is nearest. Nothing is fixed by it."})
		return
	}
	err := d.House.ChangeRules(func(now rules.Rules) (rules.Rules, error) {
		next.House = now.House
		if now.House != rules.Default().House { // what is the house's own stays
			next.Sections = now.Sections
		}
		if name := strings.TrimSpace(r.FormValue("house")); name != "" {
			next.House = name
		}
		return next.WithTextWidth(whole(r, "width", next.TextWidth()))
	})
	if err == nil {
		err = s.applyAnswers(r)
	}
	if err != nil {
		s.fail(w, r, err)
		return
	}
	s.goOn(w, r, "/arrivals")
}

// applyAnswers makes the draft of the rules hold, where the answers change any.
func (s *server) applyAnswers(r *http.Request) error {
	d := s.at(r)
	draft, err := d.House.RulesDraft()
	if err != nil || len(draft.Changes) == 0 {
		return err
	}
	_, err = d.House.ApplyRules("The house begins")
	return err
}
