package web

import (
	"cmp"
	"fmt"
	"io"
	"mime"
	"net/http"
	"os"
	"slices"
	"strings"
	"time"

	"github.com/go-chi/chi/v5"

	"mivlet/core/page"
	"mivlet/core/rules"
	"mivlet/desk/pages"
	"mivlet/desk/publish"
	"mivlet/store"
)

// stationRoutes are what is done with a whole page.
func (s *server) stationRoutes(r chi.Router) {
	r.Post("/rename", s.renamePage)
	r.Post("/hand-over", s.handOver)
	r.Post("/duplicate", s.duplicatePage)
	r.Post("/delete", s.deletePage)
	r.Post("/bring-back", s.bringPageBack)
	r.Post("/put-back", s.putBack)
	r.Post("/put-back-words", s.putBackWords)
	r.Post("/offline", s.takePageOff)
	r.Get("/widths", s.widths)
	r.Get("/preview", s.pagePreview)
	r.Get("/archive", s.archive)
	r.Get("/take-along", s.takeAlong)
	r.Get("/html", s.pageHTML)
}

// pagesView is the station: the pages that were asked for.
type pagesView struct {
	Groups       []pageGroup
	Own          []rules.Section // that whoever is signed in works for
	All          []rules.Section
	Arrangements []page.Arrangement
	Section      string
	State        string // "", draft, live or changed
	Findings     string // "", stop, warn or none
	Sort         string // "" by section, or newest
	Text         string // words in titles, summaries, for whom, tags
	Category     string
	Categories   []rules.Category
	house        rules.Rules
	Shown, Count int
	First        []store.PageTitle // live pages on which what is hidden can be guessed back
	Deleted      []deletedPage
	Samples      offersSamples
	Told         string // what was just done
}

// Narrowed reports whether something besides words says which pages are shown, or how.
func (v pagesView) Narrowed() bool {
	return v.Section+v.State+v.Findings+v.Sort+v.Category != ""
}

// pageGroup is some pages under a heading.
type pageGroup struct {
	Title, Section string // Section is empty where they are of several
	Pages          []pages.PageLine
}

// pages lists the pages by section, state, findings and last change.
func (s *server) pages(w http.ResponseWriter, r *http.Request) {
	lines, err := s.at(r).Pages.PageLines()
	if err != nil {
		s.fail(w, r, err)
		return
	}
	first, err := s.at(r).Pages.AveragedPages()
	if err != nil {
		s.fail(w, r, err)
		return
	}
	deleted, err := s.deletedPages(r)
	if err != nil {
		s.fail(w, r, err)
		return
	}
	there, err := s.at(r).Samples.Now()
	if err != nil {
		s.fail(w, r, err)
		return
	}
	house := s.at(r).Rules()
	v := pagesView{First: first, Deleted: deleted, Samples: offersSamples{there, s.at(r).Who().WorksSomewhere()}, Told: removed(r), Own: ownSections(house, s.at(r).Who()), All: house.Sections, Arrangements: page.Arrangements, Count: len(lines),
		Section: r.FormValue("section"), State: r.FormValue("state"), Findings: r.FormValue("findings"), Sort: r.FormValue("sort"),
		Text: strings.TrimSpace(r.FormValue("q")), Category: r.FormValue("category"), Categories: house.Categories, house: house}
	lines = slices.DeleteFunc(lines, func(l pages.PageLine) bool { return !v.wants(l) })
	v.Shown = len(lines)
	if v.Sort == "newest" {
		slices.SortStableFunc(lines, func(a, b pages.PageLine) int { return cmp.Compare(b.UpdatedAt.UnixNano(), a.UpdatedAt.UnixNano()) })
		v.Groups = []pageGroup{{Title: "Changed last", Pages: lines}}
	} else {
		if fronts := slices.DeleteFunc(slices.Clone(lines), func(l pages.PageLine) bool { return l.Section != "" }); len(fronts) > 0 {
			v.Groups = append(v.Groups, pageGroup{Title: house.House, Pages: fronts})
		}
		for _, section := range house.Sections {
			g := pageGroup{Title: section.Title, Section: section.Code}
			for _, l := range lines {
				if l.Section == section.Code {
					g.Pages = append(g.Pages, l)
				}
			}
			if len(g.Pages) > 0 {
				v.Groups = append(v.Groups, g)
			}
		}
	}
	s.screen(w, r, "pages", "Pages", "pages", v)
}

// wants reports whether a page was asked for.
func (v pagesView) wants(l pages.PageLine) bool {
	if v.Section != "" && v.Section != l.Section || v.State != "" && v.State != l.State() {
		return false
	}
	if v.Category != "" && !l.Doc.Details.In(v.house, v.Category) || v.Text != "" && !holdsWords(l, v.Text) {
		return false
	}
	switch v.Findings {
	case "stop":
		return l.Stops > 0
	case "warn":
		return l.Stops+l.Warns > 0
	case "none":
		return l.Stops+l.Warns == 0
	}
	return true
}

// holdsWords reports whether what is known of a page holds all of some words.
func holdsWords(l pages.PageLine, text string) bool {
	d := l.Doc.Details
	all := strings.ToLower(strings.Join([]string{l.Doc.Title, d.Summary, d.Whom, strings.Join(d.Tags, " "), d.Days(), l.Slug}, " "))
	for _, word := range strings.Fields(strings.ToLower(text)) {
		if !strings.Contains(all, word) {
			return false
		}
	}
	return true
}

// CanWork reports whether whoever is signed in works for a section.
func (v pagesView) CanWork(section string) bool {
	return slices.ContainsFunc(v.Own, func(s rules.Section) bool { return s.Code == section })
}

func (s *server) newPage(w http.ResponseWriter, r *http.Request) {
	page, err := s.at(r).Pages.NewPage(r.FormValue("section"), r.FormValue("title"), r.FormValue("arrangement"))
	if err != nil {
		s.fail(w, r, err)
		return
	}
	s.goOn(w, r, fmt.Sprintf("/pages/%d", page))
}

func (s *server) duplicatePage(w http.ResponseWriter, r *http.Request) {
	page, err := s.at(r).Pages.DuplicatePage(id(r))
	if err != nil {
		s.fail(w, r, err)
		return
	}
	s.goOn(w, r, fmt.Sprintf("/pages/%d", page))
}

func (s *server) renamePage(w http.ResponseWriter, r *http.Request) {
	s.pageChanged(w, r, s.at(r).Pages.RenamePage(id(r), r.FormValue("title"), r.FormValue("slug")))
}

func (s *server) handOver(w http.ResponseWriter, r *http.Request) {
	s.pageChanged(w, r, s.at(r).Pages.HandOver(id(r), r.FormValue("section")))
}

func (s *server) putBack(w http.ResponseWriter, r *http.Request) {
	_, err := s.at(r).Publish.PutBack(r.Context(), id(r), number(r.FormValue("live")))
	s.pageChanged(w, r, err)
}

func (s *server) putBackWords(w http.ResponseWriter, r *http.Request) {
	s.pageChanged(w, r, s.at(r).Publish.PutBackWords(id(r), number(r.FormValue("live"))))
}

func (s *server) takePageOff(w http.ResponseWriter, r *http.Request) {
	s.pageChanged(w, r, s.at(r).Publish.TakePageOff(id(r)))
}

// archive gives a page as a ZIP.
func (s *server) archive(w http.ResponseWriter, r *http.Request) {
	p, err := s.at(r).Pages.Page(id(r))
	if err != nil {
		s.fail(w, r, err)
		return
	}
	s.sendArchive(w, r, p.Slug, func(to io.Writer) error { return s.at(r).Publish.PageArchive(to, id(r), s.dressing()) })
}

// sectionArchive gives all pages of a section as a ZIP.
func (s *server) sectionArchive(w http.ResponseWriter, r *http.Request) {
	section := chi.URLParam(r, "section")
	s.sendArchive(w, r, section, func(to io.Writer) error { return s.at(r).Publish.SectionArchive(to, section, s.dressing()) })
}

func (s *server) dressing() publish.Dressing {
	return publish.Dressing{CSS: s.opts.ContentCSS(), Script: s.opts.Enlarge}
}

// sendArchive makes an archive whole before it is sent, so that what falls short is
// told and not half a file.
func (s *server) sendArchive(w http.ResponseWriter, r *http.Request, name string, write func(io.Writer) error) {
	f, err := os.CreateTemp("", "mivlet-archive-")
	if err != nil {
		s.fail(w, r, err)
		return
	}
	defer func() { f.Close(); _ = os.Remove(f.Name()) }()
	if err := write(f); err != nil {
		s.fail(w, r, err)
		return
	}
	w.Header().Set("Content-Type", "application/zip")
	w.Header().Set("Content-Disposition", mime.FormatMediaType("attachment", map[string]string{"filename": name + ".zip"}))
	http.ServeContent(w, r, "", time.Time{}, f)
}

// pageHTML gives the clean HTML of a page, or of a block, to copy.
func (s *server) pageHTML(w http.ResponseWriter, r *http.Request) {
	text, err := s.at(r).Publish.PageHTML(id(r), r.FormValue("block"))
	if err != nil {
		s.fail(w, r, err)
		return
	}
	w.Header().Set("Content-Type", "text/plain; charset=utf-8")
	_, _ = w.Write([]byte(text))
}
