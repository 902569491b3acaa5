package jpegdec

// Progressive files tell the coefficients in several scans, each a band of them or one more bit
// (T.81, annex G).

// firstOfDC reads the high bits of the first coefficient.
func (d *decoder) firstOfDC(b *[64]int16, c *component, low uint) error {
	v, err := d.firstCoefficient(c)
	b[0] = int16(v << low)
	return err
}

// firstOfAC reads the high bits of a band (G.1.2.2).
func (d *decoder) firstOfAC(b *[64]int16, h *huffman, s band) error {
	if d.eobrun > 0 {
		d.eobrun--
		return nil
	}
	for k := s.from; k <= s.to; k++ {
		symbol, err := d.bits.symbol(h)
		if err != nil {
			return err
		}
		run, size := int(symbol>>4), uint(symbol&15)
		if size == 0 && run < 15 {
			d.eobrun = 1<<run - 1
			if run > 0 {
				d.eobrun += d.bits.take(uint(run))
			}
			return nil
		}
		if k += run; k > s.to {
			return nil
		}
		if size > 0 {
			b[k] = int16(extend(d.bits.take(size), int(size)) << s.low)
		}
	}
	return nil
}

// refineAC reads one more bit of each coefficient of a band: for those that are not zero yet
// just the bit, for the others where one becomes it (G.1.2.3).
func (d *decoder) refineAC(b *[64]int16, h *huffman, s band) error {
	k := s.from
	if d.eobrun == 0 {
		for k <= s.to {
			symbol, err := d.bits.symbol(h)
			if err != nil {
				return err
			}
			run, size := int(symbol>>4), symbol&15
			value := int16(0)
			switch {
			case size == 1:
				value = -1 << s.low
				if d.bits.take(1) == 1 {
					value = 1 << s.low
				}
			case size > 1:
				return DamageError("a coefficient that grows by more than a bit")
			case run < 15:
				d.eobrun = 1 << run
				if run > 0 {
					d.eobrun += d.bits.take(uint(run))
				}
			}
			if d.eobrun > 0 {
				break
			}
			if k = d.refine(b, k, s, run); k > s.to {
				return nil
			}
			if value != 0 {
				b[k] = value
			}
			k++
		}
	}
	if d.eobrun > 0 {
		d.eobrun--
		d.refine(b, k, s, 64)
	}
	return nil
}

// refine reads the bits of coefficients that are not zero, from k on, until it has passed so
// many zeros and stands at the next, or at the end of the band.
func (d *decoder) refine(b *[64]int16, k int, s band, zeros int) int {
	for ; k <= s.to; k++ {
		if b[k] == 0 {
			if zeros == 0 {
				return k
			}
			zeros--
			continue
		}
		if d.bits.take(1) == 1 {
			if b[k] > 0 {
				b[k] += 1 << s.low
			} else {
				b[k] -= 1 << s.low
			}
		}
	}
	return k
}

// transformAll draws the blocks when all scans have been read.
func (d *decoder) transformAll() {
	p := d.painter()
	for i := range d.comps {
		c := &d.comps[i]
		for y := range c.bh {
			for x := range c.bw {
				b := p.next(c, x, y)
				all := c.coefficients(x, y)
				b.at[0] = float32(all[0]) * c.factor[0]
				for k, v := range all[1:] {
					if v != 0 {
						b.put(k+1, c.whole(v)*c.factor[k+1])
					}
				}
			}
		}
	}
	p.done()
}

// whole is what a coefficient stands for: where its last bit was not read, the middle of the two
// that it can be.
func (c *component) whole(v int16) float32 {
	switch {
	case c.rough && v > 0:
		return float32(v) + 0.5
	case c.rough:
		return float32(v) - 0.5
	}
	return float32(v)
}
