package web

import (
	"net"
	"net/http"
	"net/url"
	"strings"

	"github.com/go-chi/chi/v5"

	"mivlet/core/fit"
	"mivlet/core/rules"
	"mivlet/desk/access"
	"mivlet/desk/district"
)

// districtRoutes are the screens of the office of a district.
func (s *server) districtRoutes(r chi.Router) {
	r.Get("/houses", s.houses)
	r.Post("/houses", s.addHouse)
	r.Get("/houses/rules", s.givenRules)
	r.Post("/houses/rules", s.giveRules)
	r.Get("/house/{host}", s.oneHouse)
	r.Post("/house/{host}/limits", s.allotHouse)
}

// housesView is the houses of a district.
type housesView struct {
	district.View
	Text   string
	By     district.Order
	Orders []orderChoice
	All    int // houses, whatever is searched
	there  func(host string) string
}

// orderChoice is a way to order houses.
type orderChoice struct {
	By   district.Order
	Says string
}

var orderChoices = []orderChoice{{district.ByNeed, "what needs you first"}, {district.ByName, "name"}, {district.BySize, "size"}, {district.ByFindings, "findings"}}

// There is where people of a house work.
func (v housesView) There(host string) string { return v.there(host) }

// elsewhere gives the addresses of other houses: those of this one, under another name.
func (s *server) elsewhere(r *http.Request) func(host string) string {
	return func(host string) string {
		at := *r
		if _, port, err := net.SplitHostPort(r.Host); err == nil {
			host = net.JoinHostPort(host, port)
		}
		at.Host = host
		return s.address(&at, "/")
	}
}

func (s *server) houses(w http.ResponseWriter, r *http.Request) {
	v := housesView{Text: strings.TrimSpace(r.FormValue("q")), By: district.Order(r.FormValue("by")), Orders: orderChoices, there: s.elsewhere(r)}
	var err error
	if v.View, err = s.at(r).District.All(v.Text, v.By); err != nil {
		s.fail(w, r, err)
		return
	}
	s.screen(w, r, "houses", "Houses", "houses", v)
}

func (s *server) addHouse(w http.ResponseWriter, r *http.Request) {
	host, err := s.at(r).District.Add(r.FormValue("host"))
	if err != nil {
		s.fail(w, r, err)
		return
	}
	s.goOn(w, r, "/house/"+host)
}

// houseView is one of the houses.
type houseView struct {
	district.Told
	There string
	First string // the address at which its first keeper begins; empty where there is one
}

// Gigabytes are those that the house may have; 0 where there is no limit.
func (v houseView) Gigabytes() float64 { return float64(v.Allotted.Bytes) / 1e9 }

// Bounds are what the house has of each thing that it may have so much of.
func (v houseView) Bounds() []bound {
	return []bound{
		{"pictures", int64(v.Pictures), int64(v.Allotted.Pictures), access.Count(v.Pictures, "picture"), access.Count(v.Allotted.Pictures, "picture")},
		{"originals", v.Originals, v.Allotted.Bytes, fit.Weight(v.Originals), fit.Weight(v.Allotted.Bytes)},
		{"people", int64(v.People), int64(v.Allotted.People), access.Count(v.People, "account"), access.Count(v.Allotted.People, "account")},
	}
}

// bound is how much there is of something, and how much there may be; 0 for no limit.
type bound struct {
	What            string
	has, may        int64
	Has, MayHaveAll string
}

// Limited reports whether there is a limit.
func (b bound) Limited() bool { return b.may > 0 }

// Share is how much of it is taken, of 100.
func (b bound) Share() int { return int(min(100, 100*b.has/max(b.may, 1))) }

func (s *server) oneHouse(w http.ResponseWriter, r *http.Request) {
	t, err := s.at(r).District.One(chi.URLParam(r, "host"))
	if err != nil {
		s.fail(w, r, err)
		return
	}
	v := houseView{Told: t, There: s.elsewhere(r)(t.Host)}
	if t.First != "" {
		v.First = v.There + "first?code=" + url.QueryEscape(t.First)
	}
	s.screen(w, r, "house", t.Host, "houses", v)
}

func (s *server) allotHouse(w http.ResponseWriter, r *http.Request) {
	host := chi.URLParam(r, "host")
	var a *access.Allotment
	if r.FormValue("own") == "yes" {
		a = &access.Allotment{Pictures: whole(r, "most-pictures", 0), Bytes: int64(decimal(r, "most-gigabytes") * 1e9), People: whole(r, "most-people", 0), Decoding: whole(r, "most-decoding", 0)}
	}
	if err := s.at(r).District.Allot(host, a); err != nil {
		s.fail(w, r, err)
		return
	}
	s.goOn(w, r, "/house/"+host)
}

// givenView is how rules are given to all houses.
type givenView struct {
	district.Giving
}

func (s *server) givenRules(w http.ResponseWriter, r *http.Request) {
	g, err := s.at(r).District.Given()
	if err != nil {
		s.fail(w, r, err)
		return
	}
	s.screen(w, r, "given", "Rules of all houses", "houses", givenView{g})
}

func (s *server) giveRules(w http.ResponseWriter, r *http.Request) {
	parts := map[string]rules.Giving{}
	for _, p := range rules.Parts() {
		if how := r.FormValue("part-" + p.Name); how != "" {
			parts[p.Name] = rules.Giving(how)
		}
	}
	if err := s.at(r).District.Give(parts, rules.Giving(r.FormValue("first"))); err != nil {
		s.fail(w, r, err)
		return
	}
	s.goOn(w, r, "/houses/rules")
}
