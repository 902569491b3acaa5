package raster

import (
	"fmt"
	"image"
	"image/color"
	"image/draw"
	"image/gif"
	"io"
	"time"

	"github.com/gen2brain/webp"

	"mivlet/core/facts"
	"mivlet/core/fit"
	"mivlet/core/motion"
)

// Animation is a decoded animation: every frame as it shows, with its time.
type Animation struct {
	Frames []*Source
	Delays []time.Duration
	Loop   int // how often it plays; 0 is for ever

	bare []byte // a GIF of the same frames as they were written, without anything else; nil where there is none
}

// DecodeAnimation reads all frames of a GIF, an animated WebP or an animated
// PNG, each drawn on what the last one left, as a viewer shows it (GIF89a
// specification, 23: the disposal methods).
func DecodeAnimation(file io.ReadSeeker, f facts.Facts, limits Limits) (*Animation, error) {
	if err := limits.CheckFrames(f); err != nil {
		return nil, err
	}
	in := srgb
	if f.Profile != "" {
		in = spaceOf(facts.Profile(file, f.MediaType))
	}
	if _, err := file.Seek(0, io.SeekStart); err != nil {
		return nil, err
	}
	r := &ending{ReadSeeker: file}
	var a *Animation
	var err error
	switch f.MediaType {
	case "image/gif":
		a, err = decodeGIF(r)
	case "image/webp":
		a, err = decodeAnimatedWebP(r)
	case "image/png":
		a, err = decodeAPNG(r)
	default:
		return nil, fmt.Errorf("an animation in %s is not known", f.MediaType)
	}
	if err != nil {
		return nil, r.judge(err)
	}
	if len(a.Frames) == 0 {
		return nil, fmt.Errorf("%w: an animation without frames", facts.ErrDamaged)
	}
	for _, s := range a.Frames {
		s.space, s.traces = in, tracesOf(f.MediaType, image.Point{})
	}
	a.Loop = f.Loop
	if f.MediaType == "image/gif" && in == srgb {
		a.bare = bareGIF(file)
	}
	return a, nil
}

// bareGIF is a GIF without anything but its frames, or nil.
func bareGIF(file io.ReadSeeker) []byte {
	if _, err := file.Seek(0, io.SeekStart); err != nil {
		return nil
	}
	data, err := io.ReadAll(file)
	if err != nil {
		return nil
	}
	bare, err := motion.Bare(data)
	if err != nil {
		return nil
	}
	return bare
}

func decodeGIF(r io.Reader) (*Animation, error) {
	g, err := gif.DecodeAll(r)
	if err != nil {
		return nil, err
	}
	a := &Animation{}
	canvas := image.NewNRGBA(image.Rect(0, 0, g.Config.Width, g.Config.Height))
	for i, frame := range g.Image {
		before := clone(canvas)
		draw.Draw(canvas, frame.Rect, frame, frame.Rect.Min, draw.Over)
		a.add(clone(canvas), time.Duration(g.Delay[i])*10*time.Millisecond)
		switch g.Disposal[i] {
		case gif.DisposalBackground:
			draw.Draw(canvas, frame.Rect, image.NewUniform(color.Transparent), image.Point{}, draw.Src)
		case gif.DisposalPrevious:
			canvas = before
		}
	}
	return a, nil
}

func decodeAnimatedWebP(r io.Reader) (*Animation, error) {
	all, err := webp.DecodeAll(r)
	if err != nil {
		return nil, err
	}
	a := &Animation{}
	for i, m := range all.Image {
		a.add(m, time.Duration(all.Delay[i])*time.Millisecond)
	}
	return a, nil
}

func (a *Animation) add(m image.Image, delay time.Duration) {
	a.Frames = append(a.Frames, FromImage(m))
	a.Delays = append(a.Delays, delay)
}

// onCanvas returns m where it stands on an empty canvas.
func onCanvas(m image.Image, size fit.Size) *image.NRGBA {
	canvas := image.NewNRGBA(size.Rect())
	draw.Draw(canvas, m.Bounds(), m, m.Bounds().Min, draw.Src)
	return canvas
}

func clone(m *image.NRGBA) *image.NRGBA {
	out := image.NewNRGBA(m.Rect)
	copy(out.Pix, m.Pix)
	return out
}
