package raster

import "math"

// lobes is the reach of the kernel in pixels of the smaller picture.
const lobes = 3

// lanczos is sinc(x)·sinc(x/3) for |x| < 3 (Duchon 1979).
func lanczos(x float64) float64 {
	if x == 0 {
		return 1
	}
	if x <= -lobes || x >= lobes {
		return 0
	}
	p := math.Pi * x
	return lobes * math.Sin(p) * math.Sin(p/lobes) / (p * p)
}

// taps are the weights with which source pixels, from first on, make one pixel.
type taps struct {
	first   int
	weights []float32
}

// tapsFor returns the taps that bring a stretch of from pixels, of which count
// exist, down to n. from may be fractional after pre-reduction. At the edges
// the kernel is cut and its weights are brought back to a sum of one.
func tapsFor(from float64, count, n int) []taps {
	scale := from / float64(n)
	stretch := math.Max(scale, 1)
	all := make([]taps, n)
	for i := range all {
		centre := (float64(i) + 0.5) * scale
		first := max(0, int(math.Floor(centre-lobes*stretch)))
		last := min(count-1, int(math.Ceil(centre+lobes*stretch)))
		w := make([]float32, 0, last-first+1)
		sum := 0.0
		for s := first; s <= last; s++ {
			v := lanczos((float64(s) + 0.5 - centre) / stretch)
			w = append(w, float32(v))
			sum += v
		}
		for j := range w {
			w[j] = float32(float64(w[j]) / sum)
		}
		all[i] = taps{first, w}
	}
	return all
}
