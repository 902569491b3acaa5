package web

import (
	"bytes"
	"context"
	"embed"
	"errors"
	"fmt"
	"html/template"
	"io/fs"
	"log/slog"
	"net/http"
	"strings"
	"sync"

	"mivlet/desk/access"
	"mivlet/desk/publish"
	"mivlet/desk/shelves"
	"mivlet/store"
)

//go:embed templates
var templateFiles embed.FS

// views holds the parsed templates: one set for each screen, with the frame
// and the shared pieces in all of them.
type views struct{ screens map[string]*template.Template }

// viewsOf are the views that were read, by their base: all houses of a program share them.
var viewsOf sync.Map

// viewsAt returns the views of a base: where Mivlet lies on its host, such as /mivlet; empty where it has the host to
// itself.
func viewsAt(base string) *views {
	read, _ := viewsOf.LoadOrStore(base, sync.OnceValue(func() *views { return newViews(base) }))
	return read.(func() *views)()
}

func newViews(base string) *views {
	shared := parse(template.New("").Funcs(functions).Funcs(addresses(base)), base, "templates/shared/*.html")
	v := &views{map[string]*template.Template{}}
	names, err := fs.Glob(templateFiles, "templates/*.html")
	if err != nil {
		panic(err)
	}
	for _, file := range names {
		name := strings.TrimSuffix(file[strings.LastIndexByte(file, '/')+1:], ".html")
		set := parse(template.Must(shared.Clone()), base, file)
		// A screen of many pieces keeps them in a folder of its name.
		v.screens[name] = parse(set, base, "templates/"+name+"/*.html")
	}
	return v
}

// frame is what every whole screen shows around its own content.
type frame struct {
	Title   string
	Station string // the station that is lit
	Counts  store.Counts
	House   string
	Site    string
	Who     access.Person
	Office  bool // whoever is signed in looks after other houses, too
	Data    any
}

// screen writes a whole screen, or, where htmx asked for it, only the parts
// that a template named "parts" gives.
func (s *server) screen(w http.ResponseWriter, r *http.Request, name, title, station string, data any) {
	counts, err := s.at(r).Pages.Counts()
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
	return frame{Title: title, Station: station, House: d.Rules().House, Site: d.SiteURL(), Who: d.Who(), Office: d.Who().Keeper && d.District.Office(), Data: data}
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
	Each []string // of several places
	Next string
	Bad  bool
	// Offer is what can be done about it at once; its zero value is nothing.
	Offer offer
}

// offer is an act that would mend what was refused.
type offer struct {
	Label string
	To    string            // address that it is sent to
	With  map[string]string // the fields that go along
}

var statusOf = map[access.Kind]int{
	access.Bad: http.StatusUnprocessableEntity, access.Missing: http.StatusNotFound,
	access.Clash: http.StatusConflict, access.TooMuch: http.StatusRequestEntityTooLarge,
	access.SignIn: http.StatusUnauthorized, access.Forbidden: http.StatusForbidden, access.TooSoon: http.StatusTooManyRequests,
}

// fail tells an error: a refusal in its own words, anything else without its
// innards.
func (s *server) fail(w http.ResponseWriter, r *http.Request, err error) {
	status, m := told(r, err)
	if status == http.StatusServiceUnavailable {
		w.Header().Set("Retry-After", "5") // seconds (RFC 9110, 10.2.3)
	}
	if fromHTMX(r) {
		w.Header().Set("HX-Reswap", "none")
		s.write(w, "notice", "notice", status, m)
		return
	}
	if status == http.StatusServiceUnavailable { // what the frame shows cannot be asked for
		s.write(w, "notice", "away", status, frame{Title: "Not reached", Data: m})
		return
	}
	f := s.frame(r, "Not done", "", m)
	f.Counts, _ = s.at(r).Pages.Counts()
	s.write(w, "notice", "frame", status, f)
}

func told(r *http.Request, err error) (int, message) {
	var refusal *access.Refusal
	if errors.As(err, &refusal) {
		return statusOf[refusal.Kind], message{Text: refusal.What, Each: refusal.Each, Next: refusal.Next, Bad: true, Offer: offerFor(r, err)}
	}
	if errors.Is(err, store.ErrAway) {
		slog.Error("what keeps the house cannot be reached", "request", numberOf(r), "address", r.URL.Path, "error", err)
		return http.StatusServiceUnavailable, message{Text: "The house cannot be reached at the moment.", Next: "Wait a little and try again. Whatever was saved before is safe.", Bad: true}
	}
	if errors.Is(err, context.Canceled) {
		return statusGone, message{Text: "The request was cancelled.", Next: "Nothing was changed.", Bad: true}
	}
	slog.Error("an act failed", "request", numberOf(r), "address", r.URL.Path, "error", err)
	return http.StatusInternalServerError, failure(r)
}

// failure tells of what nobody could foresee, with the number under which the log has it.
func failure(r *http.Request) message {
	return message{Text: "Something went wrong in Mivlet.",
		Next: "Nothing was changed. Try again; if it stays, tell whoever runs Mivlet the number " + numberOf(r) + ".", Bad: true}
}

// statusGone is for those who have left before they were answered: they do not see it.
const statusGone = 499

// offerFor is what can be done about a refusal at once.
func offerFor(r *http.Request, err error) offer {
	var used *shelves.OnPages
	var outdated *publish.Outdated
	switch {
	case errors.As(err, &used):
		return offer{"Take it off these pages, publish the live ones, and throw it away", fmt.Sprintf("/pictures/%d/throw-away-from", used.Picture), nil}
	case errors.As(err, &outdated):
		return offer{"Put back words and arrangement, with today’s pictures", fmt.Sprintf("/pages/%d/put-back-words", id(r)), map[string]string{"live": fmt.Sprint(outdated.Version)}}
	}
	return offer{}
}

func fromHTMX(r *http.Request) bool { return r.Header.Get("HX-Request") == "true" }
