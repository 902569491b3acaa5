package web

import (
	"net/http"

	"mivlet/desk/pages"
)

// linkTargets lists where a link within words can lead: pages and files that are found by q.
func (s *server) linkTargets(w http.ResponseWriter, r *http.Request) {
	found, err := s.at(r).Pages.LinkTargets(id(r), r.FormValue("q"))
	if err != nil {
		s.fail(w, r, err)
		return
	}
	s.part(w, "page", "link-targets", struct{ Found []pages.LinkTarget }{found})
}
