package strip_test

import (
	"bytes"
	"fmt"
	"image"
	"image/jpeg"

	"mivlet/core/facts"
	"mivlet/core/strip"
)

// A comment is taken out of a photo.
func ExampleStrip() {
	var photo bytes.Buffer
	_ = jpeg.Encode(&photo, image.NewGray(image.Rect(0, 0, 8, 8)), nil)
	told := append([]byte("\xff\xd8\xff\xfe\x00\x11Lina lives here"), photo.Bytes()[2:]...)
	known, _ := facts.Read(bytes.NewReader(told))
	clean, err := strip.Strip(told, known)
	fmt.Println(len(told)-len(clean), bytes.Contains(clean, []byte("Lina")), err)
	// Output: 19 false <nil>
}
