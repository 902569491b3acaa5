package web

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"net"
	"net/http"
	"net/url"
	"strings"
	"time"

	"github.com/alexedwards/scs/v2"
	"github.com/alexedwards/scs/v2/memstore"
	"github.com/go-chi/chi/v5"

	"mivlet/desk"
	"mivlet/desk/access"
	"mivlet/desk/people"
)

// newSessions keeps sessions for two weeks, and ends one that nobody used for
// four days.
func newSessions(store scs.Store, secure bool, base string) *scs.SessionManager {
	m := scs.New()
	m.Codec = numbers{}
	m.Lifetime = people.SessionEnds
	m.IdleTimeout = 4 * 24 * time.Hour
	m.Cookie.Name = "mivlet"
	if secure { // bound to this very host and to TLS (RFC 6265bis, 4.1.3.2, memory)
		m.Cookie.Name, m.Cookie.Secure = "__Host-mivlet", true
	}
	m.Cookie.Name += strings.ReplaceAll(base, "/", ".") // another house may lie on the same host
	m.Cookie.SameSite = http.SameSiteLaxMode
	m.Store = store
	if store == nil {
		m.Store = memstore.New()
	}
	return m
}

// numbers writes what a session holds, which is numbers alone, always in the same form:
// one that has not changed can be told from one that has.
type numbers struct{}

type numbersForm struct {
	Deadline time.Time      `json:"deadline"`
	Values   map[string]int `json:"values"`
}

// Encode writes a session.
func (numbers) Encode(deadline time.Time, values map[string]any) ([]byte, error) {
	f := numbersForm{deadline.UTC(), map[string]int{}}
	for k, v := range values {
		n, ok := v.(int)
		if !ok {
			return nil, fmt.Errorf("a session holds numbers, and %s is none", k)
		}
		f.Values[k] = n
	}
	return json.Marshal(f)
}

// Decode reads a session.
func (numbers) Decode(data []byte) (time.Time, map[string]any, error) {
	var f numbersForm
	if err := json.Unmarshal(data, &f); err != nil {
		return time.Time{}, nil, err
	}
	values := make(map[string]any, len(f.Values))
	for k, n := range f.Values {
		values[k] = n
	}
	return f.Deadline, values, nil
}

type deskKey struct{}

// identify gives every request the desk of whoever asks: nobody's where no
// session, or an ended one, comes along.
func (s *server) identify(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		var who access.Person
		if id := s.sessions.GetInt(r.Context(), "person"); id > 0 {
			p, ok, err := s.house.People.Continues(uint(id), s.sessions.GetInt(r.Context(), "epoch"), uint(s.sessions.GetInt(r.Context(), "session")))
			if err == nil && ok && p.Session() == 0 {
				p, err = s.number(r, p)
			}
			if err != nil {
				s.fail(w, r, err)
				return
			}
			if ok {
				who = p
			}
		}
		next.ServeHTTP(w, r.WithContext(context.WithValue(r.Context(), deskKey{}, s.house.As(who).In(r.Context()))))
	})
}

// at returns the desk of whoever asks.
func (s *server) at(r *http.Request) *desk.Desk {
	if d, ok := r.Context().Value(deskKey{}).(*desk.Desk); ok {
		return d
	}
	return s.house.As(access.Person{}).In(r.Context())
}

// signedIn leads those whom nobody knows to the door. A request that carries
// something typed is answered so that the screen can ask for the sign-in on the
// spot and send it again.
func (s *server) signedIn(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if s.at(r).Who().Known() {
			next.ServeHTTP(w, r)
			return
		}
		if fromHTMX(r) || r.Method != http.MethodGet {
			s.fail(w, r, &access.Refusal{Kind: access.SignIn, What: "You are not signed in any more.", Next: "Sign in, and it goes on; what you typed is kept."})
			return
		}
		http.Redirect(w, r, "/sign-in?next="+url.QueryEscape(r.URL.RequestURI()), http.StatusSeeOther)
	})
}

func (s *server) doorRoutes(r chi.Router) {
	r.Get("/sign-in", s.door)
	r.Post("/sign-in", s.signIn)
	r.Post("/sign-in/demo", s.demoSignIn)
	r.Post("/sign-in/code", s.secondStep)
	r.Post("/sign-in/passkey/question", s.askPasskey)
	r.Post("/sign-in/passkey", s.passkeySignIn)
	s.providerDoor(r)
	r.Post("/sign-out", s.signOut)
	r.Get("/first", s.first)
	r.Post("/first", s.firstKeeper)
	r.Get("/join", s.join)
	r.Post("/join", s.joined)
}

// doorView is the sign-in.
type doorView struct {
	People   []access.Person // of the demo
	Login    string
	Name     string
	Next     string
	Wrong    string
	Ticket   string // of somebody who has given their password, and is asked for a code
	Passkeys bool   // somebody has one, and they can be used at this address
	Via      string // whose accounts one may sign in with; "" for nobody's
	First    bool   // nobody has an account yet
	Code     string // that the console told, or of an invitation
	Joins    string // who was invited
}

func (s *server) door(w http.ResponseWriter, r *http.Request) {
	s.showDoor(w, r, http.StatusOK, doorView{Next: r.FormValue("next")})
}

func (s *server) showDoor(w http.ResponseWriter, r *http.Request, status int, v doorView) {
	needs, err := s.at(r).People.NeedsKeeper()
	if err != nil {
		s.fail(w, r, err)
		return
	}
	if needs && !v.First {
		http.Redirect(w, r, "/first", http.StatusSeeOther)
		return
	}
	if v.People, err = s.at(r).People.DemoPeople(); err != nil {
		s.fail(w, r, err)
		return
	}
	if v.Via, err = s.at(r).Provider.Offered(); err != nil {
		s.fail(w, r, err)
		return
	}
	if v.Passkeys, err = s.at(r).Passkeys.Offered(s.origin(r)); err != nil {
		s.fail(w, r, err)
		return
	}
	s.write(w, "door", "door", status, s.frame(r, "Sign in", "", v))
}

// refuseAtDoor shows the sign-in again, with what was wrong.
func (s *server) refuseAtDoor(w http.ResponseWriter, r *http.Request, err error, v doorView) {
	status, m := told(r, err)
	v.Wrong = m.Text + " " + m.Next
	s.showDoor(w, r, status, v)
}

func (s *server) signIn(w http.ResponseWriter, r *http.Request) {
	v := doorView{Login: r.FormValue("login"), Next: r.FormValue("next")}
	who, err := s.at(r).People.SignIn(v.Login, r.FormValue("password"), fromWhere(r))
	var needs *people.NeedsCode
	if errors.As(err, &needs) {
		if fromHTMX(r) {
			w.Header().Set("Content-Type", "text/plain; charset=utf-8")
			w.WriteHeader(http.StatusAccepted)
			_, _ = io.WriteString(w, needs.Ticket)
			return
		}
		v.Ticket = needs.Ticket
		s.showDoor(w, r, http.StatusOK, v)
		return
	}
	if err != nil {
		if fromHTMX(r) {
			s.fail(w, r, err)
			return
		}
		s.refuseAtDoor(w, r, err, v)
		return
	}
	s.enter(w, r, who, v.Next)
}

// secondStep takes the code that is asked for after the password.
func (s *server) secondStep(w http.ResponseWriter, r *http.Request) {
	who, err := s.at(r).People.SecondStep(r.FormValue("ticket"), r.FormValue("code"), fromWhere(r))
	if err != nil && fromHTMX(r) {
		s.fail(w, r, err)
		return
	}
	if err != nil {
		s.refuseAtDoor(w, r, err, doorView{Ticket: r.FormValue("ticket"), Next: r.FormValue("next")})
		return
	}
	s.enter(w, r, who, r.FormValue("next"))
}

func (s *server) demoSignIn(w http.ResponseWriter, r *http.Request) {
	who, err := s.at(r).People.DemoSignIn(number(r.FormValue("person")))
	if err != nil {
		s.fail(w, r, err)
		return
	}
	s.enter(w, r, who, r.FormValue("next"))
}

// enter begins a session under a fresh token.
func (s *server) enter(w http.ResponseWriter, r *http.Request, who access.Person, next string) {
	if err := s.remember(r, who); err != nil {
		s.fail(w, r, err)
		return
	}
	if fromHTMX(r) {
		w.WriteHeader(http.StatusNoContent)
		return
	}
	http.Redirect(w, r, ownAddress(next), http.StatusSeeOther)
}

// number gives a session a number, by which it is known to whoever is in it.
func (s *server) number(r *http.Request, who access.Person) (access.Person, error) {
	n, err := s.house.People.Begin(who, r.UserAgent())
	s.sessions.Put(r.Context(), "session", int(n))
	return who.In(n), err
}

func (s *server) remember(r *http.Request, who access.Person) error {
	if err := s.sessions.RenewToken(r.Context()); err != nil {
		return err
	}
	if _, err := s.number(r, who); err != nil {
		return err
	}
	s.sessions.Put(r.Context(), "person", int(who.ID))
	s.sessions.Put(r.Context(), "epoch", who.Epoch())
	return nil
}

// ownAddress holds what is to come next to this origin.
func ownAddress(next string) string {
	u, err := url.Parse(next)
	if err != nil || u.Host != "" || u.Scheme != "" || !strings.HasPrefix(u.Path, "/") || strings.HasPrefix(next, "//") || strings.Contains(next, `\`) {
		return "/arrivals"
	}
	return u.RequestURI()
}

func (s *server) signOut(w http.ResponseWriter, r *http.Request) {
	if err := s.at(r).People.SignedOut(); err != nil {
		s.fail(w, r, err)
		return
	}
	if err := s.sessions.Destroy(r.Context()); err != nil {
		s.fail(w, r, err)
		return
	}
	s.goOn(w, r, "/sign-in")
}

func (s *server) first(w http.ResponseWriter, r *http.Request) {
	needs, err := s.at(r).People.NeedsKeeper()
	switch {
	case err != nil:
		s.fail(w, r, err)
	case !needs:
		http.Redirect(w, r, "/sign-in", http.StatusSeeOther)
	default:
		s.showDoor(w, r, http.StatusOK, doorView{First: true, Code: r.FormValue("code")})
	}
}

func (s *server) firstKeeper(w http.ResponseWriter, r *http.Request) {
	v := doorView{First: true, Name: r.FormValue("name"), Login: r.FormValue("login"), Code: r.FormValue("code")}
	who, err := s.at(r).People.FirstKeeper(v.Name, v.Login, r.FormValue("password"), v.Code, fromWhere(r))
	if err != nil {
		s.refuseAtDoor(w, r, err, v)
		return
	}
	s.enter(w, r, who, "/welcome")
}

// join is where an invitation leads.
func (s *server) join(w http.ResponseWriter, r *http.Request) { s.showJoin(w, r, http.StatusOK, "") }

// showJoin greets who was invited, or tells that the invitation has ended; wrong is what was wrong
// with the password that they chose.
func (s *server) showJoin(w http.ResponseWriter, r *http.Request, status int, wrong string) {
	v := doorView{Code: r.FormValue("code"), Wrong: wrong}
	who, err := s.at(r).People.Invited(v.Code, fromWhere(r))
	if err != nil {
		var m message
		status, m = told(r, err)
		v.Wrong = m.Text + " " + m.Next
	}
	v.Joins = who.Name
	s.showDoor(w, r, status, v)
}

func (s *server) joined(w http.ResponseWriter, r *http.Request) {
	who, err := s.at(r).People.Join(r.FormValue("code"), r.FormValue("password"), fromWhere(r))
	if err != nil {
		status, m := told(r, err)
		s.showJoin(w, r, status, m.Text+" "+m.Next)
		return
	}
	s.enter(w, r, who, "/arrivals")
}

// fromWhere is the address a request comes from, without its port.
func fromWhere(r *http.Request) string {
	host, _, err := net.SplitHostPort(r.RemoteAddr)
	if err != nil {
		return r.RemoteAddr
	}
	return host
}
