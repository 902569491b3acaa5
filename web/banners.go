package web

import (
	"fmt"
	"net/http"
	"net/url"

	"github.com/go-chi/chi/v5"

	"mivlet/core/banner"
	"mivlet/core/rules"
	"mivlet/core/words"
	"mivlet/desk/banners"
	"mivlet/sentences"
	"mivlet/store"
	"mivlet/web/drawing"
)

// bannerRoutes are what is done with banners. Files for them are streamed elsewhere.
func (s *server) bannerRoutes(r chi.Router) {
	r.Get("/banners", s.banners)
	r.Post("/banners", s.beginBanner)
	r.Get("/banners/counts.csv", s.bannerCounts)
	r.Post("/banners/occasions", s.saveOccasion)
	r.Post("/banners/occasions/{id}/drop", s.dropOccasion)
	r.Route("/banners/{id}", func(r chi.Router) {
		r.Get("/", s.banner)
		r.Get("/counts.csv", s.bannerCounts)
		r.Get("/shown/{size}", s.bannerShown)
		r.Post("/set", s.setBanner)
		r.Post("/days", s.setBannerDays)
		r.Post("/picture", s.setBannerPicture)
		r.Post("/approve", s.approveBanner)
		r.Post("/stop", s.stopBanner)
		r.Post("/go-on", s.letBannerGoOn)
		r.Post("/step", s.bannerStep)
		r.Post("/drop", s.dropBanner)
		r.Post("/bring-back", s.bringBannerBack)
	})
}

// weeksInView is how many weeks the calendar shows.
const weeksInView = 13

// bannersView is the calendar of spots.
type bannersView struct {
	banners.Calendar
	Drawn    drawing.Calendar
	Sections []rules.Section // that somebody works for
	MayTime  bool            // may change occasions
}

// Earlier is the first day of the calendar some weeks before.
func (v bannersView) Earlier() string { return banner.DayAfter(v.Drawn.First, -28) }

// Later is the first day of the calendar some weeks after.
func (v bannersView) Later() string { return banner.DayAfter(v.Drawn.First, 28) }

// Empty reports whether there is no banner at all.
func (v bannersView) Empty() bool {
	for _, r := range v.Rows {
		if len(r.Lines) > 0 {
			return false
		}
	}
	return len(v.Lost) == 0
}

// Days tells the days of a banner in words.
func (v bannersView) Days(l banners.Line) string { return daysOf(l.Doc.From, l.Doc.Until, v.Today) }

// daysOf tells a first and a last day in words.
func daysOf(from, until, today string) string {
	switch {
	case from == "" && until == "":
		return "always"
	case from == "":
		return "until " + sentences.Day(until, today)
	case until == "":
		return "from " + sentences.Day(from, today)
	case from == until:
		return sentences.Day(from, today)
	}
	return sentences.Day(from, today) + " to " + sentences.Day(until, today)
}

// Waits tells why a banner on the calendar does not run by itself; "" where it may.
func (v bannersView) Waits(l banners.Line) string {
	switch {
	case l.State == banners.Draft:
		return "draft"
	case l.State == banners.Stopped:
		return "stopped"
	case !l.Known.Own && l.Known.In == nil:
		return "no occasion"
	case l.Changed:
		return "changed, not approved"
	case l.Holder != "":
		return "“" + l.Holder + "” holds the spot"
	}
	return ""
}

func (s *server) banners(w http.ResponseWriter, r *http.Request) {
	d := s.at(r)
	c, err := d.Banners.Calendar()
	if err != nil {
		s.fail(w, r, err)
		return
	}
	v := bannersView{Calendar: c, Sections: ownSections(d.Rules(), d.Who())}
	for _, section := range v.Sections {
		v.MayTime = v.MayTime || d.Who().CanPublish(section.Code)
	}
	first := r.FormValue("from")
	if !banner.IsDay(first) {
		first = drawing.Monday(c.Today, -2)
	}
	var periods []banner.Occasion
	for _, o := range c.Occasions {
		periods = append(periods, o.Known())
	}
	rows := make([]drawing.SpotRow, len(c.Rows))
	for i, row := range c.Rows {
		rows[i] = drawing.SpotRow{Width: row.Spot.Width, Height: row.Spot.Height}
		for _, l := range row.Lines {
			rows[i].Banners = append(rows[i].Banners, l.Known)
		}
	}
	v.Drawn = drawing.Weeks(drawing.Monday(first, 0), c.Today, weeksInView, periods, rows)
	s.screen(w, r, "banners", "Banners", "banners", v)
}

func (s *server) beginBanner(w http.ResponseWriter, r *http.Request) {
	made, err := s.at(r).Banners.Begin(r.FormValue("section"), r.FormValue("title"), r.FormValue("spot"))
	if err != nil {
		s.fail(w, r, err)
		return
	}
	s.goOn(w, r, fmt.Sprintf("/banners/%d", made))
}

func (s *server) bannerCounts(w http.ResponseWriter, r *http.Request) {
	w.Header().Set("Content-Type", "text/csv; charset=utf-8; header=present")
	w.Header().Set("Content-Disposition", `attachment; filename="banners.csv"`)
	if err := s.at(r).Banners.Counts(w, id(r)); err != nil {
		w.Header().Del("Content-Disposition")
		s.fail(w, r, err)
	}
}

func (s *server) saveOccasion(w http.ResponseWriter, r *http.Request) {
	o := store.Occasion{ID: number(r.FormValue("occasion")), Title: words.VisibleLine(r.FormValue("title"), 80), FromDay: r.FormValue("first"), Until: r.FormValue("last")}
	s.calendarChanged(w, r, s.at(r).Banners.SaveOccasion(o))
}

func (s *server) dropOccasion(w http.ResponseWriter, r *http.Request) {
	s.calendarChanged(w, r, s.at(r).Banners.DropOccasion(id(r)))
}

// calendarChanged draws the calendar as it is now.
func (s *server) calendarChanged(w http.ResponseWriter, r *http.Request, err error) {
	switch {
	case err != nil:
		s.fail(w, r, err)
	case fromHTMX(r):
		s.banners(w, r)
	default:
		http.Redirect(w, r, "/banners?"+url.Values{"from": r.Form["from"]}.Encode(), http.StatusSeeOther)
	}
}

// setBannerDays moves the ends of a banner on the calendar.
func (s *server) setBannerDays(w http.ResponseWriter, r *http.Request) {
	s.calendarChanged(w, r, s.at(r).Banners.SetDays(id(r), r.FormValue("first"), r.FormValue("last")))
}
