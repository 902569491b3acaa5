package web

import (
	"net/http"

	"mivlet/core/page"
)

// albumForm is what a page shows of an album, in its panel.
type albumForm struct {
	page.AlbumShow
	Block, Mark string
}

// Shapes lists the shapes of thumbnails.
func (albumForm) Shapes() []string { return page.AlbumShapes }

// addAlbumHere puts an album into a gap of a page.
func (s *server) addAlbumHere(w http.ResponseWriter, r *http.Request) {
	block, err := s.at(r).Albums.Place(id(r), gapOf(r), number(r.FormValue("album")))
	s.pageChangedTo(w, r, err, showing{album: block})
}

// setAlbumHere changes what a page shows of an album.
func (s *server) setAlbumHere(w http.ResponseWriter, r *http.Request) {
	block := r.FormValue("block")
	show := page.AlbumShow{Album: number(r.FormValue("album")), Look: page.AlbumLook(r.FormValue("look")), Shape: r.FormValue("shape"), Most: whole(r, "most", 0)}
	s.pageChangedTo(w, r, s.at(r).Albums.SetShown(id(r), block, r.FormValue("mark"), show), showing{album: block})
}
