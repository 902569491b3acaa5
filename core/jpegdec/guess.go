package jpegdec

// A guess is what was read of a stretch of a scan as if a unit began with it, which is hardly ever
// so. Soon, though, codes of unlike lengths fall into step: from some unit on, what is read is what
// is there. (Klein and Wiseman, Parallel Huffman Decoding with Applications to JPEG Files, The
// Computer Journal 46(5), 2003.)
//
// Whoever reads the stretch before goes on until one of its units begins where one of the guess
// does. Nothing else than the place of a unit says how its codes are read, so that all that follows
// is right, but for the first coefficients, which are told as what they differ by: they are off by
// the same for all blocks of a component.
type guess struct {
	list
	marks []mark
	units int  // that were read
	end   mark // after them
	next  int  // of marks, that is met next
	made  bool // it was tried
}

// A mark is where a unit begins.
type mark struct {
	place
	used int // of the list
}

// mostMarks is how many units are asked at most whether they are in step.
const mostMarks = 2048

// mostTries is how often a guess begins anew where codes are met that there are not. What can be read at all
// needs a few; a file could be written so that it never ends.
const mostTries = 64

// A junction is where what is read meets a guess.
type junction struct {
	unit  int      // its number
	used  int      // of the guess's list, before it
	units int      // of the guess, from it on
	add   [3]int32 // to the guess's first coefficients
}

// forget begins anew.
func (g *guess) forget() {
	g.used, g.marks, g.units, g.next = 0, g.marks[:0], 0, 0
}

// read reads a stretch.
func (g *guess) read(s *scan, w *stretch) {
	g.forget()
	g.made = true
	s.goTo(place{})
	for tries := 0; tries < mostTries; {
		g.end = mark{place{at: s.bits.at(), last: s.lasts()}, g.used}
		if g.end.at >= 8*w.own {
			return
		}
		if len(g.marks) < mostMarks {
			g.marks = append(g.marks, g.end)
		}
		err := s.unit(&g.list)
		switch {
		case err == nil && s.bits.spent():
			return // a unit that is not all there, or none
		case err == nil:
			g.units++
		default: // it is not in step
			again := g.end.at/8 + 1
			if again < len(w.bytes) && w.bytes[again] == 0 && w.bytes[again-1] == 0xFF {
				again++
			}
			g.forget()
			s.goTo(place{at: 8 * again})
			tries++
		}
	}
}

// join goes on behind a guess, if the next unit begins with one of it.
func (g *guess) join(s *scan, j *junction, unit int) bool {
	if g.next == len(g.marks) {
		return false
	}
	at := s.bits.at()
	for g.marks[g.next].at < at {
		if g.next++; g.next == len(g.marks) {
			return false
		}
	}
	m := g.marks[g.next]
	if m.at != at {
		return false
	}
	*j = junction{unit: unit, used: m.used, units: g.units - g.next}
	for i, last := range s.lasts() {
		j.add[i] = last - m.last[i]
	}
	s.goTo(g.end.place)
	return true
}
