package raster

import (
	"math"
	"sync"

	"golang.org/x/sync/errgroup"
)

// The range of qualities that are tried. None of the demo's photos needs less than the lowest to
// look the same; above the highest, bytes grow and nothing is seen (common practice).
const (
	lowest  = 25
	highest = 95
)

// The first two qualities that are tried: those of most photographs lie between
// (measured on the demo photos). The scale of AVIF is another one.
var (
	often     = [2]int{62, 80}
	oftenAVIF = [2]int{44, 57}
)

// lowestThat returns the lowest quality whose value reaches target, or the
// highest there is where none does. value must not fall with the quality. Two
// qualities are tried at a time, one on each core; what the first ones give
// foretells where the next ones are tried. It begins with two that are often it.
func lowestThat(target float64, often [2]int, value func(quality int) (float64, error)) (int, error) {
	low, high := lowest-1, highest // low falls short; high reaches it, or is the last
	atLow, atHigh := math.NaN(), math.NaN()
	first, second := often[0], often[1]
	for high-low > 1 {
		var v [2]float64
		if err := both(value, first, second, &v); err != nil {
			return high, err
		}
		for i, q := range [2]int{first, second} {
			switch {
			case q <= low || q >= high && v[i] >= target:
			case v[i] >= target:
				high, atHigh = q, v[i]
			default:
				low, atLow = q, v[i]
			}
		}
		first, second = next(low, high, atLow, atHigh, target)
	}
	return high, nil
}

// next foretells which two qualities part the range from low to high best: two
// neighbours where a line between the known values reaches the target, else
// thirds of the range.
func next(low, high int, atLow, atHigh, target float64) (int, int) {
	span := high - low
	if span <= 3 || math.IsNaN(atLow) || math.IsNaN(atHigh) || atHigh <= atLow {
		return low + max(1, span/3), low + max(1, 2*span/3)
	}
	q := low + int(math.Ceil(float64(span)*(target-atLow)/(atHigh-atLow)))
	q = min(max(q, low+2), high-1)
	return q - 1, q
}

// decibels stretches a structural similarity to a scale on which it grows
// nearly evenly with the quality.
func decibels(ssim float64) float64 { return -10 * math.Log10(max(1-ssim, 1e-9)) }

// both works out two values beside each other.
func both(value func(int) (float64, error), a, b int, v *[2]float64) error {
	if a == b {
		one, err := value(a)
		v[0], v[1] = one, one
		return err
	}
	var g errgroup.Group
	g.Go(func() (err error) { v[0], err = value(a); return err })
	g.Go(func() (err error) { v[1], err = value(b); return err })
	return g.Wait()
}

// remembered does for each quality only once what costs an encoding. It is safe
// for concurrent use.
func remembered[T any](do func(quality int) (T, error)) func(int) (T, error) {
	var mu sync.Mutex
	done := map[int]T{}
	return func(q int) (T, error) {
		mu.Lock()
		v, ok := done[q]
		mu.Unlock()
		if ok {
			return v, nil
		}
		v, err := do(q)
		if err == nil {
			mu.Lock()
			done[q] = v
			mu.Unlock()
		}
		return v, err
	}
}
