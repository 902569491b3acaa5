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
)

// Animation is a decoded animation: every frame as it shows, with its time.
type Animation struct {
	Frames []*Source
	Delays []time.Duration
	Loop   int // how often it plays; 0 is for ever
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
	return a, nil
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

// quickMethod is the most effort of libwebp that takes no trial of each block. Of 24 frames of
// 500 by 320 px it takes a fifth of the time of the usual method, for 1 % more bytes.
const quickMethod = 2

// Encode does the work on every frame and writes an animation with the same
// timing and loops: a WebP, as it weighs a fraction of a GIF, unless a GIF is
// asked for. The quality is found on the first frame.
func (a *Animation) Encode(w Transform, o Options) (Encoded, error) {
	frames := make([]image.Image, len(a.Frames))
	for i, s := range a.Frames {
		frames[i] = s.Do(w.At(i))
	}
	switch o.Format {
	case GIF:
		data, err := encodeGIF(frames, a.Delays, a.Loop)
		return Encoded{Data: data, MediaType: "image/gif", Why: fmt.Sprintf("GIF, as asked; it moves (%d frames).", len(frames))}, err
	case Auto, WebP, "":
	default:
		return Encoded{}, fmt.Errorf("a %s does not move, and this picture does", o.Format)
	}
	// A budget is for all frames; what the first one may weigh is its share.
	share := o
	share.Format, share.MaxBytes = WebP, o.MaxBytes/int64(len(frames))
	by := webpBy(quickMethod)
	first, err := search(frames[0], share, by, "")
	if err != nil {
		return first, err
	}
	first.Why = fmt.Sprintf("WebP, because it moves (%d frames).", len(frames))
	first.Data, err = encodeAnimatedWebP(frames, a.Delays, a.Loop, func(m image.Image) ([]byte, error) { return by.write(m, first.Quality) })
	if err == nil && o.MaxBytes > 0 && int64(len(first.Data)) > o.MaxBytes {
		first.OverBudget = overBudget(frames[0], first, o.MaxBytes)
	}
	return first, err
}
