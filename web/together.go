package web

import (
	"encoding/json"
	"fmt"
	"net/http"
	"strings"
	"time"

	"mivlet/core/words"
	"mivlet/desk/presence"
)

// breath is how often a line that tells of others says that it is still there.
const breath = 20 * time.Second

// benchHere tells, as server-sent events, who else has a picture open and which
// step of it is shown (HTML Living Standard, Server-sent events).
func (s *server) benchHere(w http.ResponseWriter, r *http.Request) {
	d := s.at(r)
	visit, err := d.Bench.EnterBench(id(r))
	if err != nil {
		s.fail(w, r, err)
		return
	}
	s.tellOf(w, r, visit, func() (string, error) {
		p, err := d.Bench.Shown(id(r))
		return fmt.Sprint(p), err
	})
}

// tellOf keeps telling who is in a room and what state it is in, until the line
// or the house closes.
func (s *server) tellOf(w http.ResponseWriter, r *http.Request, visit *presence.Visit, state func() (string, error)) {
	defer visit.Leave()
	line := http.NewResponseController(w)
	w.Header().Set("Content-Type", eventStream)
	w.Header().Set("Cache-Control", "no-store")
	tick := time.NewTicker(breath)
	defer tick.Stop()
	for {
		if ended, err := s.at(r).People.Ended(); ended || err != nil {
			return
		}
		now, err := state()
		if err != nil {
			return
		}
		_ = line.SetWriteDeadline(time.Now().Add(2 * breath))
		others := visit.Others()
		places, err := json.Marshal(others)
		if err != nil {
			return
		}
		fmt.Fprintf(w, "event: here\ndata: %s\n\nevent: places\ndata: %s\n\nevent: state\ndata: %s\n\n", othersText(others), places, now)
		if line.Flush() != nil {
			return
		}
		select {
		case <-visit.News():
		case <-tick.C:
		case <-r.Context().Done():
			return
		case <-s.opts.Ending:
			return
		}
	}
}

// othersText says who else is there: “Odo Tamsin and Pell Ashgrove are here, too”.
func othersText(others []presence.Other) string {
	var names []string
	for _, o := range others {
		names = append(names, strings.Join(strings.Fields(o.Name), " ")) // one line, as an event wants it
	}
	switch len(names) {
	case 0:
		return ""
	case 1:
		return names[0] + " is here, too"
	}
	return words.Listed(names) + " are here, too"
}
