package jpegenc

import "mivlet/core/t81"

// table holds the steps by which coefficients are counted, in zigzag order.
type table [64]uint8

// The tables of Annex K, K.1 and K.2, in rows.
var lumaOf50 = [64]uint8{
	16, 11, 10, 16, 24, 40, 51, 61,
	12, 12, 14, 19, 26, 58, 60, 55,
	14, 13, 16, 24, 40, 57, 69, 56,
	14, 17, 22, 29, 51, 87, 80, 62,
	18, 22, 37, 56, 68, 109, 103, 77,
	24, 35, 55, 64, 81, 104, 113, 92,
	49, 64, 78, 87, 103, 121, 120, 101,
	72, 92, 95, 98, 112, 100, 103, 99,
}

var chromaOf50 = [64]uint8{
	17, 18, 24, 47, 99, 99, 99, 99,
	18, 21, 26, 66, 99, 99, 99, 99,
	24, 26, 56, 99, 99, 99, 99, 99,
	47, 66, 99, 99, 99, 99, 99, 99,
	99, 99, 99, 99, 99, 99, 99, 99,
	99, 99, 99, 99, 99, 99, 99, 99,
	99, 99, 99, 99, 99, 99, 99, 99,
	99, 99, 99, 99, 99, 99, 99, 99,
}

// tablesFor scales the tables of Annex K to a quality (common practice).
func tablesFor(quality int) (luma, chroma *table) {
	quality = min(max(quality, 1), 100)
	percent := 200 - 2*quality
	if quality < 50 {
		percent = 5000 / quality
	}
	luma, chroma = new(table), new(table)
	for k, at := range t81.Zigzag {
		luma[k] = uint8(min(max((int(lumaOf50[at])*percent+50)/100, 1), 255))
		chroma[k] = uint8(min(max((int(chromaOf50[at])*percent+50)/100, 1), 255))
	}
	return luma, chroma
}

// divisors are what results of the transform are multiplied with to be counted in steps.
func (t *table) divisors() *[64]float32 {
	var d [64]float32
	for k, at := range t81.Zigzag {
		d[k] = float32(1 / (8 * float64(t[k]) * scale[at/8] * scale[at%8]))
	}
	return &d
}

// factors are what steps are multiplied with for the way back.
func (t *table) factors() *[64]float32 {
	var f [64]float32
	for k, at := range t81.Zigzag {
		f[k] = float32(float64(t[k]) * scale[at/8] * scale[at%8] / 8)
	}
	return &f
}

// mostSteps is the largest coefficient, but for the first, that a baseline file can hold.
const mostSteps = 1023

// quantise counts the coefficients in steps.
func (b *block) quantise(from *[64]float32, divisors *[64]float32) {
	if wide {
		b.mask = quantiseWide(&b.at, from, divisors, &t81.Zigzag)
		return
	}
	b.quantisePlain(from, divisors)
}

func (b *block) quantisePlain(from *[64]float32, divisors *[64]float32) {
	// Added so that cutting off rounds to the nearest step, below nothing too.
	const up = 1 << 14
	b.mask = 0
	for k := range 64 {
		v := int32(from[t81.Zigzag[k]&63]*divisors[k]+(up+0.5)) - up
		b.at[k] = int16(v)
		b.mask |= uint64(uint32(v|-v)>>31) << k
	}
	for k, v := range b.at[1:] {
		if v > mostSteps || v < -mostSteps {
			b.at[k+1] = min(max(v, -mostSteps), mostSteps)
		}
	}
}
