package jpegdec

import (
	"image"
	"slices"
)

// A reader reads stretches of a sequential scan, and draws what it read.
type reader struct {
	*cutter
	scan  scan
	read  list // from the start of a stretch on
	guess guess
	brush brush
}

// lostGuess is how many guesses have to be of use for one that is not. There is no more guessing after
// two of those that cannot be made good.
const lostGuess = 4

// stretch reads a stretch. Where nobody knows yet where its first unit begins, it reads on a guess
// until somebody does.
func (r *reader) stretch(w *stretch) {
	r.scan.bits = bits{in: sourceOf(w.bytes)}
	r.guess.forget()
	r.guess.made = false
	var start place
	select {
	case start = <-w.start:
	default:
		if r.inStep.Load() > -2*lostGuess {
			r.guess.read(&r.scan, w)
		}
		start = <-w.start
	}
	r.begin(start, w)
}

// begin reads a stretch for good, if somebody still wants it.
func (r *reader) begin(start place, w *stretch) {
	if start.stop || r.failed.before(w.number) {
		w.tell(place{stop: true})
	} else {
		r.from(start, w)
	}
	select {
	case r.used <- w.bytes:
	default:
	}
}

// tell says where the next stretch begins.
func (w *stretch) tell(p place) {
	if w.end != nil {
		w.end <- p
	}
}

// from reads a stretch from where its first unit begins, tells where the next one does, and draws.
func (r *reader) from(start place, w *stretch) {
	s, g := &r.scan, &r.guess
	s.goTo(start)
	r.read.used = 0
	to, unit := &r.read, start.unit
	var joined junction
	next := rst0 + byte(unit/max(s.interval, 1)%8)
	for unit < w.to {
		if w.end != nil && s.bits.at() >= 8*w.own {
			break
		}
		if to == &r.read && g.join(s, &joined, unit) {
			to, unit = &g.list, min(unit+joined.units, w.to)
			continue
		}
		err := error(nil)
		if s.interval > 0 && unit > start.unit && unit%s.interval == 0 {
			err = s.restart(&next)
		}
		if err == nil {
			err = s.unit(to)
		}
		if err == nil && s.bits.spent() {
			err = s.bits.short()
		}
		if err != nil {
			r.failed.at(w.number, err)
			w.tell(place{stop: true})
			return
		}
		unit++
	}
	if to == &g.list {
		r.inStep.Add(1)
	} else if g.made {
		r.inStep.Add(-lostGuess)
	}
	if unit == r.all {
		r.enough.Store(true)
	}
	end := place{at: s.bits.at() - 8*w.own, unit: unit, last: s.lasts(), stop: unit == r.all}
	for i := range end.last {
		end.last[i] += joined.add[i]
	}
	w.tell(end)
	if to == &r.read {
		r.draw(r.read.of, start.unit, unit, unit, joined.add)
	} else {
		r.draw(r.read.of, start.unit, joined.unit, unit, [3]int32{})
		r.draw(g.of[joined.used:], joined.unit, unit, unit, joined.add)
	}
}

// draw draws the units from one on up to another. Up to end somebody goes on who draws after this, from
// there on somebody else.
func (r *reader) draw(of []int32, unit, until, end int, add [3]int32) {
	across, _ := r.scan.extent()
	b := &r.brush.block
	for ; unit < until; unit++ {
		x, y := unit%across, unit/across
		foreign := across + 8 // units that somebody else draws, in this row
		if y == end/across {
			foreign = end % across
		}
		for i := range r.scan.parts {
			p := &r.scan.parts[i]
			for v := range p.down {
				for h := range p.across {
					place := image.Pt(x*p.across+h, y*p.down+v)
					if !place.In(p.kept) {
						of = of[1+slices.Index(of[1:], 0)+1:]
						continue
					}
					*b = block{}
					b.at[0] = float32(of[0]+add[i]) * p.factor[0]
					for of = of[1:]; of[0] != 0; of = of[1:] {
						k := of[0] & 63
						b.put(int(k), float32(of[0]>>8)*p.factor[k])
					}
					of = of[1:]
					r.brush.drawWithin(p.component, b, place.X, place.Y, foreign*p.across)
				}
			}
		}
	}
}
