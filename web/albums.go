package web

import (
	"cmp"
	"fmt"
	"io"
	"net/http"
	"net/url"
	"strings"

	"github.com/go-chi/chi/v5"

	"mivlet/core/album"
	"mivlet/core/rules"
	"mivlet/desk/access"
	"mivlet/desk/albums"
	"mivlet/store"
)

// albumRoutes are what is done with albums. Files for them are streamed elsewhere.
func (s *server) albumRoutes(r chi.Router) {
	r.Get("/albums", s.albums)
	r.Post("/albums", s.beginAlbum)
	r.Route("/albums/{id}", func(r chi.Router) {
		r.Get("/", s.album)
		r.Get("/here", s.albumHere)
		r.Get("/zip", s.albumZip)
		r.Post("/add", s.addToAlbum)
		r.Post("/out", s.takeOutOfAlbum)
		r.Post("/move", s.moveInAlbum)
		r.Post("/caption", s.captionInAlbum)
		r.Post("/describe", s.describeInAlbum)
		r.Post("/set", s.setAlbum)
		r.Post("/step", s.albumStep)
		r.Post("/cut", s.cutAlbum)
		r.Post("/drop", s.dropAlbum)
		r.Post("/bring-back", s.bringAlbumBack)
	})
}

// albumsView is all albums.
type albumsView struct {
	Lines    []albums.Line
	Deleted  []albums.Line
	Sections []rules.Section // that somebody works for
	All      []rules.Section
	InHand   int // pictures on the own bench
}

// In are the albums of a section.
func (v albumsView) In(section string) (all []albums.Line) {
	for _, l := range v.Lines {
		if l.Section == section {
			all = append(all, l)
		}
	}
	return all
}

// Due counts the live pages that show an album otherwise than it is.
func (albumsView) Due(l albums.Line) (n int) {
	for _, u := range l.Uses {
		if u.Due() {
			n++
		}
	}
	return n
}

func (s *server) albums(w http.ResponseWriter, r *http.Request) {
	d := s.at(r)
	v := albumsView{Sections: ownSections(d.Rules(), d.Who()), All: d.Rules().Sections}
	var err error
	if v.Lines, err = d.Albums.All(false); err == nil {
		v.Deleted, err = d.Albums.All(true)
	}
	if err == nil {
		var counts store.Counts
		counts, err = d.Pages.Counts()
		v.InHand = int(counts.Bench)
	}
	if err != nil {
		s.fail(w, r, err)
		return
	}
	s.screen(w, r, "albums", "Albums", "shelves", v)
}

// beginAlbum begins an album with the ticked pictures, or with all that are on the bench; or
// puts them into one that is there.
func (s *server) beginAlbum(w http.ResponseWriter, r *http.Request) {
	d, pictures := s.at(r), chosen(r)
	if r.FormValue("from") == "bench" {
		b, err := d.Bench.OnBench()
		if err != nil {
			s.fail(w, r, err)
			return
		}
		for _, i := range b {
			pictures = append(pictures, i.ID)
		}
	}
	to := number(r.FormValue("album"))
	var err error
	if to != 0 {
		err = d.Albums.Add(to, pictures...)
	} else {
		section := r.FormValue("section")
		if own := ownSections(d.Rules(), d.Who()); section == "" && len(own) > 0 {
			section = own[0].Code
		}
		to, err = d.Albums.Begin(section, cmp.Or(r.FormValue("title"), r.FormValue("subject")), pictures)
	}
	if err != nil {
		s.fail(w, r, err)
		return
	}
	s.goOn(w, r, fmt.Sprintf("/albums/%d", to))
}

// albumView is an album on its screen.
type albumView struct {
	albums.View
	CanWork bool
	Title   string // of its section
	// Describing is the picture that is being described; nil for none.
	Describing *albums.Item
	Left       int      // how many still say nothing
	Refused    []string // files of a ZIP that did not come in
}

// Orders lists the orders of an album.
func (albumView) Orders() any {
	return []struct{ ID, Text string }{{string(album.ByHand), "by hand"}, {string(album.ByTaken), "by the time taken"}, {string(album.ByName), "by name"}, {string(album.Shuffled), "shuffled for each visitor"}}
}

// Says tells a finding in a sentence.
func (albumView) Says(f albums.Finding) string {
	n := len(f.Pictures)
	about := func(one, several string) string {
		if n == 1 {
			return fmt.Sprintf("%s %s.", access.NameOr(f.Pictures[0]), one)
		}
		return fmt.Sprintf("%d pictures %s.", n, several)
	}
	switch f.Code {
	case albums.Refused:
		return about("shows somebody who refused permission", "show somebody who refused permission")
	case albums.Undescribed:
		return about("has no description", "have no description")
	case albums.Nameless:
		return about("has no name", "have no name")
	case albums.Twins:
		return about("looks nearly like another one here", "look nearly like another one here")
	case albums.Soft:
		return about("is too small to be enlarged much", "are too small to be enlarged much")
	}
	return about("weighs far more than the others", "weigh far more than the others")
}

// Lacks tells what keeps a picture from going live.
func (albumView) Lacks(i albums.Item) string {
	var all []string
	for _, step := range i.Lacks {
		all = append(all, map[string]string{"hide": "permission", "name": "name", "describe": "description"}[step])
	}
	return strings.Join(all, ", ")
}

// IDs are the numbers of the pictures that a finding is about.
func (albumView) IDs(f albums.Finding) string {
	var all []string
	for _, p := range f.Pictures {
		all = append(all, fmt.Sprint(p.ID))
	}
	return strings.Join(all, " ")
}

func (s *server) album(w http.ResponseWriter, r *http.Request) {
	d := s.at(r)
	found, err := d.Albums.Of(id(r))
	if err != nil {
		s.fail(w, r, err)
		return
	}
	v := albumView{View: found, CanWork: d.Who().CanWork(found.Section) && !found.Dropped(), Title: found.Section}
	if section, ok := d.Rules().Section(found.Section); ok {
		v.Title = section.Title
	}
	v.describe(r.FormValue("describe"))
	v.Refused = r.Form["refused"]
	s.screen(w, r, "album", v.Doc.Title, "shelves", v)
}

// describe chooses the picture to describe: a number, or next for the first that says nothing.
func (v *albumView) describe(which string) {
	for i, item := range v.Items {
		silent := item.Work.Alt == "" && !item.Work.Decorative
		if silent {
			v.Left++
		}
		if v.Describing == nil && (which == "next" && silent || which == fmt.Sprint(item.ID)) {
			v.Describing = &v.Items[i]
		}
	}
}

// albumHere tells who else has an album open, and which version it is at.
func (s *server) albumHere(w http.ResponseWriter, r *http.Request) {
	d := s.at(r)
	visit, err := d.Albums.EnterAlbum(id(r))
	if err != nil {
		s.fail(w, r, err)
		return
	}
	s.tellOf(w, r, visit, func() (string, error) {
		a, err := d.Albums.Album(id(r))
		return fmt.Sprint(a.Version), err
	})
}

// albumChanged draws an album as it is now.
func (s *server) albumChanged(w http.ResponseWriter, r *http.Request, err error) {
	switch {
	case err != nil:
		s.fail(w, r, err)
	case fromHTMX(r):
		s.album(w, r)
	default:
		http.Redirect(w, r, fmt.Sprintf("/albums/%d", id(r)), http.StatusSeeOther)
	}
}

func (s *server) addToAlbum(w http.ResponseWriter, r *http.Request) {
	s.albumChanged(w, r, s.at(r).Albums.Add(id(r), chosen(r)...))
}

func (s *server) takeOutOfAlbum(w http.ResponseWriter, r *http.Request) {
	s.albumChanged(w, r, s.at(r).Albums.TakeOut(id(r), chosen(r)...))
}

// moveInAlbum moves a picture by some places, or, where it was dragged, before another one.
func (s *server) moveInAlbum(w http.ResponseWriter, r *http.Request) {
	ids := chosen(r)
	if r.Form.Has("before") {
		s.albumChanged(w, r, s.at(r).Albums.MoveTo(id(r), ids, number(r.FormValue("before"))))
		return
	}
	var one uint
	if len(ids) > 0 {
		one = ids[0]
	}
	s.albumChanged(w, r, s.at(r).Albums.Move(id(r), one, whole(r, "by", 0)))
}

func (s *server) captionInAlbum(w http.ResponseWriter, r *http.Request) {
	s.albumChanged(w, r, s.at(r).Albums.SetCaption(id(r), number(r.FormValue("one")), r.FormValue("was"), r.FormValue("caption")))
}

// describeInAlbum keeps a description and a caption, and goes to the next picture that says
// nothing.
func (s *server) describeInAlbum(w http.ResponseWriter, r *http.Request) {
	d, picture := s.at(r), number(r.FormValue("one"))
	err := d.Albums.Describe(id(r), picture, whole(r, "seen", 0), r.FormValue("alt"))
	if err == nil {
		err = d.Albums.SetCaption(id(r), picture, r.FormValue("was"), r.FormValue("caption"))
	}
	r.Form.Set("describe", "next")
	s.albumChanged(w, r, err)
}

// setAlbum changes one thing that is said of an album as a whole.
func (s *server) setAlbum(w http.ResponseWriter, r *http.Request) {
	d := s.at(r).Albums
	var err error
	switch r.FormValue("what") {
	case "title":
		err = d.SetTitle(id(r), r.FormValue("title"))
	case "order":
		err = d.SetOrder(id(r), album.Order(r.FormValue("order")))
	case "lead":
		err = d.SetLead(id(r), number(r.FormValue("one")))
	case "rule":
		err = d.SetRule(id(r), album.Rule{Tag: r.FormValue("tag"), Year: whole(r, "year", 0)})
	default:
		err = &access.Refusal{Kind: access.Bad, What: "The form does not say what to change.", Next: "Open the album again."}
	}
	s.albumChanged(w, r, err)
}

func (s *server) albumStep(w http.ResponseWriter, r *http.Request) {
	s.albumChanged(w, r, s.at(r).Albums.ShowStep(id(r), whole(r, "seq", -1)))
}

func (s *server) cutAlbum(w http.ResponseWriter, r *http.Request) {
	job, err := s.at(r).Albums.Prepare(id(r))
	if err != nil {
		s.fail(w, r, err)
		return
	}
	s.part(w, "live", "job", job.Progress())
}

func (s *server) dropAlbum(w http.ResponseWriter, r *http.Request) {
	if err := s.at(r).Albums.Drop(id(r)); err != nil {
		s.fail(w, r, err)
		return
	}
	s.goOn(w, r, "/albums")
}

func (s *server) bringAlbumBack(w http.ResponseWriter, r *http.Request) {
	if err := s.at(r).Albums.BringBack(id(r)); err != nil {
		s.fail(w, r, err)
		return
	}
	s.goOn(w, r, fmt.Sprintf("/albums/%d", id(r)))
}

// albumZip gives an album to take along.
func (s *server) albumZip(w http.ResponseWriter, r *http.Request) {
	a, err := s.at(r).Albums.Album(id(r))
	if err != nil {
		s.fail(w, r, err)
		return
	}
	w.Header().Set("Cache-Control", "private, no-store")
	s.sendArchive(w, r, a.Doc.Title, func(to io.Writer) error {
		_, err := s.at(r).Albums.Archive(to, id(r), whole(r, "width", 0))
		return err
	})
}

// landInAlbum takes a file in that was dropped on an album.
func (s *server) landInAlbum(w http.ResponseWriter, r *http.Request) {
	name, body := s.streamed(w, r, "the file")
	if _, err := s.at(r).Albums.Bring(id(r), name, body); err != nil {
		s.fail(w, r, err)
		return
	}
	w.WriteHeader(http.StatusNoContent)
}

// mostTold is how many refused files are told by name.
const mostTold = 20

// mostZip is the most bytes of a ZIP that comes in.
const mostZip = 4 << 30

// bringAlbum makes an album of a ZIP. What did not come in is told on the way.
func (s *server) bringAlbum(w http.ResponseWriter, r *http.Request) {
	name, _ := s.streamed(w, r, "Album.zip")
	q := r.URL.Query()
	title := q.Get("title")
	if strings.TrimSpace(title) == "" {
		title = strings.TrimSuffix(name, ".zip")
	}
	made, refused, err := s.at(r).Albums.BringArchive(q.Get("section"), title, http.MaxBytesReader(w, r.Body, mostZip))
	if err != nil {
		s.fail(w, r, err)
		return
	}
	to := fmt.Sprintf("/albums/%d", made)
	if len(refused) > 0 {
		var names []string
		for _, f := range refused {
			names = append(names, f.Name)
		}
		to += "?" + url.Values{"refused": names[:min(len(names), mostTold)]}.Encode()
	}
	s.goOn(w, r, to)
}
