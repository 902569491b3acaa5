// Package svg draws SVG drawings as pictures made of pixels. A drawing is a document that can carry
// scripts, so no browser ever gets one: it gets what this package draws.
//
// The drawing is done by resvg (MPL-2.0), compiled to WebAssembly and run by wazero (Apache-2.0), in
// a memory of its own: it reaches no file, no network and no clock, runs no scripts, and is stopped
// when it takes too long or too much. resvg.wasm.gz is the file that the npm package
// @resvg/resvg-wasm 2.6.2 carries.
package svg

import (
	"context"
	"errors"
	"fmt"
	"image"
	"math"
	"time"

	"mivlet/core/fit"
)

// ErrDrawing means that a drawing cannot be drawn: it is no SVG, it is broken, or it asks for more
// time or memory than drawings get.
var ErrDrawing = errors.New("it cannot be drawn")

// Limits of what a drawing may take.
const (
	maxBytes = 20 << 20    // of the file
	patience = time.Minute // for drawing, also where much else is going on
	pages    = 12 << 10    // of 64 KiB, of memory: 768 MiB
)

// Longest is the longer side of what is drawn, in pixels. A drawing has no pixels of its own, so it
// is drawn for the widest place on the sharpest screen.
const Longest = 3000

// Drawn is the size in pixels at which a drawing of a size is drawn.
func Drawn(own fit.Size) fit.Size {
	long := max(own.W, own.H, 1)
	to := func(side int) int { return max(1, int(math.Round(float64(side)*Longest/float64(long)))) }
	return fit.Size{W: to(own.W), H: to(own.H)}
}

// Draw draws a drawing into so many pixels. What nothing is drawn on is transparent. Files that the
// drawing refers to are not read. It fails with [ErrDrawing].
func Draw(file []byte, size fit.Size) (*image.NRGBA, error) {
	return draw(context.Background(), file, size, patience)
}

func draw(ctx context.Context, file []byte, size fit.Size, within time.Duration) (*image.NRGBA, error) {
	if size.Empty() {
		return nil, fmt.Errorf("%w: a size of %d × %d", ErrDrawing, size.W, size.H)
	}
	sized, err := sizedTo(file, size)
	if err != nil {
		return nil, err
	}
	run, err := program() // the first time takes long, and is not the drawing's
	if err != nil {
		return nil, err
	}
	ctx, cancel := context.WithTimeout(ctx, within)
	defer cancel()
	e, err := start(ctx, run)
	if err != nil {
		return nil, err
	}
	defer e.close()
	pixels, got, err := e.draw(sized)
	if ctx.Err() != nil {
		return nil, fmt.Errorf("%w: it takes longer than %s", ErrDrawing, within)
	}
	if err != nil {
		return nil, err
	}
	if got != size || len(pixels) != 4*size.W*size.H {
		return nil, fmt.Errorf("%w: it came out as %d × %d and not as %d × %d", ErrDrawing, got.W, got.H, size.W, size.H)
	}
	plain(pixels)
	return &image.NRGBA{Pix: pixels, Stride: 4 * size.W, Rect: size.Rect()}, nil
}

// plain gives colours that were multiplied by their opacity their own values.
func plain(pixels []byte) {
	for i := 0; i+3 < len(pixels); i += 4 {
		if a := uint32(pixels[i+3]); a != 0 && a != 255 {
			for c := i; c < i+3; c++ {
				pixels[c] = uint8(min(255, (uint32(pixels[c])*255+a/2)/a))
			}
		}
	}
}
