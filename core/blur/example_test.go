package blur_test

import (
	"fmt"
	"image"
	"image/color"

	"mivlet/core/blur"
)

// A sheet with a line of bars as sharp as letters, and one whose bars were blurred.
func ExampleFind() {
	sheet := image.NewGray(image.Rect(0, 0, 320, 160))
	for i := range sheet.Pix {
		x, y := i%320, i/320
		sheet.Pix[i] = 255
		if x >= 24 && x < 280 && y >= 16 && y < 48 && x/4%3 == 0 {
			sheet.Pix[i] = 20
		}
		if x >= 24 && x < 280 && y >= 96 && y < 128 {
			away := min(x-24, 279-x, y-96, 127-y, 12) // it fades out at its sides
			wave := (x % 24) * (24 - x%24)            // 0 to 144
			sheet.SetGray(x, y, color.Gray{Y: uint8(255 - wave*away/12)})
		}
	}
	fmt.Println(blur.Find(sheet))
	// Output: [(24,96)-(280,128)]
}
