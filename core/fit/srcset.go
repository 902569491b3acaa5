package fit

import (
	"fmt"
	"math"
	"strings"
)

// Candidate is one file a browser may choose, with its width in pixels.
type Candidate struct {
	URL   string
	Width int
}

// SrcSet returns the value of a srcset attribute with width descriptors
// (HTML Living Standard, "srcset attributes").
func SrcSet(cs []Candidate) string {
	parts := make([]string, len(cs))
	for i, c := range cs {
		parts[i] = fmt.Sprintf("%s %dw", c.URL, c.Width)
	}
	return strings.Join(parts, ", ")
}

// Ratio returns the smallest whole numbers with the proportions of s, such as
// 3:2 for 900×600.
func Ratio(s Size) (w, h int) {
	a, b := s.W, s.H
	for b != 0 {
		a, b = b, a%b
	}
	if a == 0 {
		return 0, 0
	}
	return s.W / a, s.H / a
}

func round(x float64) int { return int(math.Round(x)) }
