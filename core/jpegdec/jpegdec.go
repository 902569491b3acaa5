// Package jpegdec reads JPEG files (ITU-T T.81) at an eighth, a quarter, a half or all of their
// size. A picture that is brought down needs only averages of each block, and so only a part of
// the work and of the memory.
//
// It takes what cameras and programs write: baseline and progressive files of 8 bits, in grey or
// in luma and chroma with one of the usual samplings. The rest it refuses with [ErrOther], for a
// complete decoder to take.
//
// Averages of a block's coefficients are averages of code values, and not of light: dark fine
// leaves before a bright sky would come out too dark. Where it would be seen, a block is decoded
// whole and the light of its luma is averaged.
package jpegdec

import (
	"errors"
	"image"
	"io"

	"mivlet/core/fit"
)

// ErrOther means that a file is written in a way that this package leaves to others.
var ErrOther = errors.New("a JPEG of another kind")

// A DamageError tells what is wrong with a file. A file that ends too soon gives
// [io.ErrUnexpectedEOF].
type DamageError string

func (e DamageError) Error() string { return "damaged JPEG: " + string(e) }

// Picture is what was read.
type Picture struct {
	Planes image.Image // *image.YCbCr or *image.Gray, N eighths of the stored size, rounded up, or a part of that
	Stored fit.Size    // of the file, in pixels
	N      int         // eighths of the stored size: 1, 2, 4 or 8
	// Sampling is how the file keeps its chroma; the planes may have more of it.
	Sampling image.YCbCrSubsampleRatio
}

// headroom is how many times more pixels than wanted are decoded at least, along each side.
// Below two, what averaging by blocks folds back of the finest detail is seen.
const headroom = 2

// Eighths returns the smallest scale at which a picture gives enough for what is wanted, along
// both sides: 1, 2, 4 or 8 eighths; nothing wanted gives 8.
//
// Scales in between would be possible. Fine detail of a single pixel suffers from them, as no
// whole number of pixels becomes one.
func Eighths(stored, wanted fit.Size) int {
	if wanted.W <= 0 || wanted.H <= 0 {
		return 8
	}
	n := 1
	for n < 8 && !(enough(stored.W, n, wanted.W) && enough(stored.H, n, wanted.H)) {
		n *= 2
	}
	return n
}

func enough(stored, n, wanted int) bool { return stored*n >= headroom*8*wanted }

// Decode reads a file at the smallest scale that is enough to bring it down to wanted, in pixels
// as they are stored; nothing wanted means all of it. It fails with [ErrOther], a [DamageError]
// or [io.ErrUnexpectedEOF].
func Decode(r io.Reader, wanted fit.Size) (*Picture, error) {
	return DecodePart(r, wanted, image.Rectangle{})
}

// DecodePart is Decode for a part of the picture, in pixels as they are stored; an empty one is all of
// it. wanted is of the whole. The planes lie where the part does in the planes of the whole,
// and may reach a little further. What is below the part is not read, and damage there not told.
func DecodePart(r io.Reader, wanted fit.Size, part image.Rectangle) (*Picture, error) {
	d := &decoder{in: newSource(r), wanted: wanted, part: part}
	if err := d.markers(); err != nil {
		if earlier := d.relay.end(); earlier != nil {
			return nil, earlier
		}
		return nil, err
	}
	return d.picture()
}
