package web

import (
	"errors"
	"net/http"
	"slices"
	"strings"

	"mivlet/core/audit"
	"mivlet/desk/landing"
	"mivlet/desk/pictures"
)

// finishing is what the panel of a picture asks of whoever has just brought it in.
type finishing struct {
	pictures.Item
	Proposed string // the name that the house would give it as it is described now
	Refused  *pictures.NameRefusal
}

// Others are what it lacks beside its words and its name.
func (f finishing) Others() []audit.Finding {
	return slices.DeleteFunc(slices.Clone(f.Lacks), func(a audit.Finding) bool {
		return a.Step == audit.Describe || a.Step == audit.Name
	})
}

// finishing is the form for a picture that lacks something where it stands.
func (s *server) finishing(r *http.Request, item pictures.Item, refused *pictures.NameRefusal) (*finishing, error) {
	proposal, err := s.at(r).Pictures.Propose(item.Picture, "")
	return &finishing{item, proposal.Name, refused}, err
}

// finish names and describes a picture where it stands, and opens the next one that lacks
// something.
func (s *server) finish(w http.ResponseWriter, r *http.Request) {
	at := landing.Place{Block: r.FormValue("block"), Nth: whole(r, "nth", 0)}
	next, err := s.at(r).Landing.Finish(id(r), at, strings.TrimSpace(r.FormValue("alt")), strings.TrimSpace(r.FormValue("name")))
	var refused *pictures.NameRefusal
	show := showing{}
	switch {
	case errors.As(err, &refused):
		err, show.refused = nil, refused
		show.open = opened(at.Block, at.Nth)
	case next != nil:
		show.open = opened(next.Block, next.Nth)
	}
	s.pageChangedTo(w, r, err, show)
}
