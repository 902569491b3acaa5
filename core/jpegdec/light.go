package jpegdec

import "mivlet/core/light"

// seen is how many code values an average of them may differ from that of the light, before a
// block is decoded whole.
const seen = 0.5

// spread is the variance of n × n pixels.
func spread(at []byte, stride, n int) float32 {
	sum, squares := 0, 0
	for y := range n {
		for _, v := range at[y*stride:][:n] {
			sum += int(v)
			squares += int(v) * int(v)
		}
	}
	return float32(squares*n*n-sum*sum) / float32(n*n*n*n)
}

// asLight gives n × n pixels of a block the average of its light, where much was left out.
//
// The light l of a code value c grows as (c+14)^2.4 (IEC 61966-2-1, in code values), and so the
// code value of an average of light lies above the average of code values by about their
// variance times l”/2l' = 0.7/(c+14).
func (w *brush) asLight(at []byte, stride int, b *block, n int) {
	all, enough := b.power/64, seen/0.7*max(b.at[0]/8+middle+14, 14)
	if all < enough || all-spread(at, stride, n) < enough {
		return
	}
	inverse(w.whole[:], 8, b, 8, 8)
	several := 8 / n
	for j := range n {
		row := at[j*stride:][:n]
		for i := range row {
			l := float32(0)
			for y := range several {
				for _, v := range w.whole[8*(j*several+y)+i*several:][:several] {
					l += light.OfCode[v]
				}
			}
			row[i] = light.Code(l / float32(several*several))
		}
	}
}
