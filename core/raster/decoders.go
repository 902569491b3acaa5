package raster

import (
	"image"
	"image/gif"
	"image/jpeg"
	"image/png"
	"io"

	"github.com/gen2brain/avif"
	"github.com/gen2brain/heic"
	"golang.org/x/image/bmp"
	"golang.org/x/image/tiff"

	"mivlet/core/facts"
	"mivlet/core/fit"
)

// A decoder reads the pixels of one kind of file as they are stored. It is told
// what is known of the file and how many pixels will be wanted of it, upright;
// nothing means all. One that has a cheaper way to fewer pixels may take it.
// So far none has: all give every pixel.
type decoder func(r io.Reader, f facts.Facts, wanted fit.Size) (image.Image, error)

// decoders are those that are known, by media type.
var decoders = map[string]decoder{
	"image/jpeg": plainly(jpeg.Decode),
	"image/png":  plainly(png.Decode),
	"image/gif":  firstOfGIF,
	"image/webp": func(r io.Reader, f facts.Facts, _ fit.Size) (image.Image, error) { return decodeWebP(r, f) },
	"image/avif": plainly(avif.Decode),
	"image/heic": plainly(heic.Decode),
	"image/bmp":  plainly(bmp.Decode),
	"image/tiff": plainly(tiff.Decode),
}

// plainly makes a decoder of one that needs to know nothing.
func plainly(decode func(io.Reader) (image.Image, error)) decoder {
	return func(r io.Reader, _ facts.Facts, _ fit.Size) (image.Image, error) { return decode(r) }
}

// firstOfGIF reads the first frame of a GIF, on the whole of its screen.
func firstOfGIF(r io.Reader, f facts.Facts, _ fit.Size) (image.Image, error) {
	m, err := gif.Decode(r)
	if err != nil || fit.SizeOf(m.Bounds()) == f.Stored && m.Bounds().Min == (image.Point{}) {
		return m, err
	}
	return onCanvas(m, f.Stored), nil
}
