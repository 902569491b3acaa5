package face

// lanes is how many outputs are worked out together: weights lie in blocks of as many.
const lanes = 16

// mix weighs what was gathered for the pixels of a row: into = bias + from × weights.
func (l *layer) mix(into, from []float32, w int) {
	taps := l.taps()
	if wide && w >= 4 {
		for x := 0; x < w; x += 4 {
			x := min(x, w-4) // the last four begin where they fit
			for b := 0; b < l.out; b += lanes {
				mixWide(&into[x*l.out+b], uintptr(4*l.out), &from[x*taps], uintptr(4*taps), &l.across[b*taps], taps, &l.bias[b])
			}
		}
		return
	}
	x := 0
	for ; x+1 < w; x += 2 {
		l.mixTwo(into[x*l.out:][:2*l.out], from[x*taps:][:taps], from[(x+1)*taps:][:taps])
	}
	if x < w { // the last one twice
		both := make([]float32, 2*l.out)
		l.mixTwo(both, from[x*taps:][:taps], from[x*taps:][:taps])
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

// spread adds src × weights to dst: for every pixel the same weights.
func spread(dst, src, weights []float32) {
	ch := len(weights)
	src = src[:len(dst)]
	if wide && ch%8 == 0 && len(dst) >= ch {
		spreadWide(&dst[0], &src[0], &weights[0], ch, len(dst)/ch)
		return
	}
	for at := 0; at < len(dst); at += ch {
		for c, v := range weights {
			dst[at+c] += v * src[at+c]
		}
	}
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
