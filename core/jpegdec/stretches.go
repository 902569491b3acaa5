package jpegdec

import (
	"io"
	"runtime"
	"sync"
	"sync/atomic"
)

// A sequential scan is read in stretches, on all cores. Restart markers let somebody begin in the
// middle of a scan (T.81, F.2.2.5). Where there are none, see [guess].

// stretchSize is how many bytes are worth handing over, and few enough that what is read of them
// stays near the processor.
const stretchSize = 1 << 16

// A stretch is some bytes of a scan.
type stretch struct {
	number int
	bytes  []byte // with the beginning of the next stretch, in which the last unit may end
	own    int    // bytes that are not of the next one
	last   bool   // no other follows
	to     int    // no unit from here on is read
	start  chan place
	end    chan place // the start of the next one; nil where that one begins at a marker
}

// A place is where a unit begins.
type place struct {
	at   int      // in bits of the stretch, with those that are stuffed
	unit int      // its number
	last [3]int32 // the first coefficients of the blocks before, by the parts of the scan
	stop bool     // nobody need go on from here
}

// A cutter hands out a scan in stretches.
type cutter struct {
	in     *source
	scan   *scan
	all    int // units
	work   chan *stretch
	used   chan []byte  // room for bytes that is free again
	cut    int          // how many stretches there were
	failed firstError   // by their numbers
	enough atomic.Bool  // all units that are wanted were read
	inStep atomic.Int32 // guesses that were of use, less those that were not
}

// inStretches reads a sequential scan. It returns the marker that ends it.
func (d *decoder) inStretches(s *scan) (after byte, err error) {
	readers := runtime.GOMAXPROCS(0)
	c := &cutter{in: d.in, scan: s, all: s.count(), work: make(chan *stretch), used: make(chan []byte, readers+2)}
	var wg sync.WaitGroup
	for range readers {
		wg.Go(func() {
			r := &reader{cutter: c, scan: scan{parts: append([]part(nil), s.parts...), interval: s.interval}}
			for w := range c.work {
				r.stretch(w)
			}
		})
	}
	if s.interval > 0 {
		after, err = c.atMarkers()
	} else {
		after, err = c.anywhere()
	}
	close(c.work)
	wg.Wait()
	return c.result(after, err)
}

// result is what came of a scan, of whose bytes all but those that nobody wanted were handed over.
func (c *cutter) result(after byte, err error) (byte, error) {
	switch {
	case c.failed.err != nil && (err == nil || c.failed.err != io.ErrUnexpectedEOF):
		return 0, c.failed.err
	case err == nil && after == 0:
		return c.in.marker()
	}
	return after, err
}

// bytes is room for a stretch.
func (c *cutter) bytes() []byte {
	select {
	case b := <-c.used:
		return b[:0]
	default:
		return make([]byte, 0, stretchSize+stretchSize/4)
	}
}

// hand hands a stretch over.
func (c *cutter) hand(w *stretch) {
	w.number = c.cut
	c.cut++
	c.work <- w
}

// atMarkers hands over stretches between restart markers. It returns the marker that ends the scan.
func (c *cutter) atMarkers() (after byte, err error) {
	w := &stretch{bytes: c.bytes()}
	for at, from := 0, 0; at < c.all; {
		after, err = c.in.until(func(b []byte) { w.bytes = append(w.bytes, b...) })
		due := rst0 + byte(at/c.scan.interval%8)
		at = min(at+c.scan.interval, c.all)
		switch {
		case err == nil && at < c.all && restarts(after) && after != due:
			return 0, DamageError("a restart marker that is out of order")
		case err != nil || at < c.all && !restarts(after):
			at = c.all // of which not all is there: whoever reads it finds out
		case at < c.all && len(w.bytes) < stretchSize/2:
			continue
		}
		w.to, w.own, w.last = at, len(w.bytes), true
		w.start = make(chan place, 1)
		w.start <- place{unit: from}
		c.hand(w)
		from, w = at, &stretch{bytes: c.bytes()}
	}
	return after, err
}

// anywhere hands over stretches of a scan without restart markers.
func (c *cutter) anywhere() (after byte, err error) {
	overlap := c.scan.mostOfUnit()
	var before *stretch
	w := &stretch{bytes: c.bytes(), start: make(chan place, 1)}
	w.start <- place{}
	for !c.enough.Load() {
		after, err = c.in.upTo(stretchSize-len(w.bytes), func(b []byte) { w.bytes = append(w.bytes, b...) })
		w.own, w.to, w.last = len(w.bytes), c.all, after != 0 || err != nil
		if before != nil {
			before.bytes = append(before.bytes, w.bytes[:min(overlap, len(w.bytes))]...)
			c.hand(before)
		}
		if w.last {
			c.hand(w)
			return after, err
		}
		w.end = make(chan place, 1)
		before, w = w, &stretch{bytes: c.bytes(), start: w.end}
	}
	return 0, nil
}

// mostOfUnit is more bytes than a unit can have, with those that are stuffed.
func (s *scan) mostOfUnit() int {
	blocks := 0
	for _, p := range s.parts {
		blocks += p.across * p.down
	}
	return 2 * 64 * 4 * blocks
}

// firstError is the first of the errors that happened to parts of something.
type firstError struct {
	mu   sync.Mutex
	part int
	err  error
}

// at says what happened to a part.
func (f *firstError) at(part int, err error) {
	f.mu.Lock()
	defer f.mu.Unlock()
	if f.err == nil || part < f.part {
		f.part, f.err = part, err
	}
}

// before reports whether something happened to an earlier part.
func (f *firstError) before(part int) bool {
	f.mu.Lock()
	defer f.mu.Unlock()
	return f.err != nil && f.part < part
}
