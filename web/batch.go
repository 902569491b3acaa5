package web

import (
	"fmt"
	"net/http"

	"github.com/go-chi/chi/v5"

	"mivlet/desk/access"
)

// batchRoutes are what goes from one picture of the batch to others.
func (s *server) batchRoutes(r chi.Router) {
	r.Get("/next", s.nextLacking)
	r.Post("/also", s.setAlso)
	r.Post("/apply", s.applyStep)
	r.Post("/cut-batch", s.cutBatch)
}

// nextLacking goes on to the next picture of the batch that lacks something, and
// carries over what this one has.
func (s *server) nextLacking(w http.ResponseWriter, r *http.Request) {
	next, err := s.at(r).Bench.NextLacking(id(r))
	var across, down int
	if err == nil && next != 0 {
		_, _ = fmt.Sscanf(r.FormValue("ratio"), "%d:%d", &across, &down) // none is free
		err = s.at(r).Bench.CarryOver(id(r), next, across, down)
	}
	switch {
	case err != nil:
		s.fail(w, r, err)
	case next == 0:
		s.goOn(w, r, fmt.Sprintf("/bench/%d?done=yes", id(r)))
	default:
		to := fmt.Sprintf("/bench/%d", next)
		if across > 0 && down > 0 {
			to += fmt.Sprintf("?ratio=%d:%d", across, down)
		}
		s.goOn(w, r, to)
	}
}

func (s *server) setAlso(w http.ResponseWriter, r *http.Request) {
	s.changed(w, r, s.at(r).Bench.SetAlso(id(r), r.FormValue("of"), r.FormValue("also") == "yes"))
}

// applyStep does what a step did to the chosen pictures of the batch.
func (s *server) applyStep(w http.ResponseWriter, r *http.Request) {
	n, err := s.at(r).Bench.ApplyStep(id(r), whole(r, "seq", -1), chosen(r))
	if err == nil && n == 0 {
		err = &access.Refusal{Kind: access.Bad, What: "They have it already.", Next: "Nothing was changed."}
	}
	s.changed(w, r, err)
}

// cutBatch makes the cuts of the batch beside the screens.
func (s *server) cutBatch(w http.ResponseWriter, r *http.Request) {
	job, err := s.at(r).Bench.CutBatch()
	if err != nil {
		s.fail(w, r, err)
		return
	}
	s.part(w, "bench", "batch-job", job.Progress())
}
