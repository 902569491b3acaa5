package raster_test

import (
	"fmt"
	"image"
	"image/color"

	"mivlet/core/fit"
	"mivlet/core/raster"
)

// A drawing of two colours is brought down and kept as the format that suits it.
func ExampleEncode() {
	drawing := image.NewRGBA(image.Rect(0, 0, 400, 300))
	for i := range drawing.Pix {
		drawing.Pix[i] = 255
	}
	for x := range 200 {
		for y := range 300 {
			drawing.Set(x, y, color.RGBA{18, 72, 63, 255})
		}
	}
	small := raster.FromImage(drawing).Cut(drawing.Bounds(), fit.Size{W: 200, H: 150})
	e, err := raster.Encode(small, raster.Options{Format: raster.Auto})
	if err != nil {
		panic(err)
	}
	fmt.Println(small.Bounds().Size(), e.MediaType, e.SSIM)
	// Output:
	// (200,150) image/png 1
}
