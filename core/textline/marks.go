package textline

import "image"

// marks are the pixels of a mask that are not taken yet.
type marks struct {
	on   []bool
	w, h int
}

// take takes all marks that hang together with one, along the sides and, where
// corners is set, over corners too. It returns their box.
func (m marks) take(start int, corners bool) image.Rectangle {
	box := image.Rect(start%m.w, start/m.w, start%m.w+1, start/m.w+1)
	m.on[start] = false
	stack := []int{start}
	for len(stack) > 0 {
		x, y := stack[len(stack)-1]%m.w, stack[len(stack)-1]/m.w
		stack = stack[:len(stack)-1]
		box = box.Union(image.Rect(x, y, x+1, y+1))
		for dy := -1; dy <= 1; dy++ {
			for dx := -1; dx <= 1; dx++ {
				nx, ny := x+dx, y+dy
				if !corners && dx != 0 && dy != 0 || nx < 0 || nx >= m.w || ny < 0 || ny >= m.h || !m.on[ny*m.w+nx] {
					continue
				}
				m.on[ny*m.w+nx] = false
				stack = append(stack, ny*m.w+nx)
			}
		}
	}
	return box
}
