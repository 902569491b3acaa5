package previewer

import (
	_ "embed" // its stylesheet
	"encoding/json"
	"html/template"
	"net/http"
	"slices"
	"time"

	"github.com/go-chi/chi/v5"
	"github.com/go-chi/chi/v5/middleware"

	"mivlet/internal/head"
)

//go:embed previewer.css
var style []byte

// Handler serves the previewer: for people its page and its cards, for programs what it
// holds as JSON.
//
//	GET  /                         what it holds
//	GET  /held?address=…           the same of one link, as JSON; fetched where it is new
//	POST /fetch  address=…         fetches it again
//	GET  /picture?address=…&manner=large
func (p *Previewer) Handler() http.Handler {
	r := chi.NewRouter()
	r.Use(middleware.Recoverer, head.AsGet, func(next http.Handler) http.Handler {
		return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
			w.Header().Set("X-Content-Type-Options", "nosniff")
			w.Header().Set("Cache-Control", "no-store")
			w.Header().Set("Content-Security-Policy", "default-src 'none'; img-src 'self'; style-src 'self'; base-uri 'none'; form-action 'self'")
			next.ServeHTTP(w, r)
		})
	})
	r.Get("/", p.page)
	r.Get("/previewer.css", func(w http.ResponseWriter, _ *http.Request) {
		w.Header().Set("Content-Type", "text/css; charset=utf-8")
		_, _ = w.Write(style)
	})
	r.Get("/held", func(w http.ResponseWriter, r *http.Request) {
		h, err := p.Held(r.Context(), r.FormValue("address"))
		answer(w, h, err)
	})
	r.Post("/fetch", func(w http.ResponseWriter, r *http.Request) {
		h, err := p.Fetch(r.Context(), r.FormValue("address"))
		if err == nil && r.FormValue("then") == "look" {
			http.Redirect(w, r, "/", http.StatusSeeOther)
			return
		}
		answer(w, h, err)
	})
	r.Get("/picture", p.shown)
	return r
}

func answer(w http.ResponseWriter, h *Held, err error) {
	if err != nil {
		http.Error(w, err.Error(), http.StatusBadRequest)
		return
	}
	w.Header().Set("Content-Type", "application/json")
	_ = json.NewEncoder(w).Encode(h)
}

func (p *Previewer) shown(w http.ResponseWriter, r *http.Request) {
	m, ok := MannerOf(r.FormValue("manner"))
	h, err := p.Held(r.Context(), r.FormValue("address"))
	if !ok || err != nil {
		http.NotFound(w, r)
		return
	}
	data, err := h.Shown(m)
	if err != nil {
		http.Error(w, err.Error(), http.StatusNotFound)
		return
	}
	w.Header().Set("Content-Type", "image/jpeg")
	_, _ = w.Write(data)
}

var document = template.Must(template.New("previewer").Funcs(template.FuncMap{"when": func(t time.Time) string { return t.Format("2 Jan 2006, 15:04:05") }}).Parse(`<!DOCTYPE html>
<html lang="en">
<head>
<meta charset="utf-8">
<meta name="viewport" content="width=device-width, initial-scale=1">
<title>Previewer: a stand-in</title>
<link rel="stylesheet" href="/previewer.css">
</head>
<body>
<main>
<h1>Previewer</h1>
<p>A stand-in for programs that show a preview of a shared link. It fetches a page once, keeps what it got, and looks again only when it is told to. It forgets everything when Mivlet ends.</p>
<form method="post" action="/fetch"><input type="hidden" name="then" value="look"><label>Address of a page of {{.Site}} <input name="address" size="50" required></label> <button>Fetch it</button></form>
{{range .All}}{{$h := .}}<section>
<h2>{{.Address}}</h2>
<p>Held since {{when .At}}. {{.Trouble}}{{.Because}}</p>
{{if not .Trouble}}<div class="cards">{{range $.Manners}}<figure class="card card-{{.ID}}">{{if not $h.Refused}}<img src="/picture?address={{$h.Address}}&amp;manner={{.ID}}&amp;v={{$h.Hash}}" width="{{.Width}}" height="{{.High}}" alt="{{$h.Alt}}">{{end}}<figcaption><small>{{$h.Site}}</small><b>{{$h.Title}}</b><span>{{$h.Description}}</span></figcaption></figure>
{{end}}</div>
{{end}}<form method="post" action="/fetch"><input type="hidden" name="then" value="look"><input type="hidden" name="address" value="{{.Address}}"><button>Fetch again</button></form>
</section>
{{else}}<p>It holds nothing yet.</p>
{{end}}</main>
</body>
</html>
`))

func (p *Previewer) page(w http.ResponseWriter, _ *http.Request) {
	all := p.All()
	slices.SortFunc(all, func(a, b *Held) int { return b.At.Compare(a.At) })
	w.Header().Set("Content-Type", "text/html; charset=utf-8")
	_ = document.Execute(w, struct {
		Site    string
		All     []*Held
		Manners []Manner
	}{p.site.String(), all, Manners})
}
