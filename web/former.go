package web

import (
	"fmt"
	"mime"
	"net/http"
	"net/url"
	"path"
	"strings"
	"time"

	"github.com/go-chi/chi/v5"

	"mivlet/core/fit"
	"mivlet/core/mend"
	"mivlet/core/survey"
	"mivlet/core/words"
	"mivlet/desk/access"
	"mivlet/desk/former"
	"mivlet/desk/jobs"
	"mivlet/sentences"
	"mivlet/store"
)

// formerRoutes are the screens of sites that were made elsewhere.
func (s *server) formerRoutes(r chi.Router) {
	r.Get("/former", s.formerSites)
	r.Post("/former/fetch", s.fetchFormer)
	r.Route("/former/{id}", func(r chi.Router) {
		r.Get("/", s.formerSite)
		r.Get("/describe", s.describeFormer)
		r.Post("/describe", s.describedFormer)
		r.Get("/names", s.nameFormer)
		r.Post("/names", s.namedFormer)
		r.Get("/changes", s.formerChanges)
		r.Post("/leave", s.leaveFormer)
		r.Post("/take-back", s.takeBackFormer)
		r.Post("/mend", s.mendFormer)
		r.Post("/fetch", s.fetchOnFormer)
		r.Post("/look", s.lookIntoFormer)
		r.Post("/cover", s.coverFormer)
		r.Post("/allow", s.allowFormer)
		r.Get("/compare", s.compareFormer)
		r.Post("/compare", s.compareAllFormer)
		r.Get("/carry", s.carryFormer)
		r.Post("/carry", s.carryFormerPage)
		r.Get("/mended.zip", s.takeFormer)
		r.Post("/forget", s.forgetFormer)
		r.Get("/small/{side}/*", s.smallFormer)
		r.Get("/was/*", s.formerFile(false))
		r.Get("/now/*", s.formerFile(true))
	})
}

func (s *server) formerSites(w http.ResponseWriter, r *http.Request) {
	all, err := s.at(r).Former.Sites()
	if err != nil {
		s.fail(w, r, err)
		return
	}
	v := formersView{All: all, MayKeep: s.at(r).Who().Keeper}
	if v.MayKeep {
		job, site, err := s.at(r).BringIn.Fetching()
		if err != nil {
			s.fail(w, r, err)
			return
		}
		v.Job, v.Goes = s.progressOf(r, job), site
	}
	s.screen(w, r, "formers", "Former sites", "shelves", v)
}

// formersView is all former sites.
type formersView struct {
	All     []store.FormerSite
	MayKeep bool
	Job     *jobs.Progress // that fetches one, or failed to
	Goes    uint           // the site of which it fetches the rest; 0 where it is a new one
}

// Fetches reports whether the rest of a site is being fetched.
func (v formersView) Fetches(f store.FormerSite) bool {
	return v.Job != nil && !v.Job.Ended && f.ID == v.Goes
}

// formerView is a former site on its screen.
type formerView struct {
	former.View
	Kinds [][]survey.Finding
	Job   *jobs.Progress // that mends it
	Look  *jobs.Progress // that looks into its pictures
}

func (s *server) formerSite(w http.ResponseWriter, r *http.Request) {
	v, err := s.at(r).Former.Of(id(r))
	if err != nil {
		s.fail(w, r, err)
		return
	}
	view := formerView{View: v, Kinds: survey.ByKind(v.Report.Findings), Job: s.progressOf(r, v.Mending), Look: s.progressOf(r, v.Looking)}
	s.screen(w, r, "former", v.Title, "shelves", view)
}

// fewWidths is how many of the widths are told at which pictures are shown.
const fewWidths = 6

// Widths are those at which most pictures are shown, on a desktop.
func (v formerView) Widths() []survey.Column {
	return v.Report.Columns[:min(len(v.Report.Columns), fewWidths)]
}

// Share is how many of 100 a number of bytes is of all that the pictures weigh.
func (v formerView) Share(bytes int64) int {
	return int(max(1, min(100, 100*bytes/max(v.Sum.Bytes, 1))))
}

// PageShare is the same of what comes with a page.
func (v formerView) PageShare() int {
	if v.MendedSum == nil {
		return 100
	}
	return int(max(1, min(100, 100*v.MendedSum.PerPage/max(v.Sum.PerPage, 1))))
}

// Title is what findings of a kind are.
func (formerView) KindTitle(kind []survey.Finding) string {
	return sentences.SurveyedKind(kind[0].Code)
}

// Weighs is what they cost together.
func (formerView) Weighs(kind []survey.Finding) string {
	if sum := survey.Bytes(kind); sum > 0 {
		return fit.Weight(sum)
	}
	return ""
}

// Says is what a finding says, and what to do.
func (formerView) Says(f survey.Finding) [2]string {
	what, way := sentences.Surveyed(f)
	return [2]string{what, way}
}

// Mends tells who mends findings of a kind.
func (formerView) Mends(kind []survey.Finding) string { return mendedBy(kind[0].Code) }

// mendedBy tells who mends what: it alone, you, or nobody here.
func mendedBy(code survey.Code) string {
	if former.NeedsWords(code) {
		return "Describe them"
	}
	if former.OfPeople(code) {
		return "Cover them"
	}
	switch code {
	case survey.Position, survey.Serial, survey.People, survey.FarTooLarge, survey.PhotoAsPNG, survey.Uncompressed, survey.WrongEnding, survey.SameContent, survey.NotSized, survey.LayoutShift:
		return "Mended by itself"
	case survey.CameraName:
		return "Name them"
	}
	return ""
}

// shownOfKind is how many findings of a kind are listed.
const shownOfKind = 60

// First are the first ones of a kind, which are listed.
func (formerView) First(kind []survey.Finding) []survey.Finding {
	return kind[:min(len(kind), shownOfKind)]
}

// address is the address of a file of a former site, as it was or as it is now.
func (v formerView) address(which, at string) string {
	return fmt.Sprintf("/former/%d/%s/%s", v.ID, which, (&url.URL{Path: at}).EscapedPath())
}

// Was is the address of a file as it was.
func (v formerView) Was(at string) string { return v.address("was", at) }

// Now is the address of a file as it is now.
func (v formerView) Now(at string) string { return v.address("now", at) }

// Small is the address of a picture for the screen.
func (v formerView) Small(side int, at string) string {
	return v.address(fmt.Sprintf("small/%d", side), at)
}

// Base is the name of a file.
func (formerView) Base(at string) string { return path.Base(at) }

// spotView is a picture that is described.
type spotView struct {
	formerView
	Spot  former.Spot
	There bool
}

func (s *server) describeFormer(w http.ResponseWriter, r *http.Request) {
	s.spot(w, r, mend.Spot{Page: r.FormValue("after"), Address: r.FormValue("address")})
}

func (s *server) spot(w http.ResponseWriter, r *http.Request, after mend.Spot) {
	v, spot, there, err := s.at(r).Former.Next(id(r), after)
	if err != nil {
		s.fail(w, r, err)
		return
	}
	s.screen(w, r, "former-describe", "Describe pictures", "shelves", spotView{formerView: formerView{View: v}, Spot: spot, There: there})
}

func (s *server) describedFormer(w http.ResponseWriter, r *http.Request) {
	at := mend.Spot{Page: r.FormValue("page"), Address: r.FormValue("address")}
	text := r.FormValue("text")
	switch use := r.FormValue("use"); {
	case r.FormValue("decorative") != "":
		text = ""
	case use != "":
		text = use
	case strings.TrimSpace(text) == "":
		s.fail(w, r, access.Refuse(access.Bad, "Nothing is written yet.", "Say what matters in the picture, or choose Decoration."))
		return
	}
	if _, err := s.at(r).Former.Describe(id(r), at, text, r.FormValue("everywhere") != ""); err != nil {
		s.fail(w, r, err)
		return
	}
	http.Redirect(w, r, fmt.Sprintf("/former/%d/describe?", id(r))+url.Values{"after": {at.Page}, "address": {at.Address}}.Encode(), http.StatusSeeOther)
}

func (s *server) nameFormer(w http.ResponseWriter, r *http.Request) {
	v, names, err := s.at(r).Former.Names(id(r))
	if err != nil {
		s.fail(w, r, err)
		return
	}
	view := struct {
		formerView
		Names []former.Name
		More  int
	}{formerView{View: v}, names[:min(len(names), 50)], max(0, len(names)-50)}
	s.screen(w, r, "former-names", "Name pictures", "shelves", view)
}

func (s *server) namedFormer(w http.ResponseWriter, r *http.Request) {
	names := map[string]string{}
	for _, file := range r.Form["file"] {
		names[file] = r.FormValue("name " + file)
	}
	if err := s.at(r).Former.Rename(id(r), names); err != nil {
		s.fail(w, r, err)
		return
	}
	s.goOn(w, r, fmt.Sprintf("/former/%d/names", id(r)))
}

// changesView is what mending changes.
type changesView struct {
	formerView
	Plan  *mend.Plan
	Pages []mend.Page // of which the changes are shown
	More  int         // pages
}

// pagesOfChanges is how many pages are listed with their changes.
const pagesOfChanges = 40

func (s *server) formerChanges(w http.ResponseWriter, r *http.Request) {
	v, plan, err := s.at(r).Former.Changes(id(r))
	if err != nil {
		s.fail(w, r, err)
		return
	}
	shown := plan.Pages[:min(len(plan.Pages), pagesOfChanges)]
	s.screen(w, r, "former-changes", "What changes", "shelves", changesView{formerView{View: v}, plan, shown, len(plan.Pages) - len(shown)})
}

// KindsOf says what happens to a tag.
func (changesView) KindsOf(c mend.Change) string {
	var all []string
	for _, k := range c.Kinds {
		all = append(all, kindWords[k])
	}
	return words.Listed(all)
}

// kindWords say what happens to a tag or a file.
var kindWords = map[mend.Kind]string{
	mend.Described: "described", mend.Covered: "covered", mend.Lighter: "made lighter", mend.Cleaned: "cleaned of what it told", mend.Named: "named",
	mend.Joined: "taken from one file", mend.Sized: "given its size", mend.Later: "fetched when it is needed",
}

// Decided says what somebody decided.
func (changesView) Decided(c store.FormerChoice) string {
	switch {
	case c.Kind == store.FormerWords && c.Text == "":
		return fmt.Sprintf("%s on %s is decoration", c.Address, c.Page)
	case c.Kind == store.FormerWords:
		return fmt.Sprintf("%s on %s says: %s", c.Address, c.Page, c.Text)
	case c.Kind == store.FormerAllowed:
		return c.File + " may be shown with the people in it"
	case c.Kind == store.FormerCovered:
		return c.File + " is covered as on the bench"
	case c.Kind == store.FormerName:
		return fmt.Sprintf("%s is called %s", c.File, c.Text)
	}
	return c.File + " stays as it is"
}

func (s *server) leaveFormer(w http.ResponseWriter, r *http.Request) {
	s.formerDone(w, r, s.at(r).Former.Leave(id(r), r.FormValue("file")), "changes")
}

func (s *server) takeBackFormer(w http.ResponseWriter, r *http.Request) {
	s.formerDone(w, r, s.at(r).Former.TakeBack(id(r), number(r.FormValue("choice"))), "changes")
}

func (s *server) mendFormer(w http.ResponseWriter, r *http.Request) {
	_, err := s.at(r).Former.Mend(id(r))
	s.formerDone(w, r, err, "")
}

// formerDone goes back to a screen of the site, or tells what went wrong.
func (s *server) formerDone(w http.ResponseWriter, r *http.Request, err error, screen string) {
	if err != nil {
		s.fail(w, r, err)
		return
	}
	s.goOn(w, r, fmt.Sprintf("/former/%d/%s", id(r), screen))
}

func (s *server) takeFormer(w http.ResponseWriter, r *http.Request) {
	file, name, err := s.at(r).Former.Take(id(r))
	if err != nil {
		s.fail(w, r, err)
		return
	}
	defer file.Close()
	w.Header().Set("Content-Type", "application/zip")
	w.Header().Set("Content-Disposition", mime.FormatMediaType("attachment", map[string]string{"filename": name}))
	w.Header().Set("Cache-Control", "private, no-store")
	http.ServeContent(w, r, "", time.Time{}, file)
}

func (s *server) forgetFormer(w http.ResponseWriter, r *http.Request) {
	if err := s.at(r).Former.Drop(id(r), strings.TrimSpace(r.FormValue("title"))); err != nil {
		s.fail(w, r, err)
		return
	}
	s.goOn(w, r, "/former")
}
