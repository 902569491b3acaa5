package veil

import (
	"crypto/hmac"
	"crypto/sha256"
	"encoding/binary"
	"fmt"
	"image"
	"math"
)

// MostCells is the most coarse colours along the shorter side of a figure, and levels
// how many values each channel of one has.
const (
	MostCells = 4
	levels    = 3
	mostLong  = 6 // along the longer side
	leastCell = 8 // pixels along a cell: a small region has fewer cells, not smaller ones
)

// Told are the coarse colours that a figure keeps of what it hides: all of it that
// anybody ever gets. They are sampled once, so that further cuts tell no more.
type Told struct {
	Cols   int   `json:"cols"`
	Rows   int   `json:"rows"`
	Levels []int `json:"levels"` // three a cell, red, green and blue, each from 0 to 2
}

func (t *Told) check() error {
	if t == nil {
		return nil
	}
	if t.Cols < 1 || t.Rows < 1 || t.Cols > mostLong || t.Rows > mostLong || len(t.Levels) != 3*t.Cols*t.Rows {
		return fmt.Errorf("%d × %d coarse colours with %d values are no such colours", t.Cols, t.Rows, len(t.Levels))
	}
	for _, l := range t.Levels {
		if l < 0 || l >= levels {
			return fmt.Errorf("a coarse colour has the levels 0 to %d, not %d", levels-1, l)
		}
	}
	return nil
}

// Bits is how much a veil tells of what it hides, at most: nothing, but for a figure
// with coarse colours.
func (v Veil) Bits() float64 {
	if v.Told == nil {
		return 0
	}
	return float64(len(v.Told.Levels)) * math.Log2(levels)
}

// Patches is how many coarse colours a veil tells.
func (v Veil) Patches() int {
	if v.Told == nil {
		return 0
	}
	return v.Told.Cols * v.Told.Rows
}

// Sample returns the coarse colours that a figure tells, from the pixels inside its
// outline; nil where it is to tell none. Each is brought to a few levels after noise that
// follows from the secret and the name of the veil alone: the same veil, drawn anew a
// little to the side, tells nothing to take the noise away with.
func Sample(v Veil, on Canvas, read Rows, secret []byte) *Told {
	box := v.Box().Intersect(on.Bounds)
	if v.Style != Figure || v.Cells < 1 || box.Empty() {
		return nil
	}
	short := min(box.Dx(), box.Dy())
	side := float64(short) / float64(max(1, min(v.Cells, MostCells, short/leastCell)))
	along := func(length int) int { return min(max(1, int(math.Round(float64(length)/side))), mostLong) }
	t := &Told{Cols: along(box.Dx()), Rows: along(box.Dy())}
	sums, counts := make([]float32, t.Cols*t.Rows*on.Channels), make([]float32, t.Cols*t.Rows)
	line := make([]float32, box.Dx()*on.Channels)
	for y := box.Min.Y; y < box.Max.Y; y++ {
		read(line, y, box.Min.X, box.Max.X)
		row := (y - box.Min.Y) * t.Rows / box.Dy()
		for x := range box.Dx() {
			if v.outside(box.Min.X+x, y) > 0 {
				continue
			}
			cell := row*t.Cols + x*t.Cols/box.Dx()
			counts[cell]++
			for c := range on.Channels {
				sums[cell*on.Channels+c] += line[x*on.Channels+c]
			}
		}
	}
	for cell, n := range counts {
		px := sums[cell*on.Channels : (cell+1)*on.Channels]
		for c := range px {
			px[c] /= max(n, 1)
		}
		for c, value := range on.SRGB(px) {
			level := value*(levels-1) + noise(secret, v.ID, cell, c)
			t.Levels = append(t.Levels, min(max(int(math.Round(level)), 0), levels-1))
		}
	}
	return t
}

// noise lies between −0.5 and 0.5 of a level, evenly.
func noise(secret []byte, id string, cell, channel int) float64 {
	m := hmac.New(sha256.New, secret)
	fmt.Fprintf(m, "%s %d %d", id, cell, channel)
	return float64(binary.BigEndian.Uint32(m.Sum(nil)))/(1<<32) - 0.5
}

// light is what the coarse colours are on a canvas.
func (t *Told) light(on Canvas) []float32 {
	if t == nil {
		return nil
	}
	var all []float32
	for i := 0; i < len(t.Levels); i += 3 {
		var c [3]uint8
		for k := range c {
			c[k] = uint8(40 + 88*t.Levels[i+k])
		}
		all = append(all, on.light(c)...)
	}
	return all
}

// mapped is the coarse colours where a picture is turned or mirrored by to.
func (t *Told) mapped(to func(image.Point) image.Point) *Told {
	if t == nil {
		return nil
	}
	origin := to(image.Point{})
	along, down := to(image.Pt(1, 0)).Sub(origin), to(image.Pt(0, 1)).Sub(origin)
	out := &Told{Cols: t.Cols, Rows: t.Rows, Levels: make([]int, len(t.Levels))}
	if along.X == 0 {
		out.Cols, out.Rows = t.Rows, t.Cols
	}
	from := func(at, n, way int) int {
		if way < 0 {
			return n - 1 - at
		}
		return at
	}
	for row := range t.Rows {
		for col := range t.Cols {
			x, y := from(col, t.Cols, along.X), from(row, t.Rows, down.Y)
			if along.X == 0 {
				x, y = from(row, t.Rows, down.X), from(col, t.Cols, along.Y)
			}
			copy(out.Levels[3*(y*out.Cols+x):][:3], t.Levels[3*(row*t.Cols+col):][:3])
		}
	}
	return out
}
