package web

import (
	"fmt"
	"net/http"
	"strings"

	"github.com/go-chi/chi/v5"

	"mivlet/core/banner"
	"mivlet/core/rules"
	"mivlet/core/words"
	"mivlet/desk/banners"
	"mivlet/desk/pictures"
	"mivlet/sentences"
	"mivlet/store"
)

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
