package facts_test

import (
	"bytes"
	"fmt"
	"image"
	"image/jpeg"

	"mivlet/core/facts"
	"mivlet/core/fit"
)

// What a file is, is read from its head; its name is not asked.
func ExampleRead() {
	var file bytes.Buffer
	if err := jpeg.Encode(&file, image.NewGray(image.Rect(0, 0, 300, 200)), nil); err != nil {
		panic(err)
	}
	f, err := facts.Read(bytes.NewReader(file.Bytes()))
	if err != nil {
		panic(err)
	}
	fmt.Println(f.MediaType, f.Upright(), facts.Extension(f.MediaType))
	fmt.Println(facts.Orientation(6).Turned(fit.Size{W: 300, H: 200}))
	// Output:
	// image/jpeg {300 200} .jpg
	// {200 300}
}
