package fit

import (
	"fmt"
	"math"
	"strings"
	"time"
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

// SlowLine is the line that load times are told for, in bits per second: a
// phone in a valley.
const SlowLine = 1_600_000

// UsualLine is a line as most have it at home, in bits per second (common
// practice).
const UsualLine = 25_000_000

// LoadTime returns how long bytes take on a line of the given bits per second,
// without latency.
func LoadTime(bytes int64, bitsPerSecond int) time.Duration {
	return time.Duration(float64(bytes) * 8 / float64(bitsPerSecond) * float64(time.Second))
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
