package textline

import "image"

// A sign is ink that hangs together: a letter, a digit, or several that touch.
type sign struct {
	box   image.Rectangle
	area  int     // pixels of ink
	level float64 // their mean value
	edge  int     // pixels of ink beside ground
}

// thick is how wide its strokes are, about: twice the ink for each pixel of its edge.
func (s sign) thick() float64 { return 2 * float64(s.area) / float64(max(1, s.edge)) }

// What a sign is like, in pixels of the look.
const (
	lowest  = 5
	highest = 48
)

// signs gathers the ink of a mask into signs.
func (p plane) signs(mask []bool) []sign {
	var all []sign
	var stack []int
	for start := range mask {
		if !mask[start] {
			continue
		}
		mask[start] = false
		stack = append(stack[:0], start)
		var members []int
		box := image.Rect(start%p.w, start/p.w, start%p.w+1, start/p.w+1)
		for len(stack) > 0 {
			at := stack[len(stack)-1]
			stack = stack[:len(stack)-1]
			members = append(members, at)
			x, y := at%p.w, at/p.w
			box = box.Union(image.Rect(x, y, x+1, y+1))
			for dy := -1; dy <= 1; dy++ {
				for dx := -1; dx <= 1; dx++ {
					nx, ny := x+dx, y+dy
					if nx >= 0 && nx < p.w && ny >= 0 && ny < p.h && mask[ny*p.w+nx] {
						mask[ny*p.w+nx] = false
						stack = append(stack, ny*p.w+nx)
					}
				}
			}
		}
		if s, ok := p.sign(box, members); ok {
			all = append(all, s)
		}
	}
	return all
}

// sign judges whether ink that hangs together can be a sign.
func (p plane) sign(box image.Rectangle, members []int) (sign, bool) {
	w, h := box.Dx(), box.Dy()
	if h < lowest || h > highest || w > 6*h || w*8 < h || len(members) < 6 {
		return sign{}, false
	}
	if box.Min.X == 0 || box.Min.Y == 0 || box.Max.X == p.w || box.Max.Y == p.h {
		return sign{}, false // what the picture cuts off may be anything
	}
	inside := make([]bool, (w+2)*(h+2))
	sum := 0
	for _, at := range members {
		inside[(at/p.w-box.Min.Y+1)*(w+2)+at%p.w-box.Min.X+1] = true
		sum += int(p.pix[at])
	}
	s := sign{box: box, area: len(members), level: float64(sum) / float64(len(members))}
	for y := 1; y <= h; y++ {
		for x := 1; x <= w; x++ {
			if at := y*(w+2) + x; inside[at] && !(inside[at-1] && inside[at+1] && inside[at-w-2] && inside[at+w+2]) {
				s.edge++
			}
		}
	}
	if fill := float64(s.area) / float64(w*h); fill < 0.12 || fill > 0.95 && w > h/2 {
		return sign{}, false
	}
	return s, s.thick() < 0.5*float64(h)+2
}
