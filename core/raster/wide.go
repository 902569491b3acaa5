package raster

// The loops that every reduction spends most of its time in. Each has a plain form, which
// says what is meant, and one for processors that work out several values at once. Both give
// the same result to the last bit, so that a cut does not depend on the machine.

// narrow runs the kernel along a row of ch channels, each pixel's even and odd taps in sums of
// their own, which do not wait for each other; none gets less than the least of those near it. src
// has room for one value more than it holds, as a pixel of three channels is read as four.
func narrow(dst, src []float32, cols []taps, ch int) {
	if wide && len(cols) > 0 {
		last := cols[len(cols)-1]
		_, _ = dst[:ch*len(cols)], src[:ch*(last.first+len(last.weights))+4-ch]
		narrowWide(&dst[0], &src[0], &cols[0], len(cols), ch)
		return
	}
	if ch == 3 {
		narrowOpaque(dst, src, cols)
	} else {
		narrowAlpha(dst, src, cols)
	}
}

func narrowOpaque(dst, src []float32, cols []taps) {
	for x, t := range cols {
		var r, g, b, r2, g2, b2 float32
		px := src[t.first*3:]
		weights := t.weights
		for len(weights) >= 2 && len(px) >= 6 {
			u, w := weights[0], weights[1]
			r += u * px[0]
			g += u * px[1]
			b += u * px[2]
			r2 += w * px[3]
			g2 += w * px[4]
			b2 += w * px[5]
			weights, px = weights[2:], px[6:]
		}
		if len(weights) == 1 {
			u := weights[0]
			r += u * px[0]
			g += u * px[1]
			b += u * px[2]
		}
		near := src[3*(t.first+t.near) : 3*(t.first+t.far)]
		lr, lg, lb := near[0], near[1], near[2]
		for px := near[3:]; len(px) >= 3; px = px[3:] {
			lr, lg, lb = min(lr, px[0]), min(lg, px[1]), min(lb, px[2])
		}
		dst[3*x], dst[3*x+1], dst[3*x+2] = max(r+r2, lr), max(g+g2, lg), max(b+b2, lb)
	}
}

func narrowAlpha(dst, src []float32, cols []taps) {
	for x, t := range cols {
		var even, odd [4]float32
		px := src[t.first*4:]
		for j, w := range t.weights {
			sum := &even
			if j%2 == 1 {
				sum = &odd
			}
			for c := range sum {
				sum[c] += w * px[4*j+c]
			}
		}
		near := src[4*(t.first+t.near) : 4*(t.first+t.far)]
		least := [4]float32(near)
		for px := near[4:]; len(px) >= 4; px = px[4:] {
			for c := range least {
				least[c] = min(least[c], px[c])
			}
		}
		for c := range even {
			dst[4*x+c] = max(even[c]+odd[c], least[c])
		}
	}
}

// roomFor returns n values with room for as many more as stack and narrow ask for.
func roomFor(n int) []float32 { return make([]float32, (n+8)&^7)[:n] }

// rowsFor returns rows of n values with room. Each begins at another place of its page: rows that are read
// side by side would push each other out of what the processor keeps near.
func rowsFor(count, n int) [][]float32 {
	const line, page = 16, 1024 // in values
	rows := make([][]float32, count)
	for i := range rows {
		from := i * line % page
		rows[i] = roomFor(from + n)[from:]
	}
	return rows
}

// stack runs the kernel down rows, one for each of its taps, into line; none gets less than the least
// of those near it. All have room for a multiple of eight values: see roomFor.
func stack(line []float32, rows [][]float32, t taps) {
	if n := (len(line) + 7) &^ 7; wide && n > 0 {
		for _, row := range rows { // what is read has to be there: nothing else would notice
			_ = row[:n]
		}
		line, near := line[:n], rows[t.near:t.far]
		_ = near[0]
		stackWide(&line[0], &rows[0], &t.weights[:len(rows)][0], len(rows), t.near, t.far, n)
		return
	}
	stackPlain(line, rows, t)
}

// stackPlain adds two rows at a time.
func stackPlain(line []float32, rows [][]float32, t taps) {
	clear(line)
	j := 0
	for ; j+1 < len(rows); j += 2 {
		a, b, u, v := rows[j][:len(line)], rows[j+1][:len(line)], t.weights[j], t.weights[j+1]
		for i := range line {
			line[i] += u*a[i] + v*b[i]
		}
	}
	if j < len(rows) {
		a, u := rows[j][:len(line)], t.weights[j]
		for i := range line {
			line[i] += u * a[i]
		}
	}
	near := rows[t.near:t.far]
	for i := range line {
		least := near[0][i]
		for _, row := range near[1:] {
			least = min(least, row[i])
		}
		line[i] = max(line[i], least)
	}
}

// addLight adds the light of photographed pixels to acc, three values each. Each two beside each other
// have one chroma between them where it is shared: then there is an even number of them.
func addLight(acc []float32, luma, cb, cr []uint8, tables *[3][mask + 1]uint32, shared bool) {
	chromas := len(luma)
	if shared {
		chromas = len(luma) / 2
	}
	cb, cr = cb[:chromas], cr[:chromas]
	if n := len(luma) &^ 7; wide && n > 0 {
		acc = acc[:3*len(luma)]
		addLightWide(&acc[0], &luma[0], &cb[0], &cr[0], tables, n, shared)
		done := n
		if shared {
			done = n / 2
		}
		acc, luma, cb, cr = acc[3*n:], luma[n:], cb[done:], cr[done:]
	}
	if shared {
		pairs(acc, luma, cb, cr, tables)
	} else {
		singles(acc, luma, cb, cr, tables)
	}
}

// addFolded adds pixels that each have a chroma of their own, each k of them to one pixel of acc; k is few at most.
func addFolded(acc []float32, luma, cb, cr []uint8, k int, tables *[3][mask + 1]uint32) {
	if n := len(luma) / 2 &^ 7; wide && k == 2 && n > 0 {
		acc, cb, cr = acc[:3*((len(luma)+1)/2)], cb[:len(luma)], cr[:len(luma)]
		addTwosWide(&acc[0], &luma[0], &cb[0], &cr[0], tables, n)
		acc, luma, cb, cr = acc[3*n:], luma[2*n:], cb[2*n:], cr[2*n:]
	}
	folded(acc, luma, cb, cr, k, tables)
}

// addFours adds groups of two by two pixels of two rows, each four of which share their chroma, to one pixel
// of acc each.
func addFours(acc []float32, top, low, cb, cr []uint8, tables *[3][mask + 1]uint32, group int) {
	if n := len(cb) &^ 7; wide && group == 1 && n > 0 {
		acc, top, low, cr = acc[:3*len(cb)], top[:2*len(cb)], low[:2*len(cb)], cr[:len(cb)]
		addFoursWide(&acc[0], &top[0], &low[0], &cb[0], &cr[0], tables, n)
		acc, top, low, cb, cr = acc[3*n:], top[2*n:], low[2*n:], cb[n:], cr[n:]
	}
	fours(acc, top, low, cb, cr, tables, group)
}

// unlike marks which two by two pixels, of two rows of them with four bytes each, differ by enough to be
// looked at: four to a byte, the first in its lowest bit.
func unlike(marks []uint8, upper, lower []uint8) {
	lower = lower[:len(upper)]
	count := len(upper) / 8
	marks = marks[:(count+3)/4]
	n := 0
	if wide && count >= 4 {
		n = count &^ 3
		unlikeWide(&marks[0], &upper[0], &lower[0], n/4, aloneFrom)
	}
	for ; n < count; n++ {
		if n%4 == 0 {
			marks[n/4] = 0
		}
		if !alike((*[8]byte)(upper[8*n:]), (*[8]byte)(lower[8*n:])) {
			marks[n/4] |= 1 << (n % 4)
		}
	}
}
