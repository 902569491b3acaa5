package web

import (
	"net/http"
	"strconv"
	"sync/atomic"
	"time"
)

// stateHeader tells an answer's place among all: answers to acts that overlap can
// come in another order than what they show was read in, and an older one must not
// be drawn over a newer one.
const stateHeader = "Mivlet-State"

// reads counts what was read to be shown, in microseconds since 1970, so that it
// goes on rising when Mivlet is started again.
type reads struct{ last atomic.Int64 }

// reading is called before what an answer shows is read, and after what its act
// changes is kept.
func (c *reads) reading(w http.ResponseWriter) {
	for {
		last := c.last.Load()
		next := max(last+1, time.Now().UnixMicro())
		if c.last.CompareAndSwap(last, next) {
			w.Header().Set(stateHeader, strconv.FormatInt(next, 10))
			return
		}
	}
}
