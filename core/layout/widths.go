package layout

import (
	"math"
	"slices"

	"mivlet/core/fit"
)

// MostWidths is how many files a picture has at most where it stands (common practice: each more
// is a file to make and to keep, and saves ever less).
const MostWidths = 6

// viewports are the widths of windows that files of a page are made for, in CSS px.
func viewports() []int {
	all := []int{Wide}
	for _, d := range Devices {
		all = append(all, d.Viewport())
	}
	return all
}

// Widths returns how wide the files of a picture are, in device pixels, ascending, for every
// viewport and every density in device pixels for each CSS pixel. shown is how wide the picture is
// at a viewport, in CSS px; where it is nothing, it counts for nothing. Widths within 10 % of each
// other become the larger one, and the nearest ones, until no more than [MostWidths] are left.
func Widths(shown func(viewport int) float64, densities []float64) []int {
	var all []int
	for _, v := range viewports() {
		for _, d := range densities {
			if w := int(math.Ceil(shown(v)*d - 0.01)); w > 0 {
				all = append(all, w)
			}
		}
	}
	slices.Sort(all)
	all = slices.Compact(all)
	for i := len(all) - 2; i >= 0; i-- {
		if float64(all[i])*fit.SameCut >= float64(all[i+1]) {
			all = slices.Delete(all, i, i+1)
		}
	}
	for len(all) > MostWidths {
		near := 0
		for i := range len(all) - 1 {
			if all[i+1]*all[near] < all[near+1]*all[i] {
				near = i
			}
		}
		all = slices.Delete(all, near, near+1)
	}
	return all
}
