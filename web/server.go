// Package web is Mivlet's interface: server-rendered pages with htmx, and small
// scripts only where a hand moves something.
package web

import (
	"net/http"
	"strconv"
	"time"

	"github.com/alexedwards/scs/v2"
	"github.com/go-chi/chi/v5"
	"github.com/go-chi/chi/v5/middleware"

	"mivlet/desk"
	"mivlet/desk/access"
	"mivlet/desk/publish"
	"mivlet/internal/head"
)

// Options are what the interface needs besides a desk.
type Options struct {
	Layout     publish.Layout // writes a page of the site
	ContentCSS func() []byte  // styles a page's content, as on the site
	Enlarge    []byte         // the site's script for enlarged pictures
	Sessions   scs.Store      // where sessions are kept; in memory where nil
	Ahead      bool           // files of pages are made while their editors work
	TLS        bool           // whoever asks does so over TLS: cookies go over nothing else
	// Base is the path below which whoever asks reaches it, such as /mivlet: addresses in its answers begin
	// with it, those that it is asked for do not (see internal/under). Empty where there is none.
	Base string
	// Answered is told of every request that was answered; nil where nobody counts.
	Answered func(Answered)
	// Ending is closed when the house closes: lines that stay open end then. One
	// that is nil never closes.
	Ending <-chan struct{}
}

type server struct {
	house    *desk.Desk // the house's own; see at for whoever asks
	sessions *scs.SessionManager
	views    *views
	opts     Options
}

// formLimit is the most bytes of a form; only arriving pictures may be larger.
const formLimit = 1 << 20

// Handler returns the interface on a desk.
func Handler(d *desk.Desk, o Options) http.Handler {
	s := &server{house: d, sessions: newSessions(o.Sessions, o.TLS, o.Base), views: viewsAt(o.Base), opts: o}
	s.sessions.ErrorFunc = s.fail
	r := chi.NewRouter()
	r.Use(s.observed, s.recovered, head.AsGet, harden, http.NewCrossOriginProtection().Handler)

	r.Get("/static/*", s.static)
	r.Get("/content.css", s.contentCSS)
	r.Get("/enlarge.js", func(w http.ResponseWriter, _ *http.Request) {
		w.Header().Set("Content-Type", "text/javascript; charset=utf-8")
		_, _ = w.Write(o.Enlarge)
	})
	r.Group(s.routes)
	return r
}

// routes are all that a session belongs to.
func (s *server) routes(r chi.Router) {
	r.Use(s.sessions.LoadAndSave, s.identify)
	r.With(middleware.RequestSize(formLimit)).Group(s.doorRoutes)
	r.Group(func(r chi.Router) {
		r.Use(s.signedIn)
		s.workRoutes(r)
	})
	r.NotFound(func(w http.ResponseWriter, r *http.Request) {
		s.fail(w, r, &access.Refusal{Kind: access.Missing, What: "There is nothing at this address.", Next: "Use the line above to go to any station."})
	})
}

// workRoutes are all that is done at a desk.
func (s *server) workRoutes(r chi.Router) {
	// Pictures for the screen.
	r.Get("/thumbs/{id}", s.thumb)
	r.Get("/looks/{id}", s.look)
	r.Get("/previews/{id}", s.preview)
	r.Get("/cuts/{hash}", s.cut)

	// Arriving files are streamed; everything else is a small form.
	r.Post("/arrivals", s.arrive)
	r.Post("/pictures/{id}/swap", s.swap)
	r.Post("/pages/{id}/land", s.land)
	r.Post("/albums/{id}/land", s.landInAlbum)
	r.Post("/banners/{id}/land", s.landOnBanner)
	r.Post("/albums/zip", s.bringAlbum)
	r.Post("/former", s.bringFormer)
	r.Group(func(r chi.Router) {
		r.Use(middleware.RequestSize(formLimit), s.numbersOnly)
		r.Get("/", func(w http.ResponseWriter, r *http.Request) { http.Redirect(w, r, "/arrivals", http.StatusSeeOther) })
		s.arrivalsRoutes(r)
		s.shelvesRoutes(r)
		s.leavingRoutes(r)
		s.privacyRoutes(r)
		s.formerRoutes(r)
		s.findingsRoutes(r)
		s.districtRoutes(r)
		r.Post("/pictures/{id}/throw-away", s.throwAway)
		r.Post("/pictures/{id}/throw-away-from", s.throwAwayFrom)
		r.Post("/pictures/{id}/withdraw", s.withdraw)
		r.Post("/pictures/{id}/erase", s.erase)
		r.Get("/pictures/{id}/original", s.original)
		r.Post("/pictures/{id}/bring-back", s.bringBack)

		r.Get("/bench", s.benchFirst)
		r.Route("/bench/{id}", func(r chi.Router) {
			r.Get("/", s.bench)
			r.Get("/measure", s.measure)
			r.Post("/slot", s.setSlot)
			r.Post("/frame", s.setFrame)
			r.Post("/name", s.setName)
			r.Post("/words", s.setWords)
			r.Post("/seen", s.setConsent)
			r.Post("/seen/drop", s.dropConsent)
			r.Post("/seen/face", s.coverPerson)
			r.Get("/words", s.checkWords)
			r.Post("/step", s.goTo)
			r.Post("/cuts", s.makeCuts)
			r.Get("/here", s.benchHere)
			s.editRoutes(r)
		})

		r.Get("/pages", s.pages)
		r.Post("/samples", s.beginSamples)
		r.Post("/samples/remove", s.removeSamples)
		r.Post("/pages", s.newPage)
		r.Route("/pages/{id}", s.pageRoutes)
		r.Get("/sections/{section}/archive", s.sectionArchive)
		s.coverRoutes(r)
		s.albumRoutes(r)
		s.attachmentRoutes(r)
		s.bannerRoutes(r)

		r.Get("/live", s.live)
		r.Post("/live/{id}/check", s.checkLive)
		r.Post("/live/publish", s.publishChanged)
		r.Get("/jobs/{id}", s.job)
		r.Post("/jobs/{id}/stop", s.stopJob)
		s.rulesRoutes(r)
		s.peopleRoutes(r)
		s.destinationRoutes(r)
		r.Get("/running", s.running)
	})
	s.rulerRoutes(r)
}

// harden sets what every answer carries: no script or style but our own files,
// no guessing of types, no other site around or behind it.
func harden(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		h := w.Header()
		h.Set("Content-Security-Policy", "default-src 'none'; script-src 'self'; style-src 'self'; font-src 'self'; "+
			"img-src 'self' blob:; connect-src 'self'; form-action 'self'; base-uri 'none'; frame-ancestors 'none'")
		h.Set("X-Content-Type-Options", "nosniff")
		h.Set("Referrer-Policy", "same-origin")
		h.Set("Cross-Origin-Opener-Policy", "same-origin")
		h.Set("Cross-Origin-Resource-Policy", "same-origin")
		next.ServeHTTP(w, r)
	})
}

// id reads a record's number from the address; 0 where it is none.
func id(r *http.Request) uint { return number(chi.URLParam(r, "id")) }

func number(s string) uint {
	n, err := strconv.ParseUint(s, 10, 63)
	if err != nil {
		return 0
	}
	return uint(n)
}

// whole reads a whole number of a form, or gives what stands for none.
func whole(r *http.Request, field string, otherwise int) int {
	n, err := strconv.Atoi(r.FormValue(field))
	if err != nil {
		return otherwise
	}
	return n
}

// patience is how long a slow line may take to bring one picture.
const patience = 15 * time.Minute
