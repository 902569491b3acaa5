package web

import "net/http"

// job shows how far work beside the screens has come. While it runs the piece
// asks again by itself.
func (s *server) job(w http.ResponseWriter, r *http.Request) {
	p, err := s.at(r).Jobs.Job(id(r))
	if err != nil {
		s.fail(w, r, err)
		return
	}
	s.part(w, "live", "job", p)
}

func (s *server) stopJob(w http.ResponseWriter, r *http.Request) {
	if err := s.at(r).Jobs.Stop(id(r)); err != nil {
		s.fail(w, r, err)
		return
	}
	if r.FormValue("back") != "" { // from the list of all of them
		s.goOn(w, r, "/running")
		return
	}
	s.job(w, r)
}
