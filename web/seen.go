package web

import (
	"net/http"

	"mivlet/core/consent"
	"mivlet/desk/access"
	"mivlet/desk/pictures"
	"mivlet/store"
)

// seenView is one person on a picture, as the bench lists them.
type seenView struct {
	consent.Entry
	Mark    string
	Covered bool
	Ended   bool
}

// Persons lists who is noted to be seen on the picture.
func (v benchView) Persons() []seenView { return persons(v.Picture, v.Today) }

// Persons lists them on the card.
func (v cardView) Persons() []seenView { return persons(v.Picture, v.Today) }

func persons(p store.Picture, today string) []seenView {
	var all []seenView
	veils := p.Work.Recipe.VeilIDs()
	for _, e := range p.Consents {
		all = append(all, seenView{e, pictures.ConsentMark(e), e.Covered(veils), e.Ended(today)})
	}
	return all
}

// SeenMark is the mark of the step: stop where somebody keeps the picture from going
// live, hint while nobody is noted.
func (v benchView) SeenMark() string {
	mark := "hint"
	for _, one := range v.Persons() {
		if one.Binds() {
			return "stop"
		}
		mark = "ok"
	}
	return mark
}

// NobodySeen is what the form for a further person begins with.
func (benchView) NobodySeen() consent.Entry { return consent.Entry{State: consent.Refused} }

// Covers reports whether a veil is said to cover the person.
func (v seenView) Covers(veil string) bool {
	for _, id := range v.Veils {
		if id == veil {
			return true
		}
	}
	return false
}

// Binds reports whether the entry keeps the picture from going live.
func (v seenView) Binds() bool { return (v.State == consent.Refused || v.Ended) && !v.Covered }

// Title says in a few words what is known of the person.
func (v seenView) Title() string {
	switch {
	case v.State == consent.Nobody:
		return "Nobody can be recognised"
	case v.State == consent.Refused && v.Covered:
		return v.Whom + ": refused, and is covered"
	case v.State == consent.Refused:
		return v.Whom + ": refused"
	case v.State == consent.Unasked:
		return v.Whom + ": not asked yet"
	case v.Ended:
		return v.Whom + ": agreed until " + v.Until
	}
	return v.Whom + ": agreed"
}

// setConsent notes who is seen, or changes a note.
func (s *server) setConsent(w http.ResponseWriter, r *http.Request) {
	if err := r.ParseForm(); err != nil {
		s.fail(w, r, &access.Refusal{Kind: access.Bad, What: "Part of the form was lost on the way.", Next: "Send it again.", Err: err})
		return
	}
	e := consent.Entry{ID: r.FormValue("entry"), Whom: r.FormValue("whom"), State: consent.State(r.FormValue("state")), Until: r.FormValue("until"), Note: r.FormValue("note"), Veils: r.Form["veil"]}
	s.changed(w, r, s.at(r).Pictures.SetConsent(id(r), r.FormValue("mark"), e, r.FormValue("why")))
}

func (s *server) dropConsent(w http.ResponseWriter, r *http.Request) {
	s.changed(w, r, s.at(r).Pictures.DropConsent(id(r), r.FormValue("entry"), r.FormValue("mark"), r.FormValue("why")))
}
