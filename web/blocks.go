package web

import (
	"fmt"
	"net/http"

	"github.com/go-chi/chi/v5"

	"mivlet/core/page"
	"mivlet/desk/landing"
	"mivlet/desk/pages"
)

// blockRoutes are what is done to the blocks of a page, one by one: others may
// work on other blocks meanwhile.
func (s *server) blockRoutes(r chi.Router) {
	r.Get("/here", s.pageHere)
	r.Post("/at", s.beAt)
	r.Post("/block", s.addBlock)
	r.Post("/words", s.setText)
	r.Get("/links", s.linkTargets)
	r.Post("/title", s.setTitle)
	r.Post("/caption", s.setCaption)
	r.Post("/describe", s.describeHere)
	r.Post("/finish", s.finish)
	r.Post("/frame", s.frameHere)
	r.Get("/faces", s.finishFaces)
	r.Post("/faces", s.facesHere)
	r.Post("/level", s.setLevel)
	r.Post("/move", s.moveBlock)
	r.Post("/drop", s.dropBlock)
	r.Post("/strip", s.addToStrip)
	r.Post("/together", s.together)
	r.Get("/album", func(w http.ResponseWriter, r *http.Request) { s.showPage(w, r, showing{album: r.FormValue("block")}) })
	r.Post("/album", s.setAlbumHere)
	r.Post("/album/add", s.addAlbumHere)
	r.Post("/spot", s.placeSpot)
	r.Get("/files/{hash}", s.pageFile)
}

// pageHere tells who else has a page open, where on it, and which version it is at.
func (s *server) pageHere(w http.ResponseWriter, r *http.Request) {
	d := s.at(r)
	visit, err := d.Pages.EnterPage(id(r))
	if err != nil {
		s.fail(w, r, err)
		return
	}
	s.tellOf(w, r, visit, func() (string, error) {
		v, err := d.Pages.PageVersion(id(r))
		return fmt.Sprint(v), err
	})
}

// beAt notes which block somebody is at work on.
func (s *server) beAt(w http.ResponseWriter, r *http.Request) {
	if err := s.at(r).Pages.BeAt(id(r), r.FormValue("block")); err != nil {
		s.fail(w, r, err)
		return
	}
	w.WriteHeader(http.StatusNoContent)
}

func (s *server) addBlock(w http.ResponseWriter, r *http.Request) {
	kind := page.Kind(r.FormValue("kind"))
	block, err := s.at(r).Pages.AddBlock(id(r), gapOf(r), kind, r.FormValue("pattern"), "")
	show := showing{}
	if err == nil {
		switch {
		case pages.HoldsWords(kind) && kind != page.Beside:
			r.Form.Set("write", block)
		case kind == page.Band:
			show.band = block
		case kind == page.List:
			show.list = block
		case kind == page.Facts:
		case kind != page.Divider:
			show.open = opened(block, 0)
		}
	}
	s.pageChangedTo(w, r, err, show)
}

func (s *server) setText(w http.ResponseWriter, r *http.Request) {
	s.pageChanged(w, r, s.at(r).Pages.SetText(id(r), r.FormValue("block"), r.FormValue("mark"), r.FormValue("text")))
}

func (s *server) setTitle(w http.ResponseWriter, r *http.Request) {
	s.pageChanged(w, r, s.at(r).Landing.Retitle(id(r), r.FormValue("mark"), r.FormValue("text")))
}

func (s *server) setCaption(w http.ResponseWriter, r *http.Request) {
	at := placeOf(r, "at")
	s.stillOpen(w, r, at, s.at(r).Landing.Caption(id(r), at, r.FormValue("mark"), r.FormValue("text")))
}

func (s *server) describeHere(w http.ResponseWriter, r *http.Request) {
	at := placeOf(r, "at")
	s.stillOpen(w, r, at, s.at(r).Landing.Describe(id(r), at, r.FormValue("mark"), r.FormValue("text")))
}

func (s *server) setLevel(w http.ResponseWriter, r *http.Request) {
	s.pageChanged(w, r, s.at(r).Pages.SetLevel(id(r), r.FormValue("block"), whole(r, "level", 2)))
}

// moveBlock moves a block by some places, or, where it was dragged, into a gap.
func (s *server) moveBlock(w http.ResponseWriter, r *http.Request) {
	if block := r.FormValue("block"); r.Form.Has("after") {
		s.pageChanged(w, r, s.at(r).Pages.MoveBlockTo(id(r), block, gapOf(r)))
		return
	}
	s.pageChanged(w, r, s.at(r).Pages.MoveBlock(id(r), r.FormValue("block"), whole(r, "by", 0)))
}

func (s *server) dropBlock(w http.ResponseWriter, r *http.Request) {
	s.pageChanged(w, r, s.at(r).Pages.DropBlock(id(r), r.FormValue("block"), r.FormValue("mark")))
}

// addToStrip makes a strip longer by a place, and opens that.
func (s *server) addToStrip(w http.ResponseWriter, r *http.Request) {
	block := r.FormValue("block")
	err := s.at(r).Pages.AddToStrip(id(r), block, r.FormValue("mark"), 0)
	s.pageChangedTo(w, r, err, showing{open: func(p pages.PageView) *placing {
		b, _ := p.Doc.Block(block)
		return opened(block, len(b.Pictures)-1)(p)
	}})
}

// together has the pictures around one stand together: in pairs, in a strip, or as an album.
func (s *server) together(w http.ResponseWriter, r *http.Request) {
	block, show := r.FormValue("block"), showing{}
	var err error
	if kind := page.Kind(r.FormValue("kind")); kind == page.Album {
		show.album, err = s.at(r).Albums.Gather(id(r), block)
	} else {
		var at landing.Place
		at, err = s.at(r).Landing.Together(id(r), block, kind)
		show.open = opened(at.Block, at.Nth)
	}
	s.pageChangedTo(w, r, err, show)
}

// pageFile gives a file that a draft offers.
func (s *server) pageFile(w http.ResponseWriter, r *http.Request) {
	f, err := s.at(r).Attachments.OpenOffered(id(r), chi.URLParam(r, "hash"))
	w.Header().Set("Content-Disposition", "attachment")
	s.serveFile(w, r, f, err, "private, max-age=3600")
}
