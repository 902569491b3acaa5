package jpegenc_test

import (
	"bytes"
	"fmt"
	"image"
	"image/jpeg"

	"mivlet/core/jpegenc"
)

func ExampleEncode() {
	data, err := jpegenc.Encode(image.NewRGBA(image.Rect(0, 0, 640, 427)), 80)
	if err != nil {
		fmt.Println(err)
		return
	}
	config, err := jpeg.DecodeConfig(bytes.NewReader(data))
	fmt.Println(config.Width, config.Height, err)
	// Output: 640 427 <nil>
}
