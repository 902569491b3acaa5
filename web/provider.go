package web

import (
	"fmt"
	"net/http"
	"net/url"
	"strings"

	"github.com/go-chi/chi/v5"

	"mivlet/core/rules"
	"mivlet/desk/access"
	"mivlet/desk/provider"
	"mivlet/store"
)

// providerRoutes are for keepers: whose accounts people may sign in with.
func (s *server) providerRoutes(r chi.Router) {
	r.Get("/people/provider", s.provider)
	r.Post("/people/provider", s.saveProvider)
	r.Post("/people/provider/remove", s.removeProvider)
}

// providerDoor are for those who sign in with such an account.
func (s *server) providerDoor(r chi.Router) {
	r.Get(toProvider, s.goToProvider)
	r.Get(fromProvider, s.comeFromProvider)
}

const (
	toProvider   = "/sign-in/provider"
	fromProvider = "/sign-in/provider/back"
)

// blankGroups are the empty lines for groups on the screen.
const blankGroups = 2

// providerView is whose accounts people may sign in with.
type providerView struct {
	store.Provider
	Kept     bool   // it is there already
	Back     string // the address to enter at the provider
	Sections []rules.Section
}

// Lines are the groups, and some empty ones.
func (v providerView) Lines() []store.GroupRole {
	return append(v.Groups, make([]store.GroupRole, blankGroups)...)
}

func (s *server) provider(w http.ResponseWriter, r *http.Request) {
	p, kept, err := s.at(r).Provider.Settings()
	if err != nil {
		s.fail(w, r, err)
		return
	}
	if !kept {
		p.Claim = "groups"
	}
	s.screen(w, r, "provider", "Accounts from elsewhere", "", providerView{p, kept, s.address(r, fromProvider), s.at(r).Rules().Sections})
}

func (s *server) saveProvider(w http.ResponseWriter, r *http.Request) {
	p := store.Provider{Title: r.FormValue("title"), Issuer: r.FormValue("issuer"), ClientID: r.FormValue("client"), Claim: r.FormValue("claim"), NewComer: r.FormValue("newcomer") != ""}
	sections, roles := r.Form["section"], r.Form["role"]
	for i, group := range r.Form["group"] {
		if i < len(sections) && i < len(roles) {
			p.Groups = append(p.Groups, store.GroupRole{Group: group, Section: sections[i], Role: roles[i]})
		}
	}
	if err := s.at(r).Provider.Save(r.Context(), p, r.FormValue("secret"), s.address(r, fromProvider)); err != nil {
		s.fail(w, r, err)
		return
	}
	s.goOn(w, r, "/people/provider")
}

func (s *server) removeProvider(w http.ResponseWriter, r *http.Request) {
	if err := s.at(r).Provider.Remove(); err != nil {
		s.fail(w, r, err)
		return
	}
	s.goOn(w, r, "/people/provider")
}

// address is the whole address of a path of this server, as whoever asks knows it.
func (s *server) address(r *http.Request, path string) string {
	at := url.URL{Scheme: "http", Host: r.Host, Path: s.opts.Base + path}
	if s.opts.TLS {
		at.Scheme = "https"
	}
	return at.String()
}

// markCookie is what the browser keeps while somebody is at the provider. It is sent along when they come
// back, which is a link from another site (RFC 6265bis, 5.6.7: Lax, memory).
func (s *server) markCookie(mark string, age int) *http.Cookie {
	c := &http.Cookie{Name: "mivlet-way" + strings.ReplaceAll(s.opts.Base, "/", "."), Value: mark, Path: "/", MaxAge: age, HttpOnly: true, SameSite: http.SameSiteLaxMode, Secure: s.opts.TLS}
	if s.opts.TLS {
		c.Name = "__Host-" + c.Name
	}
	return c
}

func (s *server) goToProvider(w http.ResponseWriter, r *http.Request) {
	address, mark, err := s.at(r).Provider.Begin(r.Context(), s.address(r, fromProvider), r.FormValue("next"))
	if err != nil {
		s.refuseAtDoor(w, r, err, doorView{Next: r.FormValue("next")})
		return
	}
	http.SetCookie(w, s.markCookie(mark, int(provider.TripsLast.Seconds())))
	http.Redirect(w, r, address, http.StatusSeeOther)
}

func (s *server) comeFromProvider(w http.ResponseWriter, r *http.Request) {
	mark := ""
	if c, err := r.Cookie(s.markCookie("", 0).Name); err == nil {
		mark = c.Value
	}
	http.SetCookie(w, s.markCookie("", -1))
	if told := r.FormValue("error"); told != "" { // OpenID Connect Core 1.0, 3.1.2.6
		s.refuseAtDoor(w, r, access.Refuse(access.Bad, fmt.Sprintf("You were not signed in (%.60q).", told), "Begin again, or sign in with name and password."), doorView{})
		return
	}
	who, next, err := s.at(r).Provider.Finish(r.Context(), r.FormValue("state"), r.FormValue("code"), mark, fromWhere(r))
	if err != nil {
		s.refuseAtDoor(w, r, err, doorView{Next: next})
		return
	}
	s.enter(w, r, who, next)
}
