package web

import "net/http"

func (s *server) live(w http.ResponseWriter, r *http.Request) {
	all, err := s.at(r).Publish.LivePages()
	if err != nil {
		s.fail(w, r, err)
		return
	}
	s.screen(w, r, "live", "Live", "live", all)
}

// publishChanged publishes together all that changed since it went live.
func (s *server) publishChanged(w http.ResponseWriter, r *http.Request) {
	job, err := s.at(r).Publish.PublishChanged(number(r.FormValue("picture")), s.opts.Layout)
	if err != nil {
		s.fail(w, r, err)
		return
	}
	s.part(w, "live", "job", job.Progress())
}

func (s *server) checkLive(w http.ResponseWriter, r *http.Request) {
	if _, err := s.at(r).Visits.Check(r.Context(), id(r)); err != nil {
		s.fail(w, r, err)
		return
	}
	if fromHTMX(r) {
		s.live(w, r)
		return
	}
	http.Redirect(w, r, "/live", http.StatusSeeOther)
}
