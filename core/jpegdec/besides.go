package jpegdec

import (
	"runtime"
	"sync"
)

// Restart markers let somebody begin in the middle of a scan (T.81, F.2.2.5): stretches between them
// are read side by side.

// leastStretch is how many bytes are worth handing over.
const leastStretch = 1 << 15

// endsWithRows reports whether restart markers stand at the ends of rows, so that a stretch of
// whole rows can be read by itself. Drawing writes to the right of a block, where within a row
// somebody else may have drawn already.
func (s *scan) endsWithRows() bool {
	across, _ := s.extent()
	return s.interval > 0 && (s.interval%across == 0 || across%s.interval == 0)
}

// A stretch is some units of a scan and their bytes, with the marker after them.
type stretch struct {
	from, to int
	bytes    []byte
}

// besides reads a sequential scan in stretches, on all cores. It returns the marker that ends it.
func (d *decoder) besides(s *scan) (after byte, err error) {
	work := make(chan stretch)
	var wg sync.WaitGroup
	var failed firstError
	for range runtime.GOMAXPROCS(0) {
		wg.Go(func() {
			own := &scan{parts: append([]part(nil), s.parts...), band: s.band, interval: s.interval, brush: new(brush)}
			for w := range work {
				if failed.before(w.from) {
					continue
				}
				own.bits = bits{in: sourceOf(w.bytes)}
				if err := own.units(w.from, w.to, nil); err != nil {
					failed.at(w.from, err)
				}
			}
		})
	}
	after, err = d.cutUp(s, work)
	close(work)
	wg.Wait()
	if failed.err != nil {
		return 0, failed.err
	}
	return after, err
}

// cutUp reads the bytes of a scan and hands them over, a stretch of whole rows at a time.
func (d *decoder) cutUp(s *scan, work chan<- stretch) (after byte, err error) {
	across, _ := s.extent()
	all := s.count()
	w := stretch{}
	for at := 0; at < all; {
		after, err = d.in.until(func(b []byte) { w.bytes = append(w.bytes, b...) })
		if err != nil {
			return 0, err
		}
		due := rst0 + byte(at/s.interval%8)
		if at = min(at+s.interval, all); at < all && restarts(after) && after != due {
			return 0, DamageError("a restart marker that is out of order")
		}
		if at < all && !restarts(after) {
			w.to = all // of which not all is there: whoever reads it finds out
			work <- w
			return after, nil
		}
		if at == all || at%across == 0 && len(w.bytes) >= leastStretch {
			w.to = at
			work <- w
			w = stretch{from: at, bytes: make([]byte, 0, len(w.bytes)+len(w.bytes)/8)}
		}
	}
	return after, nil
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
