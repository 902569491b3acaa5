package web

import (
	"fmt"
	"net/http"
	"net/url"
	"strings"

	"github.com/go-chi/chi/v5"

	"mivlet/core/banner"
	"mivlet/core/rules"
	"mivlet/core/words"
	"mivlet/desk/banners"
	"mivlet/desk/pictures"
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
	Told     string
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

// bannerView is a banner on its screen.
type bannerView struct {
	banners.View
	CanWork    bool
	CanPublish bool
	Section    rules.Section
	Sections   []rules.Section // all of the house
	Spots      []rules.Spot
	Pages      []store.PageTitle
	Why        *banners.Why // nil where no page is asked about
	Find       string       // what the tray is searched for
	Tray       []pictures.Item
	Totals     store.BannerDay
	Most       int // shown on one day
	rules      rules.Rules
}

// Says tells a finding in a sentence.
func (bannerView) Says(f banner.Finding) string { return sentences.Banner(f) }

// Stops reports whether something keeps the banner from being approved.
func (v bannerView) Stops() bool {
	return len(v.Findings) > 0 && v.Findings[0].Level == words.Stop
}

// Days tells its days in words.
func (v bannerView) Days() string { return daysOf(v.Doc.From, v.Doc.Until, v.Today) }

// Day tells a day in words.
func (v bannerView) Day(day string) string { return sentences.Day(day, v.Today) }

// Picked reports whether a section is one of those that the banner is for.
func (v bannerView) Picked(code string) bool {
	for _, s := range v.Doc.Sections {
		if s == code {
			return true
		}
	}
	return false
}

// Approval tells who approved it, and when.
func (v bannerView) Approval() string {
	if v.ApprovedAt == nil {
		return ""
	}
	return fmt.Sprintf("%s, %s", v.ApprovedBy, v.ApprovedAt.Format("2 Jan 2006"))
}

// Column is how high a day of the counts is drawn, in percent of the most.
func (v bannerView) Column(n int) int {
	if v.Most == 0 {
		return 0
	}
	return max(1, 100*n/v.Most)
}

// Recent are the counts of the last days.
func (v bannerView) Recent() []store.BannerDay {
	return v.View.Days[max(0, len(v.View.Days)-28):]
}

// Told is one condition in words, with the step that mends it.
type Told struct {
	Met       bool
	Says      string
	Mend, URL string
}

// Conditions are the answer to why the banner shows on a page, or does not.
func (v bannerView) Conditions() []Told {
	about := v.about()
	all := make([]Told, len(v.Why.Conditions))
	for i, c := range v.Why.Conditions {
		all[i].Met = c.Met
		all[i].Says, all[i].Mend = sentences.Condition(c, about)
		all[i].URL = v.mends(c)
	}
	return all
}

// about is what its conditions are about.
func (v bannerView) about() sentences.About {
	doc := v.Doc
	if v.Live != nil {
		doc = *v.Live
	}
	a := sentences.About{Banner: banner.Banner{Doc: doc}, Spot: doc.Spot, Occasion: v.Why.Occasion, Page: v.Why.Page.Doc.Title, Holder: v.Why.Holder, Today: v.Why.Today}
	for _, o := range v.Occasions {
		if o.ID == doc.Occasion {
			known := o.Known()
			a.Banner.In = &known
		}
	}
	if spot, ok := v.rules.Spot(doc.Spot); ok {
		a.Spot, a.AsBlock = spot.Title, spot.Where == rules.AsBlock
	}
	if s, ok := v.rules.Section(v.Why.Page.Section); ok {
		a.Section = s.Title
	}
	var titles []string
	for _, code := range doc.Sections {
		if s, ok := v.rules.Section(code); ok {
			code = s.Title
		}
		titles = append(titles, code)
	}
	a.Sections = words.Listed(titles)
	return a
}

// mends is where a condition is mended.
func (v bannerView) mends(c banner.Condition) string {
	own := fmt.Sprintf("/banners/%d", v.ID)
	switch c.Code {
	case banner.IsApproved, banner.IsFit, banner.IsGoing:
		return own + "#approval"
	case banner.HasOccasion, banner.InOccasion:
		return own + "#banner-occasion"
	case banner.HasBegun:
		return own + "#banner-from"
	case banner.IsNotOver:
		return own + "#banner-until"
	case banner.HasSpot:
		return own + "#banner-spot"
	case banner.ForSection, banner.ForTags, banner.ForWords:
		return own + "#banner-pages"
	case banner.OwnIsAsked, banner.SpotOnPage:
		if c.Code == banner.SpotOnPage && v.about().AsBlock {
			return fmt.Sprintf("/pages/%d", v.Why.Page.ID)
		}
		return "/rules?part=spots"
	case banner.PageIsLive, banner.PageIsNew:
		return fmt.Sprintf("/pages/%d", v.Why.Page.ID)
	case banner.HasTurn:
		return fmt.Sprintf("/banners/%d", c.Holder)
	}
	return own
}

func (s *server) banner(w http.ResponseWriter, r *http.Request) {
	d := s.at(r)
	found, err := d.Banners.Of(id(r))
	if err != nil {
		s.fail(w, r, err)
		return
	}
	who := d.Who()
	v := bannerView{View: found, Sections: d.Rules().Sections, Spots: d.Rules().Spots, rules: d.Rules(),
		CanWork: who.CanWork(found.Banner.Section) && !found.Dropped(), CanPublish: who.CanPublish(found.Banner.Section) && !found.Dropped()}
	v.Section, _ = d.Rules().Section(found.Banner.Section)
	for _, day := range found.Days {
		v.Totals.Shown += day.Shown
		v.Totals.Followed += day.Followed
		v.Most = max(v.Most, day.Shown)
	}
	if v.Pages, err = d.Pages.PageTitles(0); err != nil {
		s.fail(w, r, err)
		return
	}
	if v.Find = strings.TrimSpace(r.FormValue("find")); v.CanWork && (v.Find != "" || r.FormValue("choose") != "") {
		if v.Tray, err = d.Pages.Tray(v.Find); err != nil {
			s.fail(w, r, err)
			return
		}
	}
	asked := number(r.FormValue("page"))
	if asked == 0 {
		asked = v.likely()
	}
	if asked != 0 {
		why, err := d.Banners.Why(found.ID, asked)
		if err != nil {
			s.fail(w, r, err)
			return
		}
		v.Why = &why
	}
	s.screen(w, r, "banner", v.Doc.Title, "banners", v)
}

// likely is the page that somebody most likely asks about: the first live one that the spot
// stands on.
func (v bannerView) likely() uint {
	for _, p := range v.Pages {
		if p.Live && v.Spot != nil && v.Spot.StandsOn(p.Section, p.Slug == "") {
			return p.ID
		}
	}
	for _, p := range v.Pages {
		if p.Live {
			return p.ID
		}
	}
	return 0
}

// bannerChanged draws a banner as it is now.
func (s *server) bannerChanged(w http.ResponseWriter, r *http.Request, err error) {
	switch {
	case err != nil:
		s.fail(w, r, err)
	case fromHTMX(r):
		s.banner(w, r)
	default:
		http.Redirect(w, r, fmt.Sprintf("/banners/%d", id(r)), http.StatusSeeOther)
	}
}

func (s *server) setBanner(w http.ResponseWriter, r *http.Request) {
	list := func(name string) []string { return strings.Split(r.FormValue(name), ",") }
	doc := banner.Doc{Title: r.FormValue("title"), For: r.FormValue("for"), Spot: r.FormValue("spot"), Own: r.FormValue("own") != "", Occasion: number(r.FormValue("occasion")),
		Alt: r.FormValue("alt"), Address: r.FormValue("address"), New: r.FormValue("new") != "", From: r.FormValue("first"), Until: r.FormValue("last"),
		Sections: r.Form["section"], Tags: list("tags"), Words: list("words"), Place: whole(r, "place", 0), Share: whole(r, "share", 0)}
	s.bannerChanged(w, r, s.at(r).Banners.Set(id(r), whole(r, "version", 0), doc))
}

func (s *server) setBannerPicture(w http.ResponseWriter, r *http.Request) {
	s.bannerChanged(w, r, s.at(r).Banners.SetPicture(id(r), number(r.FormValue("picture"))))
}

func (s *server) approveBanner(w http.ResponseWriter, r *http.Request) {
	seen := banners.Seen{Version: whole(r, "version", 0), Picture: whole(r, "picture-version", 0)}
	s.bannerChanged(w, r, s.at(r).Banners.Approve(id(r), seen))
}

func (s *server) stopBanner(w http.ResponseWriter, r *http.Request) {
	s.bannerChanged(w, r, s.at(r).Banners.Stop(id(r)))
}

func (s *server) letBannerGoOn(w http.ResponseWriter, r *http.Request) {
	s.bannerChanged(w, r, s.at(r).Banners.GoOn(id(r)))
}

func (s *server) bannerStep(w http.ResponseWriter, r *http.Request) {
	s.bannerChanged(w, r, s.at(r).Banners.ShowStep(id(r), whole(r, "seq", -1)))
}

func (s *server) dropBanner(w http.ResponseWriter, r *http.Request) {
	if err := s.at(r).Banners.Drop(id(r)); err != nil {
		s.fail(w, r, err)
		return
	}
	s.goOn(w, r, "/banners")
}

func (s *server) bringBannerBack(w http.ResponseWriter, r *http.Request) {
	s.bannerChanged(w, r, s.at(r).Banners.BringBack(id(r)))
}

// landOnBanner takes a file in for a banner.
func (s *server) landOnBanner(w http.ResponseWriter, r *http.Request) {
	name, body := s.streamed(w, r, "the file")
	if _, err := s.at(r).Banners.Bring(id(r), name, body); err != nil {
		s.fail(w, r, err)
		return
	}
	w.WriteHeader(http.StatusNoContent)
}

// bannerShown is the picture of a banner as it is drafted, at a size of its spot.
func (s *server) bannerShown(w http.ResponseWriter, r *http.Request) {
	f, err := s.at(r).Banners.Shown(id(r), chi.URLParam(r, "size") == "phone")
	s.serveFile(w, r, f, err, "no-cache")
}
