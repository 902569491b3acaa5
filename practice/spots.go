package practice

import (
	"bytes"
	"io"
	"maps"
	"net/http"
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/go-chi/chi/v5"

	"mivlet/core/page"
	"mivlet/core/rules"
	"mivlet/internal/head"
)

// spotRoutes are what visitors get of spots. Files of banners are served like all others.
func (s Site) spotRoutes(r chi.Router, from Source) {
	const at = "/" + rules.SpotsFolder
	r.Get(at+".css", func(w http.ResponseWriter, req *http.Request) {
		fixed(w, req, "text/css; charset=utf-8", []byte(page.SpotCSS))
	})
	r.Get(at+"/{spot:[a-z][a-z0-9-]*}", func(w http.ResponseWriter, req *http.Request) { spotFrame(w, req, from) })
	r.Get(at+"/follow/{banner:[0-9]+}", func(w http.ResponseWriter, req *http.Request) { follow(w, req, from) })
}

// servePage serves a page with frames in those of its spots in which something runs. Which
// banner it is, the frame says: its address is the same for all, so that a page which a browser
// or a proxy keeps stays right. The page itself changes, and its tag with it, where a spot
// fills or empties.
func (s Site) servePage(w http.ResponseWriter, r *http.Request, from Source, f File) {
	html, err := io.ReadAll(f)
	var frames map[string]string
	if spots := page.MarkedSpots(html); err == nil && len(spots) > 0 {
		frames, err = from.Frames(f.Page, spots)
	}
	if err != nil {
		http.Error(w, "The site has a problem. Please try again.", http.StatusInternalServerError)
		return
	}
	tag := f.Tag[:16]
	if filled := slices.Sorted(maps.Keys(frames)); len(filled) > 0 {
		tag += "." + strings.Join(filled, ".")
	}
	w.Header().Set("ETag", strconv.Quote(tag))
	w.Header().Set("Cache-Control", "no-cache")
	http.ServeContent(w, r, "", time.Time{}, bytes.NewReader(page.FillSpots(html, func(spot string) string { return frames[spot] })))
}

// counts reports whether a request is somebody who looks: not a HEAD, and not a browser that
// fetches ahead (Fetch, Sec-Purpose).
func counts(r *http.Request) bool {
	return r.Header.Get("Sec-Purpose") == "" && !head.Only(r)
}

// spotFrame answers with the banner that runs now in a spot, as a document of its own. Nobody keeps
// it: the next who asks may get another. No cookie and no script has a say.
func spotFrame(w http.ResponseWriter, r *http.Request, from Source) {
	number, _ := strconv.ParseUint(r.URL.Query().Get("page"), 10, 63)
	show, ok, err := from.Banner(chi.URLParam(r, "spot"), uint(number), counts(r))
	h := w.Header()
	h.Set("Cache-Control", "no-store")
	h.Set("X-Robots-Tag", "noindex")
	switch {
	case err != nil:
		http.Error(w, "The site has a problem. Please try again.", http.StatusInternalServerError)
	case !ok:
		w.WriteHeader(http.StatusNoContent)
	default:
		h.Set("Content-Type", "text/html; charset=utf-8")
		h.Set("Content-Security-Policy", "default-src 'none'; img-src 'self'; style-src 'self'; base-uri 'none'; form-action 'none'; frame-ancestors 'self'")
		_, _ = w.Write(page.WriteBanner(show))
	}
}

// follow leads on to where a banner leads.
func follow(w http.ResponseWriter, r *http.Request, from Source) {
	number, _ := strconv.ParseUint(chi.URLParam(r, "banner"), 10, 63)
	address, err := from.Follow(uint(number), counts(r))
	w.Header().Set("Cache-Control", "no-store")
	if err != nil {
		if missing, _ := from.Missing(err); missing {
			http.Error(w, "This notice was taken off. Nothing is wrong with your browser.", http.StatusGone)
			return
		}
		http.Error(w, "The site has a problem. Please try again.", http.StatusInternalServerError)
		return
	}
	http.Redirect(w, r, address, http.StatusSeeOther)
}
