package web

import (
	"bytes"
	"embed"
	"errors"
	"html/template"
	"io/fs"
	"log/slog"
	"net/http"
	"strings"

	"mivlet/desk"
)

//go:embed templates
var templateFiles embed.FS

// views holds the parsed templates: one set for each screen, with the frame
// and the shared pieces in all of them.
type views struct{ screens map[string]*template.Template }

func newViews() *views {
	shared := template.Must(template.New("").Funcs(functions).ParseFS(templateFiles, "templates/shared/*.html"))
	v := &views{map[string]*template.Template{}}
	names, err := fs.Glob(templateFiles, "templates/*.html")
	if err != nil {
		panic(err)
	}
	for _, file := range names {
		name := strings.TrimSuffix(file[strings.LastIndexByte(file, '/')+1:], ".html")
		set := template.Must(template.Must(shared.Clone()).ParseFS(templateFiles, file))
		// A screen of many pieces keeps them in a folder of its name.
		if pieces, err := fs.Glob(templateFiles, "templates/"+name+"/*.html"); err == nil && len(pieces) > 0 {
			set = template.Must(set.ParseFS(templateFiles, pieces...))
		}
		v.screens[name] = set
	}
	return v
}

// frame is what every whole screen shows around its own content.
type frame struct {
	Title   string
	Station string // the station that is lit
	Counts  desk.Counts
	House   string
	Site    string
	Who     desk.Person
	Data    any
}

// screen writes a whole screen, or, where htmx asked for it, only the parts
// that a template named "parts" gives.
func (s *server) screen(w http.ResponseWriter, r *http.Request, name, title, station string, data any) {
	counts, err := s.at(r).Counts()
	if err != nil {
		s.fail(w, r, err)
		return
	}
	f := s.frame(r, title, station, data)
	f.Counts = counts
	which := "frame"
	if fromHTMX(r) {
		which = "parts"
	}
	s.write(w, name, which, http.StatusOK, f)
}

func (s *server) frame(r *http.Request, title, station string, data any) frame {
	d := s.at(r)
	return frame{Title: title, Station: station, House: d.Rules().House, Site: d.SiteURL(), Who: d.Who(), Data: data}
}

// part writes one named piece of a screen.
func (s *server) part(w http.ResponseWriter, name, piece string, data any) {
	s.write(w, name, piece, http.StatusOK, data)
}

// write renders into memory first, so that a failing template sends nothing
// half.
func (s *server) write(w http.ResponseWriter, name, which string, status int, data any) {
	var b bytes.Buffer
	if err := s.views.screens[name].ExecuteTemplate(&b, which, data); err != nil {
		slog.Error("a screen could not be drawn", "screen", name, "piece", which, "error", err)
		http.Error(w, "This screen could not be drawn. Nothing was changed. Please go back and try again.", http.StatusInternalServerError)
		return
	}
	w.Header().Set("Content-Type", "text/html; charset=utf-8")
	w.Header().Set("Cache-Control", "no-store")
	w.WriteHeader(status)
	_, _ = w.Write(b.Bytes())
}

// message is what the editor is told in the notice line.
type message struct {
	Text string
	Next string
	Bad  bool
	// Undo is an address that takes it back; empty where there is none.
	Undo  string
	Label string
}

var statusOf = map[desk.Kind]int{
	desk.Bad: http.StatusUnprocessableEntity, desk.Missing: http.StatusNotFound,
	desk.Clash: http.StatusConflict, desk.TooMuch: http.StatusRequestEntityTooLarge,
	desk.SignIn: http.StatusUnauthorized, desk.Forbidden: http.StatusForbidden, desk.TooSoon: http.StatusTooManyRequests,
}

// fail tells an error: a refusal in its own words, anything else without its
// innards.
func (s *server) fail(w http.ResponseWriter, r *http.Request, err error) {
	status, m := told(r, err)
	if fromHTMX(r) {
		w.Header().Set("HX-Reswap", "none")
		s.write(w, "notice", "notice", status, m)
		return
	}
	f := s.frame(r, "Not done", "", m)
	f.Counts, _ = s.at(r).Counts()
	s.write(w, "notice", "frame", status, f)
}

func told(r *http.Request, err error) (int, message) {
	var refusal *desk.Refusal
	if errors.As(err, &refusal) {
		return statusOf[refusal.Kind], message{Text: refusal.What, Next: refusal.Next, Bad: true}
	}
	slog.Error("an act failed", "address", r.URL.Path, "error", err)
	return http.StatusInternalServerError, message{Text: "That did not work, and it is Mivlet's fault.",
		Next: "Nothing was changed. Try again; if it stays, tell whoever runs Mivlet.", Bad: true}
}

func fromHTMX(r *http.Request) bool { return r.Header.Get("HX-Request") == "true" }
