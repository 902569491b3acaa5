package web

import (
	"errors"
	"fmt"
	"net/http"
	"slices"
	"strconv"
	"strings"

	"mivlet/core/audit"
	"mivlet/core/facts"
	"mivlet/core/fit"
	"mivlet/desk/bench"
	"mivlet/desk/landing"
	"mivlet/desk/pictures"
)

// finishing is what the panel of a picture asks of whoever has just brought it in.
type finishing struct {
	pictures.Item
	Bench    benchView // the photo with its frame, as it lies on the bench
	Place    landing.Place
	Proposed string // the name that the house would give it as it is described now
	Refused  *pictures.NameRefusal
	Faces    []bench.FoundFace
	Looked   bool // somebody has looked for faces
	LeftOut  bool // the house does not look for them
}

// Open counts the faces that can be seen and that nobody has allowed.
func (f finishing) Open() int { return len(bench.OpenAmong(f.Faces)) }

// Outlines are the faces as the drawing reads them: state, left, top, width and height of each.
func (f finishing) Outlines() string {
	var all []string
	for _, one := range f.Faces {
		b := fit.BoxOf(one.Bounds)
		all = append(all, fmt.Sprint(one.State, " ", b.X, " ", b.Y, " ", b.Width, " ", b.Height))
	}
	return strings.Join(all, ";")
}

// Here are the fields that say which picture is meant, and where it stands.
func (f finishing) Here() (string, error) { return f.Doing("") }

// Doing is Here with what is to be done.
func (f finishing) Doing(how string) (string, error) {
	return jsonText(map[string]string{"picture": fmt.Sprint(f.ID), "block": f.Place.Block, "nth": strconv.Itoa(f.Place.Nth), "how": how})
}

// Others are what it lacks beside its words and its name.
func (f finishing) Others() []audit.Finding {
	return slices.DeleteFunc(slices.Clone(f.Lacks), func(a audit.Finding) bool {
		return a.Step == audit.Describe || a.Step == audit.Name
	})
}

// finishing is the form for a picture that lacks something where it stands. Faces are told where
// somebody has looked for them already: the panel does not wait for that.
func (s *server) finishing(r *http.Request, item pictures.Item, at landing.Place, refused *pictures.NameRefusal) (*finishing, error) {
	d := s.at(r)
	proposal, err := d.Pictures.Propose(item.Picture, "")
	if err != nil {
		return nil, err
	}
	f := &finishing{Item: item, Place: at, Proposed: proposal.Name, Refused: refused, LeftOut: d.Rules().Hiding.LeaveFace}
	source := item.Facts.Upright()
	f.Bench = benchView{View: bench.View{Picture: item.Picture, Source: source, Frame: item.Work.Recipe.Frame(source)}, Rules: d.Rules()}
	if slot, ok := d.Rules().Slot(item.Work.Slot); ok {
		f.Bench.Slot = &slot
	}
	if f.Looked = f.LeftOut || item.FacesBy >= pictures.FacesBy; f.Looked && !f.LeftOut {
		err = s.withFaces(r, f)
	}
	return f, err
}

// withFaces tells the faces of the picture; where nothing has looked for them yet, it is done now.
func (s *server) withFaces(r *http.Request, f *finishing) error {
	found, err := s.at(r).Bench.Faces(f.ID)
	f.Faces, f.Looked = found.All, true
	return err
}

// finishFaces answers the panel of a photo that asks which faces it has.
func (s *server) finishFaces(w http.ResponseWriter, r *http.Request) {
	item, err := s.at(r).Pages.InTray(number(r.FormValue("picture")))
	if err != nil {
		s.fail(w, r, err)
		return
	}
	f := &finishing{Item: *item, Place: placeOf(r, "block")}
	if err := s.withFaces(r, f); err != nil {
		s.fail(w, r, err)
		return
	}
	s.part(w, "page", "finish-faces", map[string]any{"Page": map[string]any{"ID": id(r)}, "Finish": f})
}

// frameHere frames a picture beside the page that it stands on.
func (s *server) frameHere(w http.ResponseWriter, r *http.Request) {
	frame, err := rectOf(r, "A frame")
	if err == nil {
		err = s.at(r).Bench.SetFrame(number(r.FormValue("picture")), frame, facts.Upright)
	}
	s.stillOpen(w, r, placeOf(r, "block"), err)
}

// facesHere does something about all faces of a picture that can be seen.
func (s *server) facesHere(w http.ResponseWriter, r *http.Request) {
	d, picture := s.at(r), number(r.FormValue("picture"))
	found, err := d.Bench.Faces(picture)
	if err == nil {
		err = s.aboutFaces(r, picture, bench.OpenAmong(found.All), r.FormValue("how"))
	}
	s.stillOpen(w, r, placeOf(r, "block"), err)
}

// stillOpen draws the page with the panel of the picture at a place still open.
func (s *server) stillOpen(w http.ResponseWriter, r *http.Request, at landing.Place, err error) {
	s.pageChangedTo(w, r, err, showing{open: opened(at.Block, at.Nth)})
}

// placeOf reads where a picture stands from a form, which names its block in a field.
func placeOf(r *http.Request, field string) landing.Place {
	return landing.Place{Block: r.FormValue(field), Nth: whole(r, "nth", 0)}
}

// finish names and describes a picture where it stands, and opens the next one that lacks
// something.
func (s *server) finish(w http.ResponseWriter, r *http.Request) {
	at := placeOf(r, "block")
	next, err := s.at(r).Landing.Finish(id(r), at, strings.TrimSpace(r.FormValue("alt")), strings.TrimSpace(r.FormValue("name")))
	var refused *pictures.NameRefusal
	show := showing{}
	switch {
	case errors.As(err, &refused):
		err, show.refused = nil, refused
		show.open = opened(at.Block, at.Nth)
	case next != nil:
		show.open = opened(next.Block, next.Nth)
	}
	s.pageChangedTo(w, r, err, show)
}
