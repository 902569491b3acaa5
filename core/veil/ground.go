package veil

import (
	"image"
	"math"
	"slices"
)

// The ground is what lies around a group of veils, in coarse cells: those outside
// are taken from the picture, those inside follow from them alone.
type ground struct {
	box        image.Rectangle // that the cells part
	side       int             // of a cell, in pixels
	cols, rows int
	ch         int
	light      []float32 // ch values a cell
	known      []bool    // a cell that was taken from the picture
}

const (
	leastSide = 4    // of a cell, in pixels
	mostSide  = 48   //
	mostCells = 6000 // of a group
	ring      = 2    // cells around the region that are looked at
	probes    = 8    // rows and columns of a cell that are looked at
)

// newGround fills a group of regions of one picture. all are the regions of the whole
// picture: no pixel of any of them is looked at.
func newGround(group, all []region, on Canvas, read Rows) *ground {
	box, short := image.Rectangle{}, math.MaxInt
	for _, r := range group {
		box, short = box.Union(r.box), min(short, r.box.Dx(), r.box.Dy())
	}
	side := min(max(short/6, leastSide), mostSide)
	for box.Dx()/side*(box.Dy()/side) > mostCells {
		side += side/2 + 1
	}
	box = box.Inset(-ring * side).Intersect(on.Bounds)
	g := &ground{box: box, side: side, cols: (box.Dx() + side - 1) / side, rows: (box.Dy() + side - 1) / side, ch: on.Channels}
	g.light, g.known = make([]float32, g.cols*g.rows*g.ch), make([]bool, g.cols*g.rows)
	near := slices.DeleteFunc(slices.Clone(all), func(r region) bool { return !r.box.Overlaps(box) })
	for row := range g.rows {
		g.look(row, near, read)
	}
	g.spread(on)
	return g
}

// look takes the cells of a row that lie at the regions from the picture.
func (g *ground) look(row int, near []region, read Rows) {
	type probe struct{ col, x int }
	step := max(1, g.side/probes)
	var wanted []probe
	for col := range g.cols {
		if !g.beside(col, row, near) {
			continue
		}
		x0 := g.box.Min.X + col*g.side
		for x := x0; x < min(x0+g.side, g.box.Max.X); x += step {
			wanted = append(wanted, probe{col, x})
		}
	}
	if len(wanted) == 0 {
		return
	}
	from, to := wanted[0].x, wanted[len(wanted)-1].x+1
	line := make([]float32, (to-from)*g.ch)
	values := make([][]float32, g.cols*g.ch)
	y0 := g.box.Min.Y + row*g.side
	for y := y0; y < min(y0+g.side, g.box.Max.Y); y += step {
		read(line, y, from, to)
		for _, p := range wanted {
			if hidden(near, p.x, y) {
				continue
			}
			for c := range g.ch {
				values[p.col*g.ch+c] = append(values[p.col*g.ch+c], line[(p.x-from)*g.ch+c])
			}
		}
	}
	per := (g.side + step - 1) / step
	for col := range g.cols {
		seen := values[col*g.ch : (col+1)*g.ch]
		if len(seen[0])*4 < per*per {
			continue // too little of it lies outside
		}
		at := row*g.cols + col
		g.known[at] = true
		for c := range seen {
			g.light[at*g.ch+c] = middling(seen[c])
		}
	}
}

func hidden(regions []region, x, y int) bool {
	for i := range regions {
		if r := &regions[i]; r.outside(x, y) <= 0 {
			return true
		}
	}
	return false
}

// beside reports whether a cell lies at the rim of a region: neither wholly inside nor
// far off.
func (g *ground) beside(col, row int, near []region) bool {
	x, y := g.box.Min.X+col*g.side+g.side/2, g.box.Min.Y+row*g.side+g.side/2
	corner := float64(g.side)*math.Sqrt2/2 + 1
	least := math.Inf(1)
	for i := range near {
		least = min(least, near[i].outside(x, y))
	}
	return least > -corner && least < float64((ring+1)*g.side)
}

// middling is the mean of the middle half of some values: strokes of writing beside a
// region do not darken the paper in it.
func middling(v []float32) float32 {
	slices.Sort(v)
	from, to := len(v)/4, len(v)-len(v)/4
	sum := float32(0)
	for _, x := range v[from:to] {
		sum += x
	}
	return sum / float32(to-from)
}

// spread works out the cells that are not known from those that are: the nearer, the
// more (Shepard, ACM National Conference 1968). Where none is, they are grey.
func (g *ground) spread(on Canvas) {
	var from []int
	for i, k := range g.known {
		if k {
			from = append(from, i)
		}
	}
	grey, _ := rgb(Grey)
	plain := on.light(grey)
	for i, k := range g.known {
		if k {
			continue
		}
		into := g.light[i*g.ch : (i+1)*g.ch]
		if len(from) == 0 {
			copy(into, plain)
			continue
		}
		x, y, total := i%g.cols, i/g.cols, float32(0)
		for _, k := range from {
			dx, dy := float32(k%g.cols-x), float32(k/g.cols-y)
			d := dx*dx + dy*dy
			w := 1 / (d * d)
			total += w
			for c := range into {
				into[c] += w * g.light[k*g.ch+c]
			}
		}
		for c := range into {
			into[c] /= total
		}
	}
}

// at puts what the ground is like at a pixel into px.
func (g *ground) at(px []float32, x, y int) {
	fx := (float32(x-g.box.Min.X)+0.5)/float32(g.side) - 0.5
	fy := (float32(y-g.box.Min.Y)+0.5)/float32(g.side) - 0.5
	blend(px, g.light, g.cols, g.rows, fx, fy)
}

// blend mixes the four cells around a place of a grid of cells.
func blend(px, light []float32, cols, rows int, fx, fy float32) {
	ix, iy := int(math.Floor(float64(fx))), int(math.Floor(float64(fy)))
	tx, ty := fx-float32(ix), fy-float32(iy)
	cell := func(col, row int) []float32 {
		col, row = min(max(col, 0), cols-1), min(max(row, 0), rows-1)
		return light[(row*cols+col)*len(px):][:len(px)]
	}
	a, b, c, d := cell(ix, iy), cell(ix+1, iy), cell(ix, iy+1), cell(ix+1, iy+1)
	for i := range px {
		px[i] = (a[i]*(1-tx)+b[i]*tx)*(1-ty) + (c[i]*(1-tx)+d[i]*tx)*ty
	}
}
