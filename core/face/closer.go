package face

import (
	"image"
	"math"
	"slices"
)

// A closer look takes a large picture tile by tile, at its own pixels: Find sees only
// faces that are left once the picture is brought down to Widest.
const (
	tileSide = 1024 // of a tile, in pixels of the look
	margin   = 160  // that neighbouring tiles share; a face in a tile is smaller than this
	tiny     = 18.0 // side of a face in a tile, at least, in pixels of the look
	hint     = 0.1  // of a tile, so that the place is looked at again
	around   = 224  // side of a place that is looked at again
)

// Tile gives a part of the picture, brought down to a size.
type Tile func(part image.Rectangle, size image.Point) image.Image

// Closer returns the faces of a large picture that Find is likely to miss because they
// are small, from left to right; none where the longest side is within Seen. Sides are those of
// the picture; boxes are in its pixels.
func Closer(sides image.Point, tile Tile) []Face {
	var all []found
	longest := float64(max(sides.X, sides.Y))
	for by := 1.0; longest/by > Widest || by == 1 && longest > Seen; by *= 2 {
		w, h := int(float64(sides.X)/by), int(float64(sides.Y)/by)
		for y := 0; y == 0 || y+margin < h; y += tileSide - margin {
			for x := 0; x == 0 || x+margin < w; x += tileSide - margin {
				in := image.Rect(x, y, min(x+tileSide, w), min(y+tileSide, h))
				part := image.Rect(int(float64(in.Min.X)*by), int(float64(in.Min.Y)*by), int(float64(in.Max.X)*by), int(float64(in.Max.Y)*by))
				for _, f := range inTile(onRGBA(tile(part, in.Size()))) {
					all = append(all, f.moved(by, part.Min))
				}
			}
		}
	}
	return asFaces(surest(all, same), image.Rectangle{Max: sides})
}

// Together are known faces and those of more that are none of them, from left to right.
// A known face keeps its box.
func Together(known, more []Face) []Face {
	all := slices.Clone(known)
	for _, f := range more {
		if !slices.ContainsFunc(known, func(k Face) bool { return same(k.found(), f.found()) }) {
			all = append(all, f)
		}
	}
	return sorted(all)
}

func (f Face) found() found {
	b := f.Bounds
	return found{float64(b.Min.X), float64(b.Min.Y), float64(b.Max.X), float64(b.Max.Y), f.Score, 0}
}

// moved is a face of a tile in pixels of the picture.
func (f found) moved(by float64, to image.Point) found {
	x, y := float64(to.X), float64(to.Y)
	return found{f.x0*by + x, f.y0*by + y, f.x1*by + x, f.y1*by + y, f.score, 0}
}

// same reports whether two boxes of different looks are one face.
func same(a, b found) bool { return inCommon(a, b) > 0.5*min(a.area(), b.area()) }

// inTile are the faces of a tile: wherever one look has a hint of a small face, the place
// is looked at again in larger sizes, and only what these agree on counts.
func inTile(m *image.RGBA) []found {
	hints := slices.DeleteFunc(look(m, hint), func(f found) bool {
		side := math.Sqrt(f.area())
		return side < tiny || side > margin
	})
	var all []found
	for len(hints) > 0 {
		middle := hints[0].middle()
		part := image.Rect(-around/2, -around/2, around/2, around/2).Add(middle).Intersect(m.Rect)
		inner := part.Inset(around / 8)
		hints = slices.DeleteFunc(hints[1:], func(f found) bool { return f.middle().In(inner) })
		for _, f := range inPlace(m.SubImage(part)) {
			all = append(all, f.moved(1, part.Min))
		}
	}
	return surest(all, same)
}

// inPlace looks at a small part in three sizes, the largest twice its own.
func inPlace(m image.Image) []found {
	at := copied(m)
	var all []found
	for n, by := range []float64{1, 1.414, 2} {
		see := at
		if by != 1 {
			see = resized(at, by)
		}
		for _, f := range look(see, least) {
			if side := math.Sqrt(f.area()); side >= smallest && side <= 2*margin {
				all = append(all, found{f.x0 / by, f.y0 / by, f.x1 / by, f.y1 / by, f.score, n})
			}
		}
	}
	return agreed(all)
}

func (f found) middle() image.Point { return image.Pt(int(f.x0+f.x1)/2, int(f.y0+f.y1)/2) }
