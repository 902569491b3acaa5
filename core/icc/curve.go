package icc

import (
	"encoding/binary"
	"math"
)

// A Curve leads from 0 to 1 to about that; what it gives is not limited.
type Curve func(float64) float64

// ReadCurve reads a tone curve (10.6 and 10.18), and how many bytes it takes; nil for what is none.
func ReadCurve(tag []byte) (c Curve, size int) {
	if len(tag) < 12 {
		return nil, 0
	}
	switch string(tag[:4]) {
	case "curv":
		n := int(binary.BigEndian.Uint32(tag[8:]))
		if n < 0 || n > (len(tag)-12)/2 {
			return nil, 0
		}
		return sampledCurve(tag[12:], n), 12 + 2*n
	case "para":
		return parametricCurve(tag[12:], int(binary.BigEndian.Uint16(tag[8:])))
	}
	return nil, 0
}

func sampledCurve(b []byte, n int) Curve {
	switch n {
	case 0:
		return func(x float64) float64 { return x }
	case 1:
		gamma := float64(binary.BigEndian.Uint16(b)) / 256
		return func(x float64) float64 { return math.Pow(x, gamma) }
	}
	return func(x float64) float64 {
		at := unit(x) * float64(n-1)
		i := min(int(at), n-2)
		lo, hi := short(b[2*i:]), short(b[2*i+2:])
		return lo + (at-float64(i))*(hi-lo)
	}
}

func parametricCurve(b []byte, kind int) (Curve, int) {
	count := map[int]int{0: 1, 1: 3, 2: 4, 3: 5, 4: 7}[kind]
	if count == 0 || len(b) < 4*count {
		return nil, 0
	}
	var p [7]float64 // g a b c d e f
	for i := range count {
		p[i] = Fixed(b[4*i:])
	}
	g, a, bb, c, d, e, f := p[0], p[1], p[2], p[3], p[4], p[5], p[6]
	size := 12 + 4*count
	switch kind {
	case 0:
		return func(x float64) float64 { return math.Pow(x, g) }, size
	case 1, 2:
		return func(x float64) float64 {
			if a != 0 && x >= -bb/a {
				return math.Pow(a*x+bb, g) + c
			}
			return c
		}, size
	}
	return func(x float64) float64 {
		if x >= d {
			return math.Pow(a*x+bb, g) + e
		}
		return c*x + f
	}, size
}
