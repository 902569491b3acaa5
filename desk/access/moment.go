package access

import (
	"log/slog"
	"sync/atomic"
	"time"
)

// moments counts what is read to be shown, in microseconds since 1970, so that it goes on rising when Mivlet is
// started again.
type moments struct{ last atomic.Int64 }

func (m *moments) next() int64 {
	for {
		last := m.last.Load()
		next := max(last+1, time.Now().UnixMicro())
		if m.last.CompareAndSwap(last, next) {
			return next
		}
	}
}

// Moment is the place of what is read from now on among all that is read in the house: as long as the clock does not
// go back, no call that begins after this one has ended gets a lower one, at whichever program. The clocks of
// several machines differ, so programs that share a house ask the database; their own count while it is away.
func (h *House) Moment() int64 {
	if h.Alone() {
		return h.moments.next()
	}
	at, err := h.Store.Fellows.Moment()
	if err != nil {
		slog.Warn("the database was not asked for the time", "error", err)
		return h.moments.next()
	}
	return at
}
