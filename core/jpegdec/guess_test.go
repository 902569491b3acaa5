package jpegdec

import (
	"bytes"
	"image"
	"image/jpeg"
	"math/rand/v2"
	"slices"
	"sync"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/fit"
)

// busy is an invented picture in which hardly a block is like another.
func busy(w, h int) *image.YCbCr {
	m := image.NewYCbCr(image.Rect(0, 0, w, h), image.YCbCrSubsampleRatio420)
	r := rand.New(rand.NewPCG(11, 29))
	for _, plane := range [][]byte{m.Y, m.Cb, m.Cr} {
		for i := range plane {
			plane[i] = byte(90 + i%97/2 + r.IntN(60))
		}
	}
	return m
}

func encoded(t *testing.T, m image.Image, quality int) []byte {
	t.Helper()
	var out bytes.Buffer
	require.NoError(t, jpeg.Encode(&out, m, &jpeg.Options{Quality: quality}))
	return out.Bytes()
}

// scanOf returns a decoder that stands at the first block of the only scan of a file, and that scan.
func scanOf(t *testing.T, data []byte, wanted fit.Size) (*decoder, *scan) {
	t.Helper()
	d := &decoder{in: newSource(bytes.NewReader(data)), wanted: wanted}
	return d, d.toScan(t)
}

// toScan reads up to the first block.
func (d *decoder) toScan(t *testing.T) *scan {
	t.Helper()
	_, err := d.in.marker()
	require.NoError(t, err)
	for {
		m, err := d.in.marker()
		require.NoError(t, err)
		body, err := d.in.segment()
		require.NoError(t, err)
		if m != sos {
			require.NoError(t, d.segment(m, body))
			continue
		}
		s, err := d.head(body)
		require.NoError(t, err)
		for _, p := range s.parts {
			require.NoError(t, d.ready(p.component))
		}
		return s
	}
}

// Wherever one begins, what is read falls into step before long, and from there on is what is there:
// the same units, with first coefficients that are off by the same.
func TestWhatIsReadFallsIntoStep(t *testing.T) {
	t.Parallel()
	for name, data := range map[string][]byte{
		"colour": encoded(t, busy(800, 600), 88), "coarse": encoded(t, busy(800, 600), 20), "grey": encoded(t, grey(800, 600), 90),
	} {
		d, s := scanOf(t, data, fit.Size{})
		blocks := 0
		for _, p := range s.parts {
			blocks += p.across * p.down
		}
		var all []byte
		_, err := d.in.until(func(b []byte) { all = append(all, b...) })
		require.NoError(t, err)

		var told list // what is there
		marks := map[int]mark{}
		s.bits = bits{in: sourceOf(all)}
		s.goTo(place{})
		for unit := range s.count() {
			marks[s.bits.at()] = mark{place{unit: unit, last: s.lasts()}, told.used}
			require.NoError(t, s.unit(&told))
		}

		r := rand.New(rand.NewPCG(3, 1))
		inStep, late := 0, 0
		const tries = 200
		for range tries {
			from := 1 + r.IntN(len(all)/2)
			if all[from-1] == 0xFF {
				from++
			}
			w := &stretch{bytes: all[from:], own: min(stretchSize/4, len(all)-from-8)}
			s.bits = bits{in: sourceOf(w.bytes)}
			var g guess
			g.read(s, w)
			for i, m := range g.marks {
				right, ok := marks[m.at+8*from]
				if !ok {
					continue
				}
				inStep++
				late += i
				for n := i; n < len(g.marks); n++ {
					_, ok := marks[g.marks[n].at+8*from]
					require.True(t, ok, "in step for good")
				}
				var add [3]int32
				for c := range add {
					add[c] = right.last[c] - m.last[c]
				}
				assertSame(t, s, told.of[right.used:told.used], g.of[m.used:g.used], add)
				break
			}
		}
		assert.Greater(t, inStep, tries*9/10, name)
		assert.Less(t, late/max(inStep, 1), 120, "%s: units until it is in step", name)
	}
}

// assertSame compares blocks of two lists, of which the second ends sooner, and its first coefficients
// are off.
func assertSame(t *testing.T, s *scan, want, got []int32, add [3]int32) {
	t.Helper()
	for len(got) > 0 {
		for i := range s.parts {
			p := &s.parts[i]
			for range p.across * p.down {
				n := 2 + slices.Index(got[1:], 0)
				require.True(t, want[0] == got[0]+add[i] && slices.Equal(want[1:n], got[1:n]))
				want, got = want[n:], got[n:]
			}
		}
	}
}

// readBy reads the only scan of a file, on so many processors, and tells what went wrong. It guesses as if
// it was never known in time where a stretch begins, or waits to be told.
func readBy(t *testing.T, data []byte, wanted fit.Size, readers int, guessing bool) (*decoder, *cutter, error) {
	t.Helper()
	d, s := scanOf(t, data, wanted)
	c := &cutter{in: d.in, scan: s, all: s.count(), work: make(chan *stretch), used: make(chan []byte, 1)}
	var wg sync.WaitGroup
	for range readers {
		wg.Go(func() {
			r := &reader{cutter: c, scan: scan{parts: append([]part(nil), s.parts...)}}
			for w := range c.work {
				r.scan.bits = bits{in: sourceOf(w.bytes)}
				r.guess.forget()
				if guessing {
					r.guess.read(&r.scan, w)
				}
				r.begin(<-w.start, w)
			}
		})
	}
	after, err := c.anywhere()
	close(c.work)
	wg.Wait()
	_, err = c.result(after, err)
	return d, c, err
}

// Whatever is guessed, the picture is the one that is read in turn.
func TestGuessesChangeNothing(t *testing.T) {
	t.Parallel()
	for name, c := range map[string]struct {
		data []byte
		use  int // of guesses: all are, most are not, or nothing is known of them
	}{
		"colour":              {encoded(t, busy(1600, 1200), 93), 1},
		"grey":                {encoded(t, grey(1600, 1200), 95), 1},
		"the same everywhere": {encoded(t, flatly(4800, 4800), 90), 0},
		"told alike":          {toldAlike(t, 1600, 800), -1},
	} {
		for i, readers := range []int{1, 2, 3, 5} {
			wanted := fit.Size{W: 100 << i, H: 1} // an eighth, a quarter, a half and all of 1600 pixels
			want, _, err := readBy(t, c.data, wanted, 1, false)
			require.NoError(t, err, name)
			got, cut, err := readBy(t, c.data, wanted, readers, true)
			require.NoError(t, err, name)
			for i := range want.comps {
				require.True(t, bytes.Equal(want.comps[i].plane, got.comps[i].plane), "%s, component %d", name, i)
			}
			require.Greater(t, cut.cut, 4, name)
			switch c.use {
			case -1:
				assert.Negative(t, cut.inStep.Load(), name)
			case 1:
				assert.GreaterOrEqual(t, int(cut.inStep.Load()), cut.cut-1, name)
			}
		}
	}
}

// Of a part no more is handed out than what holds it, and what is on its way.
func TestNothingBelowAPartIsHandedOut(t *testing.T) {
	t.Parallel()
	data := encoded(t, busy(1600, 1200), 93)
	stretches := func(part image.Rectangle) int {
		d := &decoder{in: newSource(bytes.NewReader(data)), part: part}
		s := d.toScan(t)
		c := &cutter{in: d.in, scan: s, all: s.count(), work: make(chan *stretch), used: make(chan []byte, 1)}
		var wg sync.WaitGroup
		wg.Go(func() {
			r := &reader{cutter: c, scan: scan{parts: s.parts}}
			for w := range c.work {
				r.stretch(w)
			}
		})
		_, err := c.anywhere()
		close(c.work)
		wg.Wait()
		require.NoError(t, err)
		return c.cut
	}
	all := stretches(image.Rectangle{})
	assert.Greater(t, all, 10)
	assert.LessOrEqual(t, stretches(image.Rect(0, 0, 300, 100)), 4)
	assert.Less(t, stretches(image.Rect(0, 500, 300, 600)), all/2+4)
}

// Damage anywhere gives the same error and, where none is noticed, the same picture as read in turn.
func TestDamageIsWhatItIsInTurn(t *testing.T) {
	t.Parallel()
	whole := encoded(t, busy(1200, 800), 93)
	first := bytes.Index(whole, []byte{0xFF, sos}) + 14
	r := rand.New(rand.NewPCG(6, 6))
	noticed := 0
	const tries = 60
	for try := range tries {
		data := bytes.Clone(whole)
		for range 1 + r.IntN(3) {
			data[first+r.IntN(len(data)-first)] = byte(r.IntN(256))
		}
		if try%10 == 0 {
			data = data[:first+r.IntN(len(data)-first)]
		}
		want, _, due := readBy(t, data, fit.Size{}, 1, false)
		got, _, err := readBy(t, data, fit.Size{}, 2, true)
		require.Equal(t, due, err, "try %d", try)
		if due != nil {
			noticed++
			continue
		}
		for i := range want.comps {
			require.True(t, bytes.Equal(want.comps[i].plane, got.comps[i].plane), "try %d", try)
		}
	}
	assert.Greater(t, noticed, tries/10)
	assert.Less(t, noticed, tries)
}

// What is drawn beside a place where somebody else draws leaves that alone.
func TestDrawingStopsWhereSomebodyElseDraws(t *testing.T) {
	t.Parallel()
	var b block
	b.at[0] = 800
	b.put(1, 30)
	b.put(2, -20)
	for _, n := range []int{1, 2, 4, 8} {
		c := &component{nh: n, nv: n, kept: image.Rect(0, 0, 40, 1), stride: 40*n + 8, luma: true}
		for until := 1; until <= 12; until++ {
			c.plane = bytes.Repeat([]byte{7}, c.stride*n)
			alone := bytes.Clone(c.plane)
			var w brush
			for x := range until {
				w.drawWithin(c, &b, x, 0, until)
			}
			for y := range n {
				row := c.plane[y*c.stride:][:c.stride]
				require.NotContains(t, row[:until*n], byte(7))
				require.Equal(t, alone[until*n:c.stride], row[until*n:], "%d blocks of %d pixels", until, n)
			}
		}
	}
}

// A guess that never gets anywhere ends soon, whatever the bytes are.
func TestAGuessThatLeadsNowhere(t *testing.T) {
	t.Parallel()
	_, s := scanOf(t, encoded(t, busy(64, 64), 90), fit.Size{})
	for i := range s.parts {
		h := *s.parts[i].ac
		h.beyond = [17]int32{} // no code is one
		h.look, h.short = [1 << lookBits]int32{}, [1 << lookBits]uint16{}
		s.parts[i].ac = &h
	}
	w := &stretch{bytes: bytes.Repeat([]byte{0x5A, 0x17}, stretchSize/2), own: stretchSize}
	s.bits = bits{in: sourceOf(w.bytes)}
	var g guess
	g.read(s, w)
	assert.Less(t, s.bits.in.pos, 2000, "bytes read")
	assert.True(t, g.made)
	assert.Zero(t, g.units)
}

// toldAlike is a file of three components whose codes are those of one table: out of step by a block,
// a guess stays so. It is a grey file that says something else of itself.
func toldAlike(t *testing.T, w, h int) []byte {
	t.Helper()
	data := encoded(t, grey(3*w, h), 95)
	sof := bytes.Index(data, []byte{0xFF, sof0})
	require.Equal(t, []byte{0, 11}, data[sof+2:sof+4])
	head := []byte{0xFF, sof0, 0, 17, 8, byte(h >> 8), byte(h), byte(w >> 8), byte(w), 3, 1, 0x11, 0, 2, 0x11, 0, 3, 0x11, 0}
	data = slices.Concat(data[:sof], head, data[sof+13:])
	at := bytes.Index(data, []byte{0xFF, sos})
	require.Equal(t, []byte{0, 8}, data[at+2:at+4])
	return slices.Concat(data[:at], []byte{0xFF, sos, 0, 12, 3, 1, 0, 2, 0, 3, 0, 0, 63, 0}, data[at+10:])
}

// grey is a busy picture without colours.
func grey(w, h int) *image.Gray {
	return &image.Gray{Pix: busy(w, h).Y, Stride: w, Rect: image.Rect(0, 0, w, h)}
}

// flatly is a picture of one colour, whose blocks all have the same few bits.
func flatly(w, h int) *image.YCbCr {
	m := image.NewYCbCr(image.Rect(0, 0, w, h), image.YCbCrSubsampleRatio420)
	for i := range m.Y {
		m.Y[i] = 120
	}
	for i := range m.Cb {
		m.Cb[i], m.Cr[i] = 90, 170
	}
	return m
}
