package web

import (
	"fmt"
	"net/http"

	"mivlet/desk/access"
	"mivlet/desk/samples"
	"mivlet/store"
)

// offersSamples adds whether whoever is signed in may have samples brought in.
type offersSamples struct {
	samples.There
	May bool
}

// beginSamples brings a sample page in for the first section that whoever is signed in works for,
// and opens it.
func (s *server) beginSamples(w http.ResponseWriter, r *http.Request) {
	d := s.at(r)
	own := ownSections(d.Rules(), d.Who())
	if len(own) == 0 {
		s.fail(w, r, &access.Refusal{Kind: access.Forbidden, What: "You work for no section.", Next: "Ask a keeper to add you to one."})
		return
	}
	id, err := d.Samples.Begin(own[0].Code)
	if err != nil {
		s.fail(w, r, err)
		return
	}
	s.goOn(w, r, fmt.Sprintf("/pages/%d", id))
}

// removeSamples takes the sample page and its pictures away, and leads to the pages, which offer to
// bring it back.
func (s *server) removeSamples(w http.ResponseWriter, r *http.Request) {
	out, err := s.at(r).Samples.Remove()
	if err != nil {
		s.fail(w, r, err)
		return
	}
	s.goOn(w, r, fmt.Sprintf("/pages?thrown=%d&stay=%d#deleted", out.Pictures, len(out.Stay)))
}

// deletePage deletes a page and leads to the pages, which offer to bring it back.
func (s *server) deletePage(w http.ResponseWriter, r *http.Request) {
	if err := s.at(r).Deleted.Delete(id(r)); err != nil {
		s.fail(w, r, err)
		return
	}
	s.goOn(w, r, "/pages#deleted")
}

// bringPageBack brings a deleted page back and opens it.
func (s *server) bringPageBack(w http.ResponseWriter, r *http.Request) {
	if err := s.at(r).Deleted.BringBack(id(r)); err != nil {
		s.fail(w, r, err)
		return
	}
	s.goOn(w, r, fmt.Sprintf("/pages/%d", id(r)))
}

// removed tells what came of removing the samples, as the address says.
func removed(r *http.Request) string {
	thrown, stay := whole(r, "thrown", -1), whole(r, "stay", 0)
	if thrown < 0 || stay < 0 {
		return ""
	}
	text := fmt.Sprintf("The samples are removed. %s went to the bin of the shelves.", access.Count(thrown, "picture"))
	if stay > 0 {
		text += fmt.Sprintf(" %s stayed, as you use them.", access.Count(stay, "picture"))
	}
	return text
}

// deletedPage is a page that was deleted, with how long it is kept.
type deletedPage struct {
	store.Page
	Days int // until it leaves for good
}

// deletedPages are those that whoever is signed in can bring back.
func (s *server) deletedPages(r *http.Request) ([]deletedPage, error) {
	d := s.at(r)
	all, err := d.Deleted.Pages()
	out := make([]deletedPage, len(all))
	for i, p := range all {
		gone := int(d.Now().Sub(*p.DroppedAt).Hours() / 24)
		out[i] = deletedPage{p, max(1, d.Rules().Limits.BinDays-gone)}
	}
	return out, err
}
