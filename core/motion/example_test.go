package motion_test

import (
	"bytes"
	"fmt"
	"image"
	"image/color"
	"image/gif"
	"time"

	"mivlet/core/motion"
)

// Of the second frame only the pixel is written that has changed.
func ExampleFilm_GIF() {
	first, second := image.NewGray(image.Rect(0, 0, 40, 30)), image.NewGray(image.Rect(0, 0, 40, 30))
	second.SetGray(12, 7, color.Gray{200})
	f := motion.Film{Frames: []image.Image{first, second}, Delays: []time.Duration{time.Second, time.Second}}
	data, _ := f.GIF(0)
	g, _ := gif.DecodeAll(bytes.NewReader(data))
	fmt.Println(g.Image[1].Rect)
	// Output: (12,7)-(13,8)
}
