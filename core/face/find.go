package face

import (
	"cmp"
	"image"
	"image/draw"
	"math"
	"slices"
)

// The picture is looked at in several sizes, from Widest down, and in each for faces of
// the sizes that the net knows best. Most faces are seen in several looks.
const (
	// Widest is the longest side of a picture that is looked at, in pixels; larger ones
	// are brought down to it before.
	Widest = 2000
	// Seen is the longest side of a picture of which Find misses no size of face: it is
	// enlarged before.
	Seen      = Widest / 3
	narrowest = 200
	smallest  = 30.0  // side of a face in a look, in its pixels
	largest   = 300.0 //
	sideways  = 0.707 // between two halves there is one look more
)

// What is taken for a face.
const (
	least   = 0.2 // of one look that counts at all
	maybe   = 0.3 // of one look, so that further looks are worth it
	enough  = 0.9 // of all looks together
	atOnce  = 0.8 // of a single look
	sameBox = 0.35
)

// resized is a smaller picture.
func resized(m *image.RGBA, by float64) *image.RGBA {
	return blended(m, image.Pt(max(1, int(float64(m.Rect.Dx())*by)), max(1, int(float64(m.Rect.Dy())*by))))
}

// FindAt returns the faces in a picture as Find does once the picture has been brought to a size, in pixels of that:
// so that those in a picture which was brought down for a screen are looked for at the sizes they had.
func FindAt(m image.Image, size image.Point) []Face {
	at := onRGBA(m)
	if at.Rect.Empty() || at.Rect.Size() == size {
		return Find(at)
	}
	return Find(blended(at, size))
}

// Find returns the faces in a picture, from left to right.
func Find(m image.Image) []Face {
	at := onRGBA(m)
	if at.Rect.Empty() {
		return nil
	}
	var all []found
	scale, n := 1.0, 0
	see := func(m *image.RGBA, scale float64) {
		for _, f := range seen(m, scale) {
			f.look = n
			all = append(all, f)
		}
		n++
	}
	for max(at.Rect.Dx(), at.Rect.Dy()) <= Seen { // small faces in a small picture
		at, scale = doubled(at), scale/2
	}
	type size struct {
		m     *image.RGBA
		scale float64
	}
	var between []size
	for {
		see(at, scale)
		between = append(between, size{at, scale})
		if max(at.Rect.Dx(), at.Rect.Dy())/2 < narrowest {
			break
		}
		at, scale = halved(at), scale*2
	}
	if slices.ContainsFunc(all, func(f found) bool { return f.score >= maybe }) { // most pictures show nobody
		for _, s := range between {
			m := resized(s.m, sideways)
			see(m, s.scale*float64(s.m.Rect.Dx())/float64(m.Rect.Dx()))
		}
	}
	return asFaces(agreed(all), m.Bounds())
}

// asFaces are faces in pixels of a picture with bounds, from left to right.
func asFaces(all []found, bounds image.Rectangle) []Face {
	var faces []Face
	for _, f := range all {
		b := image.Rect(int(math.Floor(f.x0)), int(math.Floor(f.y0)), int(math.Ceil(f.x1)), int(math.Ceil(f.y1))).Add(bounds.Min).Intersect(bounds)
		if !b.Empty() {
			faces = append(faces, Face{b, f.score})
		}
	}
	return sorted(faces)
}

// sorted are faces from left to right.
func sorted(all []Face) []Face {
	slices.SortFunc(all, func(a, b Face) int {
		return cmp.Or(cmp.Compare(a.Bounds.Min.X, b.Bounds.Min.X), cmp.Compare(a.Bounds.Min.Y, b.Bounds.Min.Y))
	})
	return all
}

// seen are the faces of one look, in pixels of the whole picture.
func seen(at *image.RGBA, scale float64) []found {
	var all []found
	for _, f := range look(at, least) {
		if side := math.Sqrt(f.area()); side >= smallest && side <= largest {
			all = append(all, found{f.x0 * scale, f.y0 * scale, f.x1 * scale, f.y1 * scale, f.score, 0})
		}
	}
	return all
}

// agreed returns what enough looks took for a face, each once, with how sure all looks
// together are.
func agreed(all []found) []found {
	slices.SortStableFunc(all, func(a, b found) int { return cmp.Compare(b.score, a.score) })
	var groups [][]found
	for _, f := range all {
		at := slices.IndexFunc(groups, func(g []found) bool { return shared(g[0], f) > sameBox })
		if at < 0 {
			groups = append(groups, []found{f})
		} else if !slices.ContainsFunc(groups[at], func(o found) bool { return o.look == f.look }) {
			groups[at] = append(groups[at], f)
		}
	}
	var sure []found
	for _, g := range groups {
		sum, unsure := 0.0, 1.0
		for _, f := range g {
			sum, unsure = sum+f.score, unsure*(1-f.score)
		}
		if sum < enough && g[0].score < atOnce {
			continue
		}
		g[0].score = 1 - unsure
		sure = append(sure, g[0])
	}
	return surest(sure, same)
}

// onRGBA returns a picture that begins at 0, 0 as bytes.
func onRGBA(m image.Image) *image.RGBA {
	if r, ok := m.(*image.RGBA); ok && r.Rect.Min == (image.Point{}) {
		return r
	}
	return copied(m)
}

// copied is a copy of a picture that begins at 0, 0.
func copied(m image.Image) *image.RGBA {
	r := image.NewRGBA(image.Rect(0, 0, m.Bounds().Dx(), m.Bounds().Dy()))
	draw.Draw(r, r.Rect, m, m.Bounds().Min, draw.Src)
	return r
}

// halved is a picture at half its size.
func halved(m *image.RGBA) *image.RGBA {
	out := image.NewRGBA(image.Rect(0, 0, max(1, m.Rect.Dx()/2), max(1, m.Rect.Dy()/2)))
	for y := range out.Rect.Dy() {
		top := m.Pix[2*y*m.Stride:]
		low := m.Pix[min(2*y+1, m.Rect.Dy()-1)*m.Stride:]
		row := out.Pix[y*out.Stride:][:4*out.Rect.Dx()]
		if m.Rect.Dx() == 1 {
			for c := range row {
				row[c] = uint8((2*int(top[c]) + 2*int(low[c]) + 2) / 4)
			}
			continue
		}
		for ; len(row) >= 4; row, top, low = row[4:], top[8:], low[8:] {
			a, b, to := (*[8]uint8)(top), (*[8]uint8)(low), (*[4]uint8)(row)
			for c := range to {
				to[c] = uint8((uint32(a[c]) + uint32(a[c+4]) + uint32(b[c]) + uint32(b[c+4]) + 2) / 4)
			}
		}
	}
	return out
}

// doubled is a picture at twice its size, with neighbours blended.
func doubled(m *image.RGBA) *image.RGBA {
	w, h := m.Rect.Dx(), m.Rect.Dy()
	out := image.NewRGBA(image.Rect(0, 0, 2*w, 2*h))
	for y := range 2 * h {
		near, far := y/2, min(max(y/2+y%2*2-1, 0), h-1)
		a, b := m.Pix[near*m.Stride:], m.Pix[far*m.Stride:]
		row := out.Pix[y*out.Stride:]
		for x := range 2 * w {
			p, q := 4*(x/2), 4*min(max(x/2+x%2*2-1, 0), w-1)
			for c := range 4 {
				row[4*x+c] = uint8((9*int(a[p+c]) + 3*int(a[q+c]) + 3*int(b[p+c]) + int(b[q+c]) + 8) / 16)
			}
		}
	}
	return out
}
