package jpegdec_test

import (
	"bytes"
	"fmt"
	"image"
	"image/jpeg"

	"mivlet/core/fit"
	"mivlet/core/jpegdec"
)

func ExampleDecode() {
	var file bytes.Buffer
	if err := jpeg.Encode(&file, image.NewRGBA(image.Rect(0, 0, 640, 427)), nil); err != nil {
		fmt.Println(err)
		return
	}
	p, err := jpegdec.Decode(&file, fit.Size{W: 160, H: 106})
	if err != nil {
		fmt.Println(err)
		return
	}
	fmt.Println(p.N, "eighths:", p.Planes.Bounds().Size(), "of", p.Stored.W, p.Stored.H)
	// Output: 4 eighths: (320,214) of 640 427
}
