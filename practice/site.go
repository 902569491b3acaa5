// Package practice is the practice site: a stand-in for a public website that
// ships with Mivlet. It serves what was published, on an origin of its own, as
// a visitor would get it, and says that it is a stand-in.
package practice

import (
	"bytes"
	_ "embed" // the stylesheets
	"fmt"
	"html/template"
	"io"
	"net/http"
	"path"
	"strconv"
	"strings"
	"time"

	"github.com/go-chi/chi/v5"
	"github.com/go-chi/chi/v5/middleware"

	"mivlet/core/page"
	"mivlet/core/rules"
)

// File is one published file.
type File struct {
	io.ReadSeekCloser
	MediaType string
	Tag       string // changes with the content
}

// Source is where the site gets what was published.
type Source interface {
	// Open opens what is published at a path. version, the beginning of a
	// content hash, may be empty. It fails with an error that matches Missing.
	Open(path, version string) (File, error)
	// Links returns title and path of every live page.
	Links() ([][2]string, error)
	// Missing reports whether an error means that nothing is published there.
	Missing(error) bool
}

//go:embed site.css
var frame []byte

//go:embed content.css
var content []byte

// Site is the site of one house, by the rules that hold at the moment.
type Site struct{ Rules func() rules.Rules }

// Handler serves the site from a source.
func (s Site) Handler(from Source) http.Handler {
	r := chi.NewRouter()
	r.Use(middleware.Recoverer, harden)
	r.Get("/site.css", func(w http.ResponseWriter, _ *http.Request) {
		w.Header().Set("Content-Type", "text/css; charset=utf-8")
		w.Header().Set("Cache-Control", "no-cache")
		_, _ = w.Write(s.css())
	})
	r.Get("/favicon.ico", func(w http.ResponseWriter, _ *http.Request) { w.WriteHeader(http.StatusNoContent) })
	r.Get("/", func(w http.ResponseWriter, req *http.Request) { s.index(w, req, from) })
	r.Get("/*", func(w http.ResponseWriter, req *http.Request) { s.serve(w, req, from) })
	return r
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

// harden sets what every answer carries. Published pages need no scripts.
func harden(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		h := w.Header()
		h.Set("X-Content-Type-Options", "nosniff")
		h.Set("Referrer-Policy", "same-origin")
		h.Set("Content-Security-Policy", "default-src 'none'; img-src 'self'; style-src 'self'; base-uri 'none'; form-action 'none'")
		next.ServeHTTP(w, r)
	})
}

func (s Site) serve(w http.ResponseWriter, r *http.Request, from Source) {
	at := path.Clean(r.URL.Path)
	version := r.URL.Query().Get("v")
	f, err := from.Open(at, version)
	switch {
	case err != nil && from.Missing(err):
		w.WriteHeader(http.StatusNotFound)
		_ = s.Write(w, "Nothing here", template.HTML("<h1>Nothing here</h1>\n<p>This page is not published, or it has moved. <a href=\"/\">To the start</a></p>\n"))
		return
	case err != nil:
		http.Error(w, "The site has a problem. Please try again.", http.StatusInternalServerError)
		return
	}
	defer f.Close()
	w.Header().Set("Content-Type", f.MediaType)
	w.Header().Set("ETag", strconv.Quote(f.Tag[:16]))
	if version != "" && strings.HasPrefix(f.Tag, version) {
		w.Header().Set("Cache-Control", "public, max-age=31536000, immutable")
	} else {
		w.Header().Set("Cache-Control", "no-cache")
	}
	http.ServeContent(w, r, "", time.Time{}, f)
}

func (s Site) index(w http.ResponseWriter, _ *http.Request, from Source) {
	links, err := from.Links()
	if err != nil {
		http.Error(w, "The site has a problem. Please try again.", http.StatusInternalServerError)
		return
	}
	var b strings.Builder
	b.WriteString("<h1>Pages</h1>\n<ul class=\"pages\">\n")
	for _, l := range links {
		fmt.Fprintf(&b, "  <li><a href=\"%s\">%s</a></li>\n", template.HTMLEscapeString(l[1]), template.HTMLEscapeString(l[0]))
	}
	b.WriteString("</ul>\n")
	if len(links) == 0 {
		b.WriteString("<p>Nothing is published yet.</p>\n")
	}
	w.Header().Set("Content-Type", "text/html; charset=utf-8")
	_ = s.Write(w, "Pages", template.HTML(b.String()))
}

var document = template.Must(template.New("page").Parse(`<!doctype html>
<html lang="en">
<head>
<meta charset="utf-8">
<meta name="viewport" content="width=device-width, initial-scale=1">
<title>{{.Title}} · {{.House}}</title>
<link rel="stylesheet" href="/site.css">
</head>
<body>
<header class="site"><a href="/">{{.House}}</a></header>
<main class="content">
{{.Main}}</main>
<footer class="site">A practice site: it shows what was published, to this machine only.</footer>
</body>
</html>
`))

// Write writes a whole page of the site around the inside of its main element.
func (s Site) Write(w io.Writer, title string, main template.HTML) error {
	return document.Execute(w, struct {
		Title, House string
		Main         template.HTML
	}{title, s.Rules().House, main})
}
