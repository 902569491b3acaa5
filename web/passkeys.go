package web

import (
	"encoding/json"
	"fmt"
	"net/http"

	"github.com/go-chi/chi/v5"
)

// passkeyRoutes are the passkeys of one's own account.
func (s *server) passkeyRoutes(r chi.Router) {
	r.Post("/account/passkeys/question", s.beginPasskey)
	r.Post("/account/passkeys", s.addPasskey)
	r.Post("/account/passkeys/{id}/remove", s.removePasskey)
}

// origin is what the browser calls this server, such as https://mivlet.club.example.
func (s *server) origin(r *http.Request) string { return s.address(r, "") }

// asks tells a browser what it has to hand to a device.
func asks(w http.ResponseWriter, question any) {
	w.Header().Set("Content-Type", "application/json")
	w.Header().Set("Cache-Control", "no-store")
	_ = json.NewEncoder(w).Encode(question) // whoever asked has gone
}

// askPasskey asks for a passkey at the door.
func (s *server) askPasskey(w http.ResponseWriter, r *http.Request) {
	q, err := s.at(r).Passkeys.Ask(s.origin(r))
	if err != nil {
		s.fail(w, r, err)
		return
	}
	asks(w, q)
}

func (s *server) passkeySignIn(w http.ResponseWriter, r *http.Request) {
	who, err := s.at(r).Passkeys.SignIn(r.FormValue("ticket"), []byte(r.FormValue("answer")), fromWhere(r))
	switch {
	case err == nil:
		s.enter(w, r, who, r.FormValue("next"))
	case fromHTMX(r):
		s.fail(w, r, err)
	default:
		s.refuseAtDoor(w, r, err, doorView{Next: r.FormValue("next")})
	}
}

func (s *server) beginPasskey(w http.ResponseWriter, r *http.Request) {
	q, err := s.at(r).Passkeys.Begin(s.origin(r), r.FormValue("password"))
	if err != nil {
		s.fail(w, r, err)
		return
	}
	asks(w, q)
}

func (s *server) addPasskey(w http.ResponseWriter, r *http.Request) {
	if err := s.at(r).Passkeys.Add(r.FormValue("ticket"), []byte(r.FormValue("answer")), r.UserAgent()); err != nil {
		s.fail(w, r, err)
		return
	}
	w.WriteHeader(http.StatusNoContent)
}

func (s *server) removePasskey(w http.ResponseWriter, r *http.Request) {
	if err := s.at(r).Passkeys.Remove(id(r)); err != nil {
		s.fail(w, r, err)
		return
	}
	s.goOn(w, r, "/account")
}

// dropPasskeysOf takes all passkeys of somebody away who has lost a device.
func (s *server) dropPasskeysOf(w http.ResponseWriter, r *http.Request) {
	if err := s.at(r).Passkeys.DropOf(id(r)); err != nil {
		s.fail(w, r, err)
		return
	}
	s.goOn(w, r, fmt.Sprintf("/people?person=%d", id(r)))
}
