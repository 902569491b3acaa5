package face

// lanes is how many outputs are worked out together: weights lie in blocks of as many.
const lanes = 16

// gathered is what the outputs of a row are made of: for each pixel some runs of values.
type gathered struct {
	v    []float32
	step int // values from a pixel to the next
	run  int // values of a run
	runs int
	next int // values from a run to the next one
}

// of are the runs of a pixel, after each other.
func (g gathered) of(into []float32, x int) []float32 {
	into = into[:0]
	for r := range g.runs {
		into = append(into, g.v[x*g.step+r*g.next:][:g.run]...)
	}
	return into
}

// mixing is what the assembler is told. Steps are in bytes.
type mixing struct {
	dst       *float32 // the first output of the first pixel
	dstStep   int
	src       *float32
	srcStep   int
	weights   *float32 // of a block of outputs
	run, runs int
	skip      int // from the end of a run to the next one
	bias      *float32
	groups    int // of four pixels, or eight
}

// mix weighs what was gathered for the pixels of a row: into = bias + from × weights.
func (l *layer) mix(into []float32, from gathered, w int) {
	if wide && w >= 4 {
		for b := 0; b < l.out; b += lanes {
			m := mixing{dstStep: 4 * l.out, srcStep: 4 * from.step, weights: &l.across[b*l.taps()], run: from.run, runs: from.runs,
				skip: 4 * (from.next - from.run), bias: &l.bias[b]}
			at := func(x, groups int) *mixing {
				m.dst, m.src, m.groups = &into[x*l.out+b], &from.v[x*from.step], groups
				return &m
			}
			x := 0
			if wider && w >= 8 {
				mixWider(at(0, w/8))
				x = w &^ 7
			}
			if w-x >= 4 {
				mixWide(at(x, (w-x)/4))
			}
			if w%4 > 0 {
				mixWide(at(w-4, 1)) // the last four begin where they fit
			}
		}
		return
	}
	p, q := make([]float32, 0, l.taps()), make([]float32, 0, l.taps())
	x := 0
	for ; x+1 < w; x += 2 {
		l.mixTwo(into[x*l.out:][:2*l.out], from.of(p, x), from.of(q, x+1))
	}
	if x < w { // the last one twice
		both := make([]float32, 2*l.out)
		l.mixTwo(both, from.of(p, x), from.of(q, x))
		copy(into[x*l.out:], both[:l.out])
	}
}

// mixTwo is mix for two pixels, four outputs at a time: their eight sums stay in registers.
func (l *layer) mixTwo(into, p, q []float32) {
	for b := 0; b < l.out; b += 4 {
		k := l.across[b/lanes*lanes*len(p):][b%lanes : lanes*len(p)]
		bias := (*[4]float32)(l.bias[b:])
		p0, p1, p2, p3 := bias[0], bias[1], bias[2], bias[3]
		q0, q1, q2, q3 := p0, p1, p2, p3
		for i := 0; i < len(p) && i < len(q) && lanes*i < len(k); i++ { // as the compiler likes it
			u, v := p[i], q[i]
			t := (*[4]float32)(k[lanes*i:])
			p0 += u * t[0]
			q0 += v * t[0]
			p1 += u * t[1]
			q1 += v * t[1]
			p2 += u * t[2]
			q2 += v * t[2]
			p3 += u * t[3]
			q3 += v * t[3]
		}
		*(*[4]float32)(into[b:]) = [4]float32{p0, p1, p2, p3}
		*(*[4]float32)(into[l.out+b:]) = [4]float32{q0, q1, q2, q3}
	}
}

// channels convolves each channel of a row alone. The plane has a rim.
func (l *layer) channels(into []float32, in plane, y int) {
	row := func(dy int) []float32 { return in.v[(y+dy)*in.step():][:in.step()] } // with the rim
	if wide && in.ch%8 == 0 {
		channelsWide(&channeling{&into[0], &row(0)[0], &row(1)[0], &row(2)[0], &l.deep[0], in.ch, in.w})
		return
	}
	clear(into)
	for dy := range 3 {
		for dx := range 3 {
			k, from := l.deep[(3*dy+dx)*in.ch:][:in.ch], row(dy)[dx*in.ch:]
			for x := 0; x < in.w*in.ch; x += in.ch {
				for c, v := range k {
					into[x+c] += v * from[x+c]
				}
			}
		}
	}
}

// channeling is what the assembler is told.
type channeling struct {
	into          *float32
	top, mid, low *float32 // the rows, from the rim on
	weights       *float32
	ch, w         int
}

// largestOf keeps the larger of dst and src in dst.
func largestOf(dst, src []float32) {
	if wide && len(dst)%8 == 0 && len(dst) > 0 && len(src) >= len(dst) {
		largestWide(&dst[0], &src[0], len(dst))
		return
	}
	for c, v := range src[:len(dst)] {
		dst[c] = max(dst[c], v)
	}
}

// slope is what is left below nothing of a leaky rectifier.
const slope = 0.1

// rectify leaves what is above nothing, and a tenth of what is below.
func rectify(v []float32) {
	if whole := len(v) &^ 7; wide && whole > 0 {
		rectifyWide(&v[0], whole, slope)
		v = v[whole:]
	}
	for i, x := range v {
		v[i] = max(x, slope*x)
	}
}
