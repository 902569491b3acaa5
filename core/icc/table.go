package icc

import "encoding/binary"

// Table tells how colours of a device look: by curves, a table of many dimensions between whose
// entries others are found, and curves.
type Table struct {
	channels int // of the device: 1, 3 or 4
	stages   []stage
	finish   func([3]float64) [3]float64 // to XYZ
}

// A stage changes a colour. The last one gives three channels.
type stage func([]float64) []float64

// most is how many channels a device has that pictures come from.
const most = 4

// ReadTable reads the table of a profile by which colours look as on their device as far as may be
// (perceptual, or colorimetric where there is no other); nil where the profile has none that is
// understood.
func ReadTable(profile []byte) *Table {
	channels := map[string]int{"RGB ": 3, "CMYK": 4, "GRAY": 1}[Device(profile)]
	if channels == 0 {
		return nil
	}
	for _, signature := range []string{"A2B0", "A2B1"} {
		tag := Tag(profile, signature)
		if len(tag) < 32 || int(tag[8]) != channels || tag[9] != 3 {
			continue
		}
		t := &Table{channels: channels}
		kind := string(tag[:4])
		switch kind {
		case "mft1", "mft2":
			t.stages = lutStages(tag, kind == "mft2")
		case "mAB ":
			t.stages = elementStages(tag)
		}
		if t.stages == nil {
			continue
		}
		if t.finish = finishOf(Connection(profile), kind); t.finish != nil {
			return t
		}
	}
	return nil
}

// finishOf leads from how a table tells a colour of the connection space to that colour (6.3.4 and
// 10.10: the older tables of sixteen bits have white at FF00).
func finishOf(connection, kind string) func([3]float64) [3]float64 {
	switch connection {
	case "XYZ ":
		return func(c [3]float64) [3]float64 {
			for i := range c {
				c[i] *= 1 + 32767.0/32768
			}
			return c
		}
	case "Lab ":
		stretch := 1.0
		if kind == "mft2" {
			stretch = 65535.0 / 65280
		}
		return func(c [3]float64) [3]float64 {
			return xyzOf(100*c[0]*stretch, 255*c[1]*stretch-128, 255*c[2]*stretch-128)
		}
	}
	return nil
}

// XYZ is how a colour of the device looks, each of its channels from 0 to 1.
func (t *Table) XYZ(device []float64) [3]float64 {
	c := append(make([]float64, 0, most), device...)
	for _, s := range t.stages {
		c = s(c)
	}
	return t.finish([3]float64(c))
}

// lutStages reads the older kinds of table, of eight bits and of sixteen (10.10 and 10.11). Their
// matrix is for devices that tell XYZ, which no picture does.
func lutStages(tag []byte, wide bool) []stage {
	in, points := int(tag[8]), int(tag[10])
	entries, ends, rest, each := 256, 256, tag[48:], 1
	if wide {
		if len(tag) < 52 {
			return nil
		}
		entries, ends = int(binary.BigEndian.Uint16(tag[48:])), int(binary.BigEndian.Uint16(tag[50:]))
		rest, each = tag[52:], 2
	}
	size := 3
	for range in {
		size *= points
	}
	if entries < 2 || ends < 2 || points < 2 || len(rest) < each*(in*entries+size+3*ends) {
		return nil
	}
	values := valuesOf(rest, each)
	var first, last []Curve
	for i := range in {
		first = append(first, between(values[i*entries:][:entries]))
	}
	values = values[in*entries:]
	sides := make([]int, in)
	for i := range sides {
		sides[i] = points
	}
	middle := grid(values[:size], sides)
	for i := range 3 {
		last = append(last, between(values[size+i*ends:][:ends]))
	}
	return []stage{curves(first), middle, curves(last)}
}

// elementStages reads the newer kind of table (10.12): curves, a table, curves, a matrix and curves,
// of which some may be missing.
func elementStages(tag []byte) (all []stage) {
	in := int(tag[8])
	offset := func(at int) int { return int(binary.BigEndian.Uint32(tag[at:])) }
	ok := true
	add := func(at, n int, read func(b []byte, n int) stage) {
		if from := offset(at); from != 0 && ok {
			var s stage
			if from > 0 && from < len(tag) {
				s = read(tag[from:], n)
			}
			all, ok = append(all, s), s != nil
		}
	}
	add(28, in, readCurves)
	add(24, in, readGrid)
	add(20, 3, readCurves)
	add(16, 3, readMatrix)
	add(12, 3, readCurves)
	if !ok || in != 3 && offset(24) == 0 {
		return nil
	}
	return all
}

func readCurves(b []byte, n int) stage {
	var all []Curve
	for range n {
		c, size := ReadCurve(b)
		if c == nil {
			return nil
		}
		all = append(all, c)
		b = b[min((size+3)/4*4, len(b)):]
	}
	return curves(all)
}

func readMatrix(b []byte, _ int) stage {
	if len(b) < 48 {
		return nil
	}
	var m [12]float64
	for i := range m {
		m[i] = Fixed(b[4*i:])
	}
	return func(c []float64) []float64 {
		return []float64{
			m[0]*c[0] + m[1]*c[1] + m[2]*c[2] + m[9],
			m[3]*c[0] + m[4]*c[1] + m[5]*c[2] + m[10],
			m[6]*c[0] + m[7]*c[1] + m[8]*c[2] + m[11],
		}
	}
}

func readGrid(b []byte, in int) stage {
	if len(b) < 20 || b[16] != 1 && b[16] != 2 {
		return nil
	}
	size, sides := 3, make([]int, in)
	for i := range sides {
		if sides[i] = int(b[i]); sides[i] < 2 {
			return nil
		}
		size *= sides[i]
	}
	each := int(b[16])
	if len(b[20:]) < each*size {
		return nil
	}
	return grid(valuesOf(b[20:20+each*size], each), sides)
}

// valuesOf are numbers of one or two bytes, each from 0 to 1.
func valuesOf(b []byte, each int) []float64 {
	all := make([]float64, len(b)/each)
	for i := range all {
		if each == 2 {
			all[i] = short(b[2*i:])
		} else {
			all[i] = float64(b[i]) / 255
		}
	}
	return all
}

// between is a curve through values.
func between(values []float64) Curve {
	return func(x float64) float64 {
		at := unit(x) * float64(len(values)-1)
		i := min(int(at), len(values)-2)
		return values[i] + (at-float64(i))*(values[i+1]-values[i])
	}
}

// unit is a value that is held between 0 and 1. A spoiled curve may give what is no number: that is 0.
func unit(v float64) float64 {
	switch {
	case v >= 1:
		return 1
	case v > 0:
		return v
	}
	return 0
}

// curves leads each channel along its curve.
func curves(all []Curve) stage {
	return func(c []float64) []float64 {
		for i, f := range all {
			c[i] = f(c[i])
		}
		return c
	}
}

// grid finds three channels between the entries of a table with so many along each side.
func grid(values []float64, sides []int) stage {
	return func(c []float64) []float64 {
		out := make([]float64, 3)
		cell(c, sides, func(entry int, share float64) {
			for k := range out {
				out[k] += share * values[3*entry+k]
			}
		})
		return out
	}
}

// cell gives the entries of a table that lie around a colour, and how much of each it is.
func cell(c []float64, sides []int, give func(entry int, share float64)) {
	var low [most]int
	var part [most]float64
	for i, side := range sides {
		at := unit(c[i]) * float64(side-1)
		low[i] = min(int(at), side-2)
		part[i] = at - float64(low[i])
	}
	for corner := range 1 << len(sides) {
		entry, share := 0, 1.0
		for i, side := range sides {
			entry = entry*side + low[i]
			if corner>>i&1 == 1 {
				entry++
				share *= part[i]
			} else {
				share *= 1 - part[i]
			}
		}
		if share > 0 {
			give(entry, share)
		}
	}
}
