package jpegenc

import (
	"slices"
	"sync"
)

// worthScans is how many bytes a file has from which it is written in several scans: smaller ones
// gain nothing by it (common practice).
const worthScans = 10_000

// mostForScans is how many blocks a picture may have that is written in several scans, about 6
// megapixels, more than a page shows: what is tried for them is held at once.
const mostForScans = 150_000

// progressive writes the picture in several scans (T.81, G), so that all of it is seen early. How
// the coefficients of each component are parted is tried: what takes the fewest bytes is taken.
func (p *picture) progressive(luma, chroma *table) []byte {
	out := p.head(luma, chroma, startOfProgressive)
	ids := []byte{1, 2, 3}[:p.components()]
	// What is seen first comes first: all components coarsely, then the details of luma.
	order := []*scan{p.first()}
	var later []*scan
	parts := make([][]*scan, len(ids))
	var wg sync.WaitGroup
	for c := range ids {
		wg.Go(func() { parts[c] = p.parted(c) })
	}
	wg.Wait()
	for _, s := range parts {
		order, later = append(order, s[0]), append(later, s[1:]...)
	}
	for _, s := range append(order, later...) {
		out = s.write(out, ids)
	}
	return append(out, 0xFF, endOfImage)
}

// way is how the coefficients of a component are parted: behind which one they go on in a scan of
// their own, 63 for none, and how many low bits come in scans of their own.
type way struct{ border, low int }

// ways are those that are tried for luma, and for chroma. Others gain next to nothing (measured on
// the demo's photos).
var ways = [2][]way{{{63, 0}, {9, 0}, {1, 1}}, {{63, 0}}}

// parted returns the scans that write the coefficients of a component, but for the first ones, with
// the fewest bytes.
func (p *picture) parted(component int) []*scan {
	tried := make([][]*scan, len(ways[sort(component)]))
	var wg sync.WaitGroup
	for i, w := range ways[sort(component)] {
		wg.Go(func() {
			tried[i] = p.split(component, w.border, w.low)
			for low := w.low - 1; low >= 0; low-- {
				tried[i] = append(tried[i], p.refined(component, 1, 63, low))
			}
		})
	}
	wg.Wait()
	return slices.MinFunc(tried, func(a, b []*scan) int { return size(a) - size(b) })
}

// split is the scan of the coefficients of a component without their low last bits, in two where
// the border lies before the last.
func (p *picture) split(component, border, low int) []*scan {
	s := []*scan{p.band(component, 1, border, low)}
	if border < 63 {
		s = append(s, p.band(component, border+1, 63, low))
	}
	return s
}

// size is how many bytes scans take.
func size(scans []*scan) int {
	sum := 0
	for _, s := range scans {
		sum += s.bytes
	}
	return sum
}

// component is which component the i-th block of a unit is of.
func (p *picture) component(i int) int {
	if p.each == 6 {
		return components[i]
	}
	return i
}

// components is how many a picture has.
func (p *picture) components() int {
	if p.grey {
		return 1
	}
	return 3
}

// of returns the blocks of a component, row by row, without those that only fill units up.
func (p *picture) of(component int) []*block {
	side := 8
	if p.each == 6 && component > 0 {
		side = 16
	}
	wide, high := (p.width+side-1)/side, (p.height+side-1)/side
	blocks := make([]*block, 0, wide*high)
	for y := range high {
		for x := range wide {
			at := (y*p.across+x)*p.each + component
			switch {
			case p.each == 6 && component == 0:
				at = (y/2*p.across+x/2)*p.each + y%2*2 + x%2
			case p.each == 6:
				at += 3
			}
			blocks = append(blocks, &p.blocks[at])
		}
	}
	return blocks
}
