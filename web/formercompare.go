package web

import (
	"bytes"
	"fmt"
	"io"
	"mime"
	"net/http"
	"path"
	"regexp"
	"slices"
	"strconv"
	"strings"

	"github.com/go-chi/chi/v5"

	"mivlet/core/fit"
	"mivlet/core/survey"
	"mivlet/desk/access"
	"mivlet/desk/former"
	"mivlet/desk/jobs"
)

// besideView is a page of a former site before and after.
type besideView struct {
	formerView
	Page   string   // its path
	Pages  []string // that change
	Before string   // the path of the changed page before it; empty where there is none
	After  string
	Widths []int // of windows, in CSS pixels
	Width  int

	Compared  former.Compared
	Comparing *jobs.Progress // that compares all pages
}

// Areas are where the page looks otherwise in that window, outside of its pictures.
func (v besideView) Areas() []fit.Box {
	for _, one := range v.Compared.Pages[v.Page] {
		if one.Width() == v.Width {
			return one.Areas
		}
	}
	return nil
}

// Compares reports whether pages are being compared.
func (v besideView) Compares() bool { return v.Comparing != nil && !v.Comparing.Ended }

// All is how many pages were compared.
func (v besideView) All() int { return len(v.Compared.Pages) }

// Verdict says what comparing all pages came to.
func (v besideView) Verdict() string {
	looks := func(n int) string {
		if n == 1 {
			return "looks"
		}
		return "look"
	}
	const asBefore = "as before in all windows, outside of the pictures."
	switch c, all := v.Compared, v.All(); {
	case len(c.Other) > 0:
		return fmt.Sprintf("%d of %s %s different outside of the pictures.", len(c.Other), access.Count(all, "page"), looks(len(c.Other)))
	case len(c.Not) > 0:
		return fmt.Sprintf("%s %s %s", access.Count(c.Alike, "page"), looks(c.Alike), asBefore)
	case all == 1:
		return "The page looks " + asBefore
	default:
		return fmt.Sprintf("All %d pages look %s", all, asBefore)
	}
}

// fewOthers is how many pages that look otherwise are listed.
const fewOthers = 30

// Others are the first pages that look otherwise.
func (v besideView) Others() []string {
	return v.Compared.Other[:min(len(v.Compared.Other), fewOthers)]
}

// Window is the width of the first window in which a page looks otherwise.
func (v besideView) Window(page string) int {
	for _, one := range v.Compared.Pages[page] {
		if len(one.Areas) > 0 {
			return one.Width()
		}
	}
	return v.Width
}

// Why is why a page could not be compared.
func (v besideView) Why(page string) string {
	for _, one := range v.Compared.Pages[page] {
		if one.Fault != "" {
			return one.Fault
		}
	}
	return ""
}

// compareFormer shows a page before and after, in a window of a width.
func (s *server) compareFormer(w http.ResponseWriter, r *http.Request) {
	v, plan, err := s.at(r).Former.Changes(id(r))
	if err != nil {
		s.fail(w, r, err)
		return
	}
	view := besideView{formerView: formerView{View: v}, Page: r.FormValue("page"), Width: whole(r, "width", int(survey.Viewports[2]))}
	for _, width := range survey.Viewports {
		view.Widths = append(view.Widths, int(width))
	}
	if !slices.Contains(view.Widths, view.Width) {
		view.Width = view.Widths[2]
	}
	view.Pages = plan.Paths()
	i := max(0, slices.Index(view.Pages, view.Page))
	if len(view.Pages) > 0 {
		view.Page = view.Pages[i]
		if i > 0 {
			view.Before = view.Pages[i-1]
		}
		if i+1 < len(view.Pages) {
			view.After = view.Pages[i+1]
		}
	}
	if view.Compared, err = s.at(r).Former.Compared(id(r)); err != nil {
		s.fail(w, r, err)
		return
	}
	view.Comparing = s.progressOf(r, view.Compared.Job)
	framing(w, "frame-src 'self'", "frame-ancestors 'none'")
	s.screen(w, r, "former-compare", "Before and after", "shelves", view)
}

// compareAllFormer has all pages that changed be compared.
func (s *server) compareAllFormer(w http.ResponseWriter, r *http.Request) {
	_, err := s.at(r).Former.CompareAll(id(r))
	s.formerDone(w, r, err, "compare")
}

// formerPolicy is what a page of a former site may do where it is looked at: nothing but show itself. No script
// runs, nothing is sent, and nothing comes from elsewhere.
const formerPolicy = "sandbox allow-same-origin; default-src 'none'; img-src 'self' data:; style-src 'self' 'unsafe-inline'; font-src 'self' data:; media-src 'self'; form-action 'none'; base-uri 'self'; frame-ancestors 'self'"

// formerFile serves a file of a former site, as it was or as it is now.
func (s *server) formerFile(mended bool) http.HandlerFunc {
	which := map[bool]string{false: "was", true: "now"}[mended]
	return func(w http.ResponseWriter, r *http.Request) {
		f, err := s.at(r).Former.Open(id(r), mended, chi.URLParam(r, "*"))
		if err != nil {
			status, m := told(r, err)
			http.Error(w, m.Text, status)
			return
		}
		h := w.Header()
		h.Set("Content-Security-Policy", formerPolicy)
		h.Set("Cache-Control", "private, no-store")
		s.writeFormer(w, r, f, fmt.Sprintf("%s/former/%d/%s/", s.opts.Base, id(r), which))
	}
}

// smallFormer serves a picture of a former site for the screen; as it is, where it cannot be made small.
func (s *server) smallFormer(w http.ResponseWriter, r *http.Request) {
	side, err := strconv.Atoi(chi.URLParam(r, "side"))
	if err != nil || side < 1 {
		http.NotFound(w, r)
		return
	}
	data, err := s.at(r).Former.Small(id(r), chi.URLParam(r, "*"), side)
	if err != nil {
		s.formerFile(false)(w, r)
		return
	}
	w.Header().Set("Content-Type", http.DetectContentType(data))
	w.Header().Set("Cache-Control", "private, max-age=3600")
	_, _ = w.Write(data)
}

func (s *server) writeFormer(w http.ResponseWriter, r *http.Request, f former.File, here string) {
	switch strings.ToLower(path.Ext(f.Path)) {
	case ".html", ".htm", ".xhtml", ".shtml", ".php", ".asp", ".aspx":
		w.Header().Set("Content-Type", "text/html") // its encoding is what it says itself
	case ".css":
		w.Header().Set("Content-Type", "text/css")
	default:
		kind := mime.TypeByExtension(path.Ext(f.Path))
		if kind == "" {
			kind = "application/octet-stream"
		}
		w.Header().Set("Content-Type", kind)
		_, _ = io.Copy(w, f)
		return
	}
	data, err := io.ReadAll(f)
	if err != nil {
		s.fail(w, r, err)
		return
	}
	_, _ = io.Copy(w, bytes.NewReader(atHome(data, here)))
}

// fromRoot finds addresses that begin at the root of the site, in HTML and in CSS.
var fromRoot = regexp.MustCompile(`(?i)((?:\b(?:src|href|poster|background|data)\s*=\s*["']?|url\(\s*["']?))/([^/\s"'>)])`)

// atHome has such addresses begin where the site is looked at. So only for that: the site itself stays as it is.
func atHome(data []byte, here string) []byte {
	return fromRoot.ReplaceAll(data, []byte("${1}"+here+"${2}"))
}
