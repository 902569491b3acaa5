package jpegdec

import (
	"io"
	"math"
	mathbits "math/bits"
	"runtime"
	"sync"
	"sync/atomic"
)

// A relay reads the scans of a progressive file side by side. A scan needs what those before it
// told of a row, and no more: it follows them, a row behind.
type relay struct {
	failed firstError // by the numbers of scans
	begun  int
	under  sync.WaitGroup
	places chan struct{} // for the scans that are under way together, of which each holds its bytes
}

// mostScans is how many scans a file may have. What is written has ten or so; each costs a walk through
// all blocks, however few bytes it has.
const mostScans = 500

// behind is how many scans are under way together at most.
func behind() int { return runtime.GOMAXPROCS(0) + 2 }

// begin takes the bytes of a scan and begins to read it. It returns the marker that ends it.
func (r *relay) begin(s *scan, in *source) (after byte, err error) {
	if r.begun++; r.begun > mostScans {
		return 0, DamageError("more scans than make sense")
	}
	if r.places == nil {
		r.places = make(chan struct{}, behind())
	}
	r.places <- struct{}{}
	var taken pieces
	for after = rst0; err == nil && restarts(after); {
		after, err = in.until(taken.add)
	}
	if err != nil || r.failed.before(r.begun) {
		<-r.places
		return after, err
	}
	for i := range s.parts {
		p := &s.parts[i]
		p.before, p.told = p.told, waiting{&s.done, p.down}
	}
	number := r.begun
	r.under.Go(func() {
		defer func() { <-r.places }()
		defer s.done.are(math.MaxInt)
		s.bits = bits{in: newSource(&taken)}
		if err := s.rows(func(row int) error { return r.follow(s, number, row) }); err != nil {
			r.failed.at(number, err)
		}
	})
	return after, nil
}

// follow waits until the scans before have told of a row. It ends a scan after one that failed.
func (r *relay) follow(s *scan, number, row int) error {
	for i := range s.parts {
		p := &s.parts[i]
		p.before.wait(row*p.down + p.down - 1)
	}
	if r.failed.before(number) {
		return errStopped
	}
	return nil
}

// errStopped ends a scan for which nobody waits any more.
const errStopped = DamageError("an earlier scan is damaged")

// end waits for all scans, and tells what is wrong with the first in which something is.
func (r *relay) end() error {
	r.under.Wait()
	return r.failed.err
}

// rows tells how far somebody has come, to those who wait for it.
type rows struct {
	mu    sync.Mutex
	until int
	more  *sync.Cond
}

// are says that so many rows are done.
func (r *rows) are(n int) {
	r.mu.Lock()
	defer r.mu.Unlock()
	r.until = n
	if r.more != nil {
		r.more.Broadcast()
	}
}

// wait waits until more than n rows are done.
func (r *rows) wait(n int) {
	r.mu.Lock()
	defer r.mu.Unlock()
	if r.more == nil {
		r.more = sync.NewCond(&r.mu)
	}
	for r.until <= n {
		r.more.Wait()
	}
}

// waiting is for rows of a component, of which a scan tells so many at once. The zero value waits for
// nothing.
type waiting struct {
	rows *rows
	per  int
}

// wait waits until a row of blocks has been told of.
func (w waiting) wait(row int) {
	if w.rows != nil {
		w.rows.wait(row / w.per)
	}
}

// pieces are bytes that were read ahead. What is read of them is let go.
type pieces struct{ left [][]byte }

func (p *pieces) add(b []byte) {
	for len(b) > 0 {
		last := len(p.left) - 1
		if last < 0 || len(p.left[last]) == cap(p.left[last]) {
			p.left = append(p.left, make([]byte, 0, window))
			last++
		}
		room := p.left[last]
		n := min(len(b), cap(room)-len(room))
		p.left[last] = append(room, b[:n]...)
		b = b[n:]
	}
}

// Read implements [io.Reader].
func (p *pieces) Read(b []byte) (int, error) {
	if len(p.left) == 0 {
		return 0, io.EOF
	}
	n := copy(b, p.left[0])
	if p.left[0] = p.left[0][n:]; len(p.left[0]) == 0 {
		p.left[0] = nil
		p.left = p.left[1:]
	}
	return n, nil
}

// drawAll draws the blocks of a progressive file, each row as soon as all scans have told of it.
func (d *decoder) drawAll() {
	var next atomic.Int64
	var wg sync.WaitGroup
	for range runtime.GOMAXPROCS(0) {
		wg.Go(func() {
			var with brush
			for {
				row := d.units.Min.Y + int(next.Add(1)) - 1
				if row >= d.units.Max.Y || d.relay.failed.before(math.MaxInt) {
					return
				}
				for i := range d.comps {
					c := &d.comps[i]
					for y := row * c.v; y < (row+1)*c.v; y++ {
						c.told.wait(y)
						with.drawRow(c, y)
					}
				}
			}
		})
	}
	wg.Wait()
}

// drawRow draws a row of blocks.
func (w *brush) drawRow(c *component, y int) {
	for x := c.kept.Min.X; x < c.kept.Max.X; x++ {
		b := &w.block
		*b = block{}
		at := c.place(x, y)
		all := c.coefficients(at)
		b.at[0] = float32(all[0]) * c.factor[0]
		for some := c.something[at]; some != 0; some &= some - 1 {
			k := mathbits.TrailingZeros64(some) & 63
			b.put(k, c.whole(all[k])*c.factor[k])
		}
		w.draw(c, b, x, y)
	}
}
