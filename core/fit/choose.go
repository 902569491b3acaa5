package fit

import (
	"math"
	"slices"
)

// Choose returns which of some files a browser will load for a picture that is
// css CSS pixels wide on a screen with dpr device pixels for each CSS pixel. The
// density of a file is its width ÷ css (HTML Living Standard, "images"); the
// standard leaves the choice to the browser. Of two neighbours most browsers
// take the sharper one from their geometric mean on (held against a real one).
func Choose(cs []Candidate, css, dpr float64) Candidate {
	sorted := slices.Clone(cs)
	slices.SortFunc(sorted, func(a, b Candidate) int { return a.Width - b.Width })
	for i := 0; i+1 < len(sorted); i++ {
		low, high := float64(sorted[i].Width)/css, float64(sorted[i+1].Width)/css
		if high < dpr {
			continue
		}
		if dpr <= 1 && dpr > low || dpr >= math.Sqrt(low*high) {
			return sorted[i+1]
		}
		return sorted[i]
	}
	return sorted[len(sorted)-1]
}
