package web

import (
	"net/http"
	"strconv"
)

// stateHeader tells an answer's place among all: answers to acts that overlap can
// come in another order than what they show was read in, and an older one must not
// be drawn over a newer one.
const stateHeader = "Mivlet-State"

// reading is called before what an answer shows is read, and after what its act
// changes is kept.
func (s *server) reading(w http.ResponseWriter, r *http.Request) {
	w.Header().Set(stateHeader, strconv.FormatInt(s.at(r).Moment(), 10))
}
