package raster

import (
	"errors"
	"image"
	"image/draw"
	"image/gif"
	"image/jpeg"
	"image/png"
	"io"

	"github.com/gen2brain/avif"
	"golang.org/x/image/bmp"
	"golang.org/x/image/tiff"

	"mivlet/core/facts"
	"mivlet/core/fit"
	"mivlet/core/heif"
	"mivlet/core/jpegdec"
	"mivlet/core/svg"
)

// decoded is what a decoder gives.
type decoded struct {
	pixels  image.Image
	eighths int  // of its size at which the file was decoded
	part    bool // whether it may be no more than the part that was wanted
	// block is the size of the smallest unit that was coded together, in pixels of the file;
	// nothing where it has none.
	block image.Point
}

// want is what will be wanted of a picture, as it is stored: how many pixels of the whole, and which part
// of it. Nothing means all.
type want struct {
	size fit.Size
	part image.Rectangle
}

// A decoder reads the pixels of one kind of file as they are stored. It is told
// what is known of the file and what will be wanted of it. One that has a cheaper way to fewer
// pixels takes it.
type decoder func(r io.ReadSeeker, f facts.Facts, wanted want) (decoded, error)

// decoders are those that are known, by media type.
var decoders = map[string]decoder{
	"image/jpeg": decodeJPEG,
	"image/png":  plainly(png.Decode),
	"image/gif":  firstOfGIF,
	"image/webp": func(r io.ReadSeeker, f facts.Facts, _ want) (decoded, error) { return all(decodeWebP(r, f)) },
	"image/avif": decodeAVIF,
	"image/heic": plainly(heif.Decode),
	"image/bmp":  plainly(bmp.Decode),
	"image/tiff": plainly(tiff.Decode),

	"image/svg+xml": drawSVG,
}

// plainly makes a decoder of one that needs to know nothing.
func plainly(decode func(io.Reader) (image.Image, error)) decoder {
	return func(r io.ReadSeeker, _ facts.Facts, _ want) (decoded, error) { return all(decode(r)) }
}

// all is a picture of which every pixel was decoded.
func all(m image.Image, err error) (decoded, error) { return decoded{pixels: m, eighths: 8}, err }

// decodeJPEG reads no more of a JPEG than is wanted. What is written in an unusual way is read
// entirely.
func decodeJPEG(r io.ReadSeeker, _ facts.Facts, wanted want) (decoded, error) {
	p, err := jpegdec.DecodePart(r, wanted.size, wanted.part)
	if errors.Is(err, jpegdec.ErrOther) {
		if _, err := r.Seek(0, io.SeekStart); err != nil {
			return decoded{}, err
		}
		m, err := jpeg.Decode(r)
		return decoded{pixels: m, eighths: 8, block: jpegBlock(m)}, err
	}
	if err != nil {
		return decoded{}, err
	}
	d := decoded{p.Planes, p.N, !wanted.part.Empty(), image.Pt(8, 8)}
	if _, grey := p.Planes.(*image.Gray); !grey {
		d.block = blockOf(p.Sampling)
	}
	return d, nil
}

// decodeAVIF reads what is to be seen of an AVIF; of an HEIC its decoder gives no more.
func decodeAVIF(r io.ReadSeeker, f facts.Facts, _ want) (decoded, error) {
	m, err := avif.Decode(r)
	if clean := f.Clean.Rect(); err == nil && !clean.Empty() && clean.In(fit.SizeOf(m.Bounds()).Rect()) {
		m = cropped(m, clean)
	}
	return all(m, err)
}

// drawSVG draws a drawing.
func drawSVG(r io.ReadSeeker, f facts.Facts, _ want) (decoded, error) {
	file, err := io.ReadAll(r)
	if err != nil {
		return decoded{}, err
	}
	return all(svg.Draw(file, f.Stored))
}

// cropped is a part of a picture.
func cropped(m image.Image, to image.Rectangle) image.Image {
	var out draw.Image = image.NewNRGBA(image.Rectangle{Max: to.Size()})
	switch m.(type) {
	case *image.NRGBA64, *image.RGBA64:
		out = image.NewNRGBA64(image.Rectangle{Max: to.Size()})
	}
	draw.Draw(out, out.Bounds(), m, m.Bounds().Min.Add(to.Min), draw.Src)
	return out
}

// firstOfGIF reads the first frame of a GIF, on the whole of its screen.
func firstOfGIF(r io.ReadSeeker, f facts.Facts, _ want) (decoded, error) {
	m, err := gif.Decode(r)
	if err != nil || fit.SizeOf(m.Bounds()) == f.Stored && m.Bounds().Min == (image.Point{}) {
		return all(m, err)
	}
	return all(onCanvas(m, f.Stored), nil)
}
