package web

import (
	"errors"
	"fmt"
	"net/http"
	"strconv"

	"github.com/go-chi/chi/v5"

	"mivlet/core/site"
	"mivlet/desk/access"
	"mivlet/desk/destinations"
)

func (s *server) destinationRoutes(r chi.Router) {
	r.Get("/destinations", s.destinations)
	r.Post("/destinations", s.saveDestination)
	r.Route("/destinations/{id}", func(r chi.Router) {
		r.Get("/", s.destination)
		r.Get("/now", s.destinationNow)
		r.Get("/plan", s.planDestination)
		r.Post("/send", s.sendTo)
		r.Post("/trust", s.trustServer)
		r.Post("/pause", s.pauseDestination)
		r.Post("/overwrite", s.overwriteAt)
		r.Post("/remove", s.removeDestination)
	})
}

// destinationView is one destination, or a new one.
type destinationView struct {
	destinations.View
	Forms []formChoice
	Kinds []kindChoice
}

// Example is a layout to begin with.
func (destinationView) Example() string { return exampleLayout }

const exampleLayout = `<!DOCTYPE html>
<html lang="{{language}}">
<head>
<meta charset="utf-8">
<meta name="viewport" content="width=device-width, initial-scale=1">
<title>{{title}}</title>
<link rel="stylesheet" href="/your-own.css">
{{head}}
</head>
<body>
<header>{{house}} <nav aria-label="Sections">{{sections}}</nav></header>
{{top}}
<main>{{content}}</main>
</body>
</html>`

// kindChoice is a kind of destination.
type kindChoice struct{ Kind, Says string }

var kindChoices = []kindChoice{
	{destinations.InFolder, "A folder of this machine"},
	{destinations.OverSSH, "Another machine, over SSH"},
	{destinations.OverWebDAV, "A web server, over WebDAV"},
	{destinations.InBucket, "Object storage (S3)"},
}

// WithPassword reports whether it is signed in to with a password.
func (v destinationView) WithPassword() bool { return v.Secret != "" && v.PublicKey == "" }

// formChoice is a way to tell a server what has moved.
type formChoice struct{ Form, Says string }

var formChoices = []formChoice{
	{string(site.PagesForm), "Pages at the old addresses that lead on"},
	{string(site.ApacheForm), "A file .htaccess, for Apache"},
	{string(site.NginxForm), "A file redirects.conf to include, for nginx"},
	{string(site.RedirectsForm), "A file _redirects, for hosts that read it"},
	{string(site.NoForm), "Nothing: old addresses lead nowhere"},
}

func (s *server) destinations(w http.ResponseWriter, r *http.Request) {
	all, err := s.at(r).Destinations.All()
	if err != nil {
		s.fail(w, r, err)
		return
	}
	s.screen(w, r, "destinations", "Destinations", "live", all)
}

func (s *server) destination(w http.ResponseWriter, r *http.Request) {
	v := destinationView{Forms: formChoices, Kinds: kindChoices}
	v.GraceHours, v.Form, v.Kind = 48, string(site.PagesForm), destinations.InFolder
	for _, k := range kindChoices {
		if k.Kind == r.FormValue("kind") {
			v.Kind = k.Kind
		}
	}
	title := "New destination"
	if asked := chi.URLParam(r, "id"); asked != "new" {
		var err error
		if v.View, err = s.at(r).Destinations.Of(number(asked)); err != nil {
			s.fail(w, r, err)
			return
		}
		title = v.Title
	} else if err := s.at(r).MayKeep(); err != nil {
		s.fail(w, r, err)
		return
	} else if v.FormerSite = number(r.FormValue("former")); v.FormerSite != 0 {
		f, err := s.at(r).Former.Of(v.FormerSite)
		if err != nil {
			s.fail(w, r, err)
			return
		}
		v.Former = f.Title
		if len(f.Hosts) > 0 {
			v.Base = "https://" + f.Hosts[0]
		}
	}
	s.screen(w, r, "destination", title, "live", v)
}

func (s *server) saveDestination(w http.ResponseWriter, r *http.Request) {
	hours, _ := strconv.Atoi(r.FormValue("grace")) // empty is 0
	id, err := s.at(r).Destinations.Save(destinations.Change{ID: number(r.FormValue("id")), Kind: r.FormValue("kind"), Title: r.FormValue("title"), Folder: r.FormValue("folder"), Region: r.FormValue("region"),
		Host: r.FormValue("host"), Login: r.FormValue("login"), Password: r.FormValue("password"),
		Base: r.FormValue("base"), Relative: r.FormValue("relative") != "", Form: r.FormValue("form"), GraceHours: hours, Layout: r.FormValue("layout"), FormerSite: number(r.FormValue("former"))})
	if err != nil {
		s.fail(w, r, err)
		return
	}
	s.goOn(w, r, fmt.Sprintf("/destinations/%d", id))
}

// destinationNow shows how far it is. While files are being sent the piece asks again by itself.
func (s *server) destinationNow(w http.ResponseWriter, r *http.Request) {
	v, err := s.at(r).Destinations.Of(id(r))
	if err != nil {
		s.fail(w, r, err)
		return
	}
	if v.Now == nil {
		w.Header().Set("HX-Trigger", "sent")
	}
	s.part(w, "destination", "destination-now", destinationView{View: v})
}

// planView is what would be done at a destination.
type planView struct{ destinations.Work }

// planned is a file in a plan.
type planned struct {
	Path  string
	Bytes int64
}

// plannedList is what is done with some files; the first are shown.
type plannedList struct {
	Title string
	First []planned
	More  int
}

// plannedShown is how many files of a list are shown.
const plannedShown = 40

// Lists are what is done, and with which files.
func (v planView) Lists() []plannedList {
	var all []plannedList
	add := func(title string, files []planned) {
		if n := min(len(files), plannedShown); n > 0 {
			all = append(all, plannedList{title, files[:n], len(files) - n})
		}
	}
	was := func(list []site.Sent) (files []planned) {
		for _, f := range list {
			files = append(files, planned{f.Path, f.Bytes})
		}
		return files
	}
	var send []planned
	for _, f := range v.Send {
		send = append(send, planned{f.Path, f.Bytes})
	}
	add("Files that would be sent, in this order", send)
	add("Files that would be removed", was(v.Remove))
	var left []planned
	for _, at := range v.Left {
		left = append(left, planned{Path: at})
	}
	add("Files that cannot be sent under their names", left)
	add("Files that nothing leads to any more, which stay for a while", was(v.Waiting))
	return all
}

func (s *server) planDestination(w http.ResponseWriter, r *http.Request) {
	work, err := s.at(r).Destinations.DryRun(r.Context(), id(r))
	if err == nil {
		s.part(w, "destination", "destination-plan", planView{work})
		return
	}
	var unknown *destinations.UnknownHostError
	if errors.As(err, &unknown) {
		s.part(w, "destination", "destination-unknown", unknownView{id(r), unknown})
		return
	}
	var why *access.Refusal
	if errors.As(err, &why) && (why.Kind == access.Bad || why.Kind == access.TooSoon) { // it stands where the plan would
		s.part(w, "destination", "destination-unplanned", unplannedView{id(r), why})
		return
	}
	s.fail(w, r, err)
}

// unplannedView says why nothing can be planned.
type unplannedView struct {
	ID uint
	*access.Refusal
}

// Soon reports whether it can be planned in a while: then it is asked for again.
func (v unplannedView) Soon() bool { return v.Kind == access.TooSoon }

// unknownView is a server whose key nobody has confirmed.
type unknownView struct {
	ID uint
	*destinations.UnknownHostError
}

func (s *server) trustServer(w http.ResponseWriter, r *http.Request) {
	if err := s.at(r).Destinations.Trust(id(r), r.FormValue("key")); err != nil {
		s.fail(w, r, err)
		return
	}
	s.goOn(w, r, fmt.Sprintf("/destinations/%d", id(r)))
}

// sendTo sends beside the screens, and lets what goes live be sent from now on.
func (s *server) sendTo(w http.ResponseWriter, r *http.Request) {
	d := s.at(r)
	v, err := d.Destinations.Of(id(r))
	if err == nil && v.Paused {
		err = d.Destinations.Pause(v.ID, false)
	}
	if err != nil {
		s.fail(w, r, err)
		return
	}
	if err := d.Destinations.Begin(v.ID); err != nil {
		s.fail(w, r, err)
		return
	}
	s.destinationNow(w, r)
}

func (s *server) pauseDestination(w http.ResponseWriter, r *http.Request) {
	if err := s.at(r).Destinations.Pause(id(r), r.FormValue("on") != ""); err != nil {
		s.fail(w, r, err)
		return
	}
	s.goOn(w, r, fmt.Sprintf("/destinations/%d", id(r)))
}

func (s *server) overwriteAt(w http.ResponseWriter, r *http.Request) {
	if err := s.at(r).Destinations.Overwrite(id(r), r.Form["path"]); err != nil {
		s.fail(w, r, err)
		return
	}
	s.goOn(w, r, fmt.Sprintf("/destinations/%d", id(r)))
}

func (s *server) removeDestination(w http.ResponseWriter, r *http.Request) {
	if err := s.at(r).Destinations.Remove(id(r)); err != nil {
		s.fail(w, r, err)
		return
	}
	s.goOn(w, r, "/destinations")
}
