package fit

import (
	"encoding/json"
	"image"
)

// Box is a rectangle as JSON has it everywhere: x, y, width and height. The form of Go's
// image package, with Min and Max, which older documents have, is read, too.
type Box struct {
	X      int `json:"x"`
	Y      int `json:"y"`
	Width  int `json:"width"`
	Height int `json:"height"`
}

// BoxOf is the box of a rectangle.
func BoxOf(r image.Rectangle) Box { return Box{r.Min.X, r.Min.Y, r.Dx(), r.Dy()} }

// Rect is the rectangle of the box.
func (b Box) Rect() image.Rectangle { return image.Rect(b.X, b.Y, b.X+b.Width, b.Y+b.Height) }

// UnmarshalJSON reads a box in either form.
func (b *Box) UnmarshalJSON(data []byte) error {
	type plain Box
	var read struct {
		plain
		Min, Max *image.Point
	}
	if err := json.Unmarshal(data, &read); err != nil {
		return err
	}
	if read.Min != nil && read.Max != nil {
		*b = BoxOf(image.Rectangle{Min: *read.Min, Max: *read.Max})
		return nil
	}
	*b = Box(read.plain)
	return nil
}
