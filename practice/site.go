// Package practice is the practice site: a stand-in for a public website that
// ships with Mivlet. It serves what was published, on an origin of its own, as
// a visitor would get it, and says that it is a stand-in.
package practice

import (
	"bytes"
	"crypto/sha256"
	_ "embed" // the stylesheets
	"encoding/hex"
	"fmt"
	"html/template"
	"io"
	"net/http"
	"path"
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/go-chi/chi/v5"
	"github.com/go-chi/chi/v5/middleware"

	"mivlet/core/page"
	"mivlet/core/rules"
	"mivlet/internal/head"
)

// File is one published file.
type File struct {
	io.ReadSeekCloser
	MediaType string
	Tag       string // changes with the content
	Page      uint   // whose page it is, as a whole; 0 for other files
}

// Source is where the site gets what was published.
type Source interface {
	// Open opens what is published at a path. version, the beginning of a
	// content hash, may be empty. It fails with an error that Missing knows.
	Open(path, version string) (File, error)
	// Links returns every live page.
	Links() ([]Link, error)
	// Whereabouts tells of a path where nothing is published: the path that it has
	// moved to, or the title of the page that was taken off there.
	Whereabouts(path string) (moved, gone string, err error)
	// Frames returns, by their IDs, what stands in those spots of a page in which something
	// runs now.
	Frames(page uint, spots []string) (map[string]string, error)
	// Banner returns what a visitor gets now in a spot of a page; false where nothing runs.
	// It counts as shown where counts says so.
	Banner(spot string, page uint, counts bool) (page.BannerShow, bool, error)
	// Follow returns where a banner leads.
	Follow(banner uint, counts bool) (address string, err error)
	// Missing reports whether an error means that nothing is published there, and
	// whether something was once.
	Missing(error) (missing, gone bool)
}

// Link is a live page in the navigation.
type Link struct{ Section, Title, Path string }

// Page is a page to be laid out.
type Page struct {
	Title   string
	Section string // whose page it is; "" for the site's own
	Main    string // the inside of its main element
	Head    string // more elements of its head, escaped
	Style   string // address of the page's own measures; "" where it has none
	Top     *Top   // a picture at the top; nil where it begins as usual
}

// Top is a picture at the top of a page, behind the name of the site.
type Top struct {
	HTML    string // the picture, escaped
	Classes string // of the element that it stands in
	Below   bool   // the way to the sections stands below it
}

//go:embed site.css
var frame []byte

//go:embed content.css
var content []byte

// Enlarge is the script that helps with enlarged pictures. Pages work without it.
//
//go:embed enlarge.js
var Enlarge []byte

// Album is the script that opens pictures of albums over the page. Pages work without it.
//
//go:embed album.js
var Album []byte

// Site is the site of one house, by the rules that hold at the moment.
type Site struct{ Rules func() rules.Rules }

// Handler serves the site from a source.
func (s Site) Handler(from Source) http.Handler {
	r := chi.NewRouter()
	seen := &visits{}
	r.Use(middleware.Recoverer, head.AsGet, harden)
	r.Get("/visits", func(w http.ResponseWriter, req *http.Request) {
		s.own(w, http.StatusOK, Page{Title: "What visitors fetched", Main: string(seen.list(req))})
	})
	r.Get("/line/slow", func(w http.ResponseWriter, req *http.Request) { setLine(w, req, "slow") })
	r.Get("/line/usual", func(w http.ResponseWriter, req *http.Request) { setLine(w, req, "usual") })
	r.Group(func(r chi.Router) {
		r.Use(seen.watch)
		s.routes(r, from)
	})
	return r
}

// Plain answers as [Site.Handler] does, and keeps nothing of who asked.
func (s Site) Plain(from Source) http.Handler {
	r := chi.NewRouter()
	s.routes(r, from)
	return r
}

// routes are what the site is made of.
func (s Site) routes(r chi.Router, from Source) {
	r.Get("/site.css", func(w http.ResponseWriter, req *http.Request) { fixed(w, req, "text/css; charset=utf-8", s.css()) })
	r.Get("/content.css", func(w http.ResponseWriter, req *http.Request) {
		fixed(w, req, "text/css; charset=utf-8", s.ContentCSS())
	})
	r.Get("/enlarge.js", func(w http.ResponseWriter, req *http.Request) {
		fixed(w, req, "text/javascript; charset=utf-8", Enlarge)
	})
	r.Get("/album.js", func(w http.ResponseWriter, req *http.Request) {
		fixed(w, req, "text/javascript; charset=utf-8", Album)
	})
	s.spotRoutes(r, from)
	r.Get("/favicon.ico", func(w http.ResponseWriter, _ *http.Request) { w.WriteHeader(http.StatusNoContent) })
	r.Get("/*", func(w http.ResponseWriter, req *http.Request) { s.serve(w, req, from) })
}

// fixed serves a file that every page shares: a browser asks each time whether it is
// still the same.
func fixed(w http.ResponseWriter, r *http.Request, mediaType string, data []byte) {
	sum := sha256.Sum256(data)
	w.Header().Set("Content-Type", mediaType)
	w.Header().Set("Cache-Control", "no-cache")
	w.Header().Set("ETag", fmt.Sprintf("%q", hex.EncodeToString(sum[:8])))
	http.ServeContent(w, r, "", time.Time{}, bytes.NewReader(data))
}

// css is the whole stylesheet of the site.
func (s Site) css() []byte {
	var b bytes.Buffer
	b.Write(frame)
	b.Write(s.ContentCSS())
	return b.Bytes()
}

// ContentCSS styles what stands inside an element of class content, with the
// widths of the house. The page screen uses the same, so that a draft looks
// like the live page.
func (s Site) ContentCSS() []byte {
	var b bytes.Buffer
	b.Write(page.CSS(s.Rules()))
	b.Write(content)
	return b.Bytes()
}

// harden sets what every answer carries: no script or style but the site's own files.
func harden(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		h := w.Header()
		h.Set("X-Content-Type-Options", "nosniff")
		h.Set("Referrer-Policy", "same-origin")
		h.Set("Content-Security-Policy", "default-src 'none'; img-src 'self'; style-src 'self'; script-src 'self'; connect-src 'self'; frame-src 'self'; base-uri 'none'; form-action 'none'")
		next.ServeHTTP(w, r)
	})
}

// ofTheSite reports whether files of a media type are what pages are made of. No house keeps a
// file of such a type for visitors to download.
func ofTheSite(mediaType string) bool {
	plain, _, _ := strings.Cut(mediaType, ";")
	return slices.Contains([]string{"text/html", "text/css", "image/jpeg", "image/png", "image/gif", "image/webp", "image/avif"}, plain)
}

func (s Site) serve(w http.ResponseWriter, r *http.Request, from Source) {
	at := path.Clean(r.URL.Path)
	version := r.URL.Query().Get("v")
	f, err := from.Open(at, version)
	switch {
	case err != nil:
		if missing, gone := from.Missing(err); missing {
			// Without a front page of its own, the site or a section has a bare list.
			section := strings.TrimPrefix(at, "/")
			if _, ok := s.Rules().Section(section); ok || section == "" {
				s.index(w, r, from, section)
				return
			}
			s.nothing(w, r, from, at, gone)
			return
		}
		http.Error(w, "The site has a problem. Please try again.", http.StatusInternalServerError)
		return
	}
	defer f.Close()
	w.Header().Set("Content-Type", f.MediaType)
	if f.Page != 0 {
		s.servePage(w, r, from, f)
		return
	}
	if !ofTheSite(f.MediaType) { // a file to download is never opened here
		w.Header().Set("Content-Disposition", "attachment")
	}
	w.Header().Set("ETag", strconv.Quote(f.Tag[:16]))
	if version != "" && strings.HasPrefix(f.Tag, version) || strings.Contains(path.Base(at), "-"+f.Tag[:16]+".") { // its address changes with it
		// What is taken off the air must not stay with visitors for long.
		w.Header().Set("Cache-Control", fmt.Sprintf("public, max-age=%d, immutable", s.Rules().Placing.CacheHours*3600))
	} else {
		w.Header().Set("Cache-Control", "no-cache")
	}
	http.ServeContent(w, r, "", time.Time{}, f)
}

// nothing answers where nothing is published: it leads on where the page has
// moved, and is polite where it was taken off.
func (s Site) nothing(w http.ResponseWriter, r *http.Request, from Source, at string, was bool) {
	moved, gone, err := from.Whereabouts(at)
	switch {
	case err == nil && moved != "":
		http.Redirect(w, r, moved, http.StatusMovedPermanently)
	case err == nil && gone != "":
		s.own(w, http.StatusGone, Page{Title: gone, Main: "<h1>" + template.HTMLEscapeString(gone) + "</h1>\n<div class=\"flow\">\n<p>This page was taken off. Nothing is wrong with your browser. <a href=\"/\">What else there is</a></p>\n</div>\n"})
	case was: // a file of a page
		s.own(w, http.StatusGone, Page{Title: "Taken off", Main: "<h1>Taken off</h1>\n<div class=\"flow\">\n<p>What was here was taken off. <a href=\"/\">To the start</a></p>\n</div>\n"})
	default:
		s.own(w, http.StatusNotFound, Page{Title: "Nothing here", Main: "<h1>Nothing here</h1>\n<div class=\"flow\">\n<p>This page is not published, or it has moved. <a href=\"/\">To the start</a></p>\n</div>\n"})
	}
}

// own answers with a page of the site's own.
func (s Site) own(w http.ResponseWriter, status int, p Page) {
	w.Header().Set("Content-Type", "text/html; charset=utf-8")
	w.Header().Set("Cache-Control", "no-store")
	w.WriteHeader(status)
	_ = s.Write(w, p)
}

// index lists the pages of a section, or, where it is empty, of all.
func (s Site) index(w http.ResponseWriter, _ *http.Request, from Source, section string) {
	links, err := from.Links()
	if err != nil {
		http.Error(w, "The site has a problem. Please try again.", http.StatusInternalServerError)
		return
	}
	var b strings.Builder
	title := s.Rules().House
	if known, ok := s.Rules().Section(section); ok {
		title = known.Title
	}
	fmt.Fprintf(&b, "<h1>%s</h1>\n<div class=\"flow\">\n", template.HTMLEscapeString(title))
	n := 0
	for _, known := range s.Rules().Sections {
		var list []string
		for _, l := range links {
			if l.Section == known.Code && (section == "" || section == l.Section) {
				list = append(list, fmt.Sprintf("  <li><a href=\"%s\">%s</a></li>\n", template.HTMLEscapeString(l.Path), template.HTMLEscapeString(l.Title)))
			}
		}
		if len(list) == 0 {
			continue
		}
		if n += len(list); section == "" {
			fmt.Fprintf(&b, "<h2>%s</h2>\n", template.HTMLEscapeString(known.Title))
		}
		fmt.Fprintf(&b, "<ul>\n%s</ul>\n", strings.Join(list, ""))
	}
	if n == 0 {
		b.WriteString("<p>Nothing is published yet.</p>\n")
	}
	b.WriteString("</div>\n")
	s.own(w, http.StatusOK, Page{Title: title, Section: section, Main: b.String()})
}

var document = template.Must(template.New("page").Parse(`<!DOCTYPE html>
<html lang="{{.Language}}">
<head>
<meta charset="utf-8">
<meta name="viewport" content="width=device-width, initial-scale=1">
<title>{{.Title}}{{if ne .Title .House}} · {{.House}}{{end}}</title>
<link rel="stylesheet" href="/site.css">
{{with .Style}}<link rel="stylesheet" href="{{.}}">
{{end}}{{.Head}}<script src="/enlarge.js" defer></script>
{{if .Albums}}<script src="/album.js" type="module"></script>
{{end}}</head>
<body>
<header class="site{{with .Top}} {{.Classes}}{{end}}">
{{.TopHTML}}  <a class="site-name" href="/">{{.House}}</a>
{{if not .Below}}{{template "ways" .}}{{end}}</header>
{{if .Below}}<div class="site ways">
{{template "ways" .}}</div>
{{end}}<main class="content">
{{.Main}}</main>
<footer class="site">A practice site: it shows what was published, to this machine only. <a href="/visits">What visitors fetched, and a slow line to try</a></footer>
</body>
</html>
{{define "ways"}}  <nav aria-label="Sections">
    <ul>
{{range .Sections}}      <li><a href="/{{.Code}}"{{if eq .Code $.Section}} aria-current="true"{{end}}>{{.Title}}</a></li>
{{end}}    </ul>
  </nav>
{{end}}`))

// Write writes a whole page of the site around the inside of its main element.
func (s Site) Write(w io.Writer, p Page) error {
	r := s.Rules()
	var top Top
	if p.Top != nil {
		top = *p.Top
	}
	return document.Execute(w, struct {
		Page
		Main, Head, TopHTML template.HTML
		Below, Albums       bool
		Language, House     string
		Sections            []rules.Section
	}{p, template.HTML(p.Main), template.HTML(p.Head), template.HTML(top.HTML), top.Below, strings.Contains(p.Main, `class="album `), r.Words.Language, r.House, r.Sections}) //nolint:gosec // made and escaped by core/page
}
