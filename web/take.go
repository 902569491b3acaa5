package web

import (
	"encoding/json"
	"fmt"
	"net/http"

	"mivlet/core/rules"
	"mivlet/desk/derive"
	"mivlet/desk/shelves"
)

// takeForm offers to take a picture along, for use elsewhere.
type takeForm struct {
	ID    uint
	Slots []rules.Slot
	Slot  string // that is chosen at first
}

// takeAlong is the form for a picture that is fitted for a slot.
func takeAlong(id uint, r rules.Rules, fitted string) takeForm {
	return takeForm{id, r.SlotsWith(fitted), fitted}
}

// howTaken reads how a picture is taken along.
func howTaken(r *http.Request) shelves.Take {
	how := shelves.Take{Slot: r.FormValue("slot"), Format: r.FormValue("format")}
	if how.Slot == "" {
		how.Width = whole(r, "width", 0)
	}
	return how
}

// take sends a picture for use elsewhere.
func (s *server) take(w http.ResponseWriter, r *http.Request) {
	taken, f, err := s.at(r).Shelves.OpenTaken(id(r), howTaken(r))
	if err != nil {
		s.fail(w, r, err)
		return
	}
	w.Header().Set("Content-Disposition", fmt.Sprintf("attachment; filename=%q", taken.Name))
	s.serveFile(w, r, derive.File(f), nil, "private, no-store")
}

// takeWords tells what goes with a picture that is taken along: its name, its words, and how it
// stands in HTML.
func (s *server) takeWords(w http.ResponseWriter, r *http.Request) {
	taken, err := s.at(r).Shelves.Take(id(r), howTaken(r))
	if err != nil {
		s.fail(w, r, err)
		return
	}
	w.Header().Set("Content-Type", "application/json; charset=utf-8")
	w.Header().Set("Cache-Control", "no-store")
	_ = json.NewEncoder(w).Encode(map[string]any{"name": taken.Name, "alt": taken.Alt, "width": taken.Width, "height": taken.Height, "bytes": taken.Bytes, "html": taken.HTML()})
}
