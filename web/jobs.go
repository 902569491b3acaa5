package web

import (
	"net/http"

	"mivlet/desk/jobs"
)

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

// progressOf is how far a job has come, as whoever asks sees it; nil for number 0, and for one that is over and
// forgotten.
func (s *server) progressOf(r *http.Request, id uint) *jobs.Progress {
	if id == 0 {
		return nil
	}
	p, err := s.at(r).Jobs.Job(id)
	if err != nil {
		return nil
	}
	return &p
}
