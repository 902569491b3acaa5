// Package face finds faces in a picture: where they are and how sure it is. It tells
// nobody who they are, and nothing leaves the machine.
//
// A small published net looks at the picture at several sizes (a convolutional net in the
// manner of Redmon and Farhadi, arXiv:1612.08242, with the thin layers of Howard et al.,
// arXiv:1704.04861). Its layers are written out here; its weights are embedded.
package face

import (
	"cmp"
	"encoding/json"
	"fmt"
	"image"
	"math"
	"slices"

	"mivlet/core/fit"
)

// Face is a face that was found.
type Face struct {
	Bounds image.Rectangle // pixels of the picture
	Score  float64         // from 0 to 1: how sure it is
}

// overlap is how much two boxes of the same look may share; above, the surer one stays.
const overlap = 0.4

// look runs the net over a picture of w × h and returns what is surer than least, with
// boxes in its pixels.
func look(m *image.RGBA, least float64) []found {
	w, h := toCells(m.Rect.Dx()), toCells(m.Rect.Dy())
	return boxes(answer(m, w, h), least)
}

func toCells(n int) int { return max(2, (n+cell-1)/cell) * cell }

// found is a face in the pixels of a look.
type found struct {
	x0, y0, x1, y1 float64
	score          float64
	look           int // the number of the look that it was found in
}

// boxes reads the answer: in every cell, for each anchor, where the middle lies, how much
// larger it is than the anchor, and how sure that is.
func boxes(a plane, least float64) []found {
	var all []found
	const fields = 5
	for y := range a.h {
		for x := range a.w {
			v := a.v[(y*a.w+x)*a.ch:]
			for i, anchor := range anchors {
				b := v[fields*i:][:fields]
				score := sigmoid(b[4])
				if score < least {
					continue
				}
				cx, cy := (float64(x)+sigmoid(b[0]))*cell, (float64(y)+sigmoid(b[1]))*cell
				bw, bh := math.Exp(float64(b[2]))*anchor[0]*cell, math.Exp(float64(b[3]))*anchor[1]*cell
				all = append(all, found{cx - bw/2, cy - bh/2, cx + bw/2, cy + bh/2, score, 0})
			}
		}
	}
	return surest(all, func(a, b found) bool { return shared(a, b) > overlap })
}

func sigmoid(v float32) float64 { return 1 / (1 + math.Exp(-float64(v))) }

// surest drops what is the same as something surer.
func surest(all []found, same func(a, b found) bool) []found {
	slices.SortStableFunc(all, func(a, b found) int { return cmp.Compare(b.score, a.score) })
	var kept []found
	for _, f := range all {
		if !slices.ContainsFunc(kept, func(k found) bool { return same(k, f) }) {
			kept = append(kept, f)
		}
	}
	return kept
}

// shared is what two boxes share, of what they cover together.
func shared(a, b found) float64 {
	both := inCommon(a, b)
	return both / (a.area() + b.area() - both)
}

func inCommon(a, b found) float64 {
	return max(0, min(a.x1, b.x1)-max(a.x0, b.x0)) * max(0, min(a.y1, b.y1)-max(a.y0, b.y0))
}

func (f found) area() float64 { return (f.x1 - f.x0) * (f.y1 - f.y0) }

// ID stands for the place of a face in its picture.
func (f Face) ID() string {
	return fmt.Sprintf("%d-%d-%d-%d", f.Bounds.Min.X, f.Bounds.Min.Y, f.Bounds.Dx(), f.Bounds.Dy())
}

// Round is the face with the hair and the chin that belong to it: what a veil covers.
func (f Face) Round() image.Rectangle {
	w, h := f.Bounds.Dx(), f.Bounds.Dy()
	return image.Rect(f.Bounds.Min.X-w/6, f.Bounds.Min.Y-h/3, f.Bounds.Max.X+w/6, f.Bounds.Max.Y+h/6)
}

// Middle is the middle of what all faces take up together, from 0 to 1 of a picture's
// sides; false where there is none.
func Middle(all []Face, size image.Point) (x, y float64, ok bool) {
	var box image.Rectangle
	for _, f := range all {
		box = box.Union(f.Bounds)
	}
	if box.Empty() || size.X <= 0 || size.Y <= 0 {
		return 0, 0, false
	}
	in := func(v, most int) float64 { return min(max(float64(v)/2/float64(most), 0), 1) }
	return in(box.Min.X+box.Max.X, size.X), in(box.Min.Y+box.Max.Y, size.Y), true
}

// form is a face as JSON has it.
type form struct {
	Bounds fit.Box `json:"bounds"`
	Score  float64 `json:"score"`
}

// MarshalJSON writes the face with its place as x, y, width and height.
func (f Face) MarshalJSON() ([]byte, error) {
	return json.Marshal(form{fit.BoxOf(f.Bounds), f.Score})
}

// UnmarshalJSON reads a face, also as older records have it.
func (f *Face) UnmarshalJSON(data []byte) error {
	var read form
	if err := json.Unmarshal(data, &read); err != nil {
		return err
	}
	*f = Face{read.Bounds.Rect(), read.Score}
	return nil
}
