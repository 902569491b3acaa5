package fit

import "slices"

// Choose returns which of some files a browser will load for a picture that is
// css CSS pixels wide on a screen with dpr device pixels for each CSS pixel. The
// density of a file is its width ÷ css (HTML Living Standard, "images"); the
// standard leaves the choice to the browser. Browsers take the smallest file
// that is dense enough, else the largest (held against a real one).
func Choose(cs []Candidate, css, dpr float64) Candidate {
	sorted := slices.Clone(cs)
	slices.SortFunc(sorted, func(a, b Candidate) int { return a.Width - b.Width })
	for _, c := range sorted {
		if float64(c.Width)/css >= dpr {
			return c
		}
	}
	return sorted[len(sorted)-1]
}
