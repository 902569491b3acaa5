package web

import (
	"bytes"
	"net/http"
	"time"

	"github.com/go-chi/chi/v5"

	"mivlet/core/rules"
	"mivlet/store"
)

// accountRoutes are one's own account.
func (s *server) accountRoutes(r chi.Router) {
	r.Get("/account", s.account)
	r.Post("/account/password", s.setPassword)
	r.Post("/account/sign-out-everywhere", s.signOutEverywhere)
	r.Post("/account/sessions/{id}/end", s.endSession)
	r.Get("/account/second", s.secondSetup)
	r.Get("/account/second.png", s.secondQR)
	r.Post("/account/second", s.confirmSecond)
	r.Post("/account/second/remove", s.dropSecond)
	s.passkeyRoutes(r)
}

// accountView is one's own account.
type accountView struct {
	Own      store.Person
	Sections []rules.Section
	Sessions []store.SignedIn
	Passkeys []store.Passkey
	Secret   string   // of a second step that is being set up
	Spare    []string // codes, told this once
}

func (s *server) account(w http.ResponseWriter, r *http.Request) { s.showAccount(w, r, accountView{}) }

func (s *server) showAccount(w http.ResponseWriter, r *http.Request, v accountView) {
	d := s.at(r)
	var err error
	if v.Own, err = d.People.Own(); err == nil {
		v.Sessions, err = d.People.OwnSessions()
	}
	if err == nil {
		v.Passkeys, err = d.Passkeys.Own()
	}
	if err != nil {
		s.fail(w, r, err)
		return
	}
	v.Sections = d.Rules().Sections
	s.screen(w, r, "account", "Your account", "", v)
}

func (s *server) setPassword(w http.ResponseWriter, r *http.Request) {
	who, err := s.at(r).People.SetOwnPassword(r.FormValue("old"), r.FormValue("password"))
	if err == nil {
		err = s.remember(r, who)
	}
	if err != nil {
		s.fail(w, r, err)
		return
	}
	s.goOn(w, r, "/account")
}

func (s *server) signOutEverywhere(w http.ResponseWriter, r *http.Request) {
	if err := s.at(r).People.SignOutEverywhere(); err != nil {
		s.fail(w, r, err)
		return
	}
	s.signOut(w, r)
}

func (s *server) endSession(w http.ResponseWriter, r *http.Request) {
	if err := s.at(r).People.EndSession(id(r)); err != nil {
		s.fail(w, r, err)
		return
	}
	s.goOn(w, r, "/account")
}

// secondSetup shows what a device needs to make codes.
func (s *server) secondSetup(w http.ResponseWriter, r *http.Request) {
	setup, err := s.at(r).People.BeginSecond()
	if err != nil {
		s.fail(w, r, err)
		return
	}
	s.showAccount(w, r, accountView{Secret: setup.Secret})
}

// secondQR is the same as a picture. Nobody keeps it.
func (s *server) secondQR(w http.ResponseWriter, r *http.Request) {
	setup, err := s.at(r).People.BeginSecond()
	if err != nil {
		s.fail(w, r, err)
		return
	}
	w.Header().Set("Content-Type", "image/png")
	w.Header().Set("Cache-Control", "no-store")
	http.ServeContent(w, r, "", time.Time{}, bytes.NewReader(setup.QR))
}

// confirmSecond has it hold, and tells the spare codes.
func (s *server) confirmSecond(w http.ResponseWriter, r *http.Request) {
	spare, err := s.at(r).People.ConfirmSecond(r.FormValue("code"))
	if err != nil {
		s.fail(w, r, err)
		return
	}
	s.write(w, "account", "spare-codes", http.StatusOK, spare)
}

func (s *server) dropSecond(w http.ResponseWriter, r *http.Request) {
	if err := s.at(r).People.DropSecond(r.FormValue("password")); err != nil {
		s.fail(w, r, err)
		return
	}
	s.goOn(w, r, "/account")
}
