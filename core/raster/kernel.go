package raster

import "math"

// lobes is the reach of the kernel in pixels of the smaller picture; fewLobes that of the one
// for copies on screens.
const (
	lobes    = 3
	fewLobes = 2
)

// lanczos is sinc(x)·sinc(x/a) for |x| < a (Duchon 1979).
func lanczos(x, a float64) float64 {
	if x == 0 {
		return 1
	}
	if x <= -a || x >= a {
		return 0
	}
	p := math.Pi * x
	return a * math.Sin(p) * math.Sin(p/a) / (p * p)
}

// taps are the weights with which source pixels, from first on, make one pixel. Those from near to
// far, of the weights, lie within a pixel of it: beside an edge the kernel, which swings below nothing
// beyond them, would make what is dark darker than anything there is (a rim around dark things before a
// bright sky), so that no pixel gets less light than the darkest of these.
type taps struct {
	first     int
	weights   []float32
	near, far int
}

// side is a stretch of a side of a picture that is to be brought down: what is read of it are
// averages of several pixels.
type side struct {
	start, length float64 // in averages; both may be fractional
	count         int     // how many averages there are
	several       float64 // how many pixels of the picture each is of
}

// tapsFor returns the taps that bring a stretch down to n pixels, with a kernel of so many lobes.
// At the edges the kernel is cut and its weights are brought back to a sum of one.
//
// What is averaged before has lost some of its finer detail, which the kernel gives back: the
// response of a box, sinc(f), is about 1 - (πf)²/6, and that of second differences is -(2πf)², so
// that taking off 1/24 of them undoes it.
func tapsFor(s side, n, lobes int) []taps {
	scale := s.length / float64(n)
	stretch := math.Max(scale, 1)
	lost := (1 - 1/(s.several*s.several)) / 24
	reach := float64(lobes)*stretch + math.Ceil(lost)
	kernel := func(x float64) float64 {
		v := lanczos(x/stretch, float64(lobes))
		if lost > 0 {
			v += lost * (2*v - lanczos((x-1)/stretch, float64(lobes)) - lanczos((x+1)/stretch, float64(lobes)))
		}
		return v
	}
	all := make([]taps, n)
	for i := range all {
		centre := s.start + (float64(i)+0.5)*scale
		first := min(max(0, int(math.Floor(centre-reach))), s.count-1)
		last := min(s.count-1, int(math.Ceil(centre+reach)))
		w := make([]float32, 0, last-first+1)
		sum := 0.0
		near, far := last-first, 0
		for at := first; at <= last; at++ {
			off := float64(at) + 0.5 - centre
			if math.Abs(off) < stretch {
				near, far = min(near, at-first), at-first+1
			}
			v := kernel(off)
			w = append(w, float32(v))
			sum += v
		}
		for j := range w {
			w[j] = float32(float64(w[j]) / sum)
		}
		all[i] = taps{first, w, near, max(far, near+1)}
	}
	return all
}
