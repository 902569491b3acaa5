package raster

import (
	"bytes"
	"cmp"
	"fmt"
	"image"
	"image/gif"
	"slices"

	"mivlet/core/facts"
	"mivlet/core/motion"
)

// quickMethod is the most effort of libwebp that takes no trial of each block. Of 24 frames of
// 500 by 320 px it takes a fifth of the time of the usual method, for 1 % more bytes.
const quickMethod = 2

// Encode does the work on every frame and writes an animation with the same timing and loops. Where
// no format is asked for, it is the lightest of WebP, GIF, and, where it is drawn in flat colours,
// WebP without loss, that looks as like as is asked. What is asked of a quality is asked of the
// first frame.
func (a *Animation) Encode(w Transform, o Options) (Encoded, error) {
	film := motion.Film{Delays: a.Delays, Loop: a.Loop}
	for i, s := range a.Frames {
		film.Frames = append(film.Frames, s.Do(w.At(i)))
	}
	var asItIs []byte
	if a.isWhole(w) {
		asItIs = a.bare
	}
	e, err := encodeFilm(film, asItIs, o)
	if err == nil && o.MaxBytes > 0 && int64(len(e.Data)) > o.MaxBytes {
		e.OverBudget = overBudget(film.Frames[0], e, o.MaxBytes)
	}
	return e, err
}

// isWhole reports whether w changes nothing.
func (a *Animation) isWhole(w Transform) bool {
	whole := a.Frames[0].Upright()
	return w.From == whole.Rect() && w.Size == whole && w.Turn == facts.Upright && w.Straighten == 0 && len(w.Veils) == 0
}

// A way writes the first frame of a film as its only one, as like as is asked, and tells what
// writes the whole film so.
type way func(first motion.Film, o Options) (e Encoded, whole func(motion.Film) ([]byte, error), err error)

// worthIt is how many times as heavy as the lightest a first frame may be for a way to be tried on
// the whole film.
const worthIt = 2

// encodeFilm writes a film. asItIs is a GIF of the very same frames, or nil: where a GIF may be
// written, the file is no heavier than that.
func encodeFilm(f motion.Film, asItIs []byte, o Options) (Encoded, error) {
	ways, err := o.ways(f)
	if err != nil {
		return Encoded{}, err
	}
	isDrawn := drawn(f.Frames[0])
	if isDrawn {
		o.Target = sharper(o.target())
	}
	all, err := encodings(f, ways, isDrawn, o)
	if err != nil {
		return Encoded{}, err
	}
	if len(asItIs) > 0 && o.allowsMoving(GIF) && o.Quality == 0 {
		all = append(all, rankOf(Encoded{Data: asItIs, MediaType: "image/gif", Format: GIF, SSIM: 1}, o, isDrawn))
	}
	best := lightest(all)
	if best.Why = o.because; best.Why == "" {
		best.Why = whyMoving(best.Format, len(f.Frames), o)
	}
	best.because, best.target, best.Tried = best.Why, o.Target, tried(all)
	return best, nil
}

// encodings are a film in those of some ways that may be the lightest, as their first frames tell.
func encodings(f motion.Film, ways []way, isDrawn bool, o Options) (all []rank, err error) {
	first := motion.Film{Frames: f.Frames[:1], Delays: f.Delays[:1]}
	share := o
	share.MaxBytes /= int64(len(f.Frames)) // a budget is for all frames
	firsts, wholes := make([]rank, len(ways)), make([]func(motion.Film) ([]byte, error), len(ways))
	for i, w := range ways {
		var e Encoded
		if e, wholes[i], err = w(first, share); err != nil {
			return nil, err
		}
		firsts[i] = rankOf(e, share, isDrawn)
	}
	least := slices.MinFunc(firsts, func(a, b rank) int { return cmp.Compare(a.weight, b.weight) }).weight
	for i, r := range firsts {
		if r.weight > worthIt*least {
			continue
		}
		e := r.Encoded
		if e.Data, err = wholes[i](f); err != nil {
			return nil, err
		}
		all = append(all, rankOf(e, o, isDrawn))
	}
	return all, nil
}

// ways are the ways to write a film that o allows.
func (o Options) ways(f motion.Film) ([]way, error) {
	switch o.Format {
	case GIF:
		return []way{movingGIF}, nil
	case Auto, WebP, "":
	default:
		return nil, fmt.Errorf("a %s does not move, and this picture does", o.Format)
	}
	some := []way{movingWebP}
	if o.Quality > 0 {
		return some, nil
	}
	if drawn(f.Frames[0]) {
		some = append(some, movingLossless)
	}
	if o.allowsMoving(GIF) {
		some = append(some, movingGIF)
	}
	return some, nil
}

// allowsMoving says whether an animation may be written in a format. Where nothing is said, all
// formats that move may be taken.
func (o Options) allowsMoving(f Format) bool {
	if o.Format == Auto || o.Format == "" {
		return len(o.Allowed) == 0 || slices.Contains(o.Allowed, f)
	}
	return o.Format == f
}

// whyMoving says why an animation is in a format.
func whyMoving(f Format, frames int, o Options) string {
	switch {
	case o.Format == f && f == GIF:
		return fmt.Sprintf("GIF, as asked; it moves (%d frames).", frames)
	case f == GIF:
		return fmt.Sprintf("GIF, because it moves (%d frames) and is lighter so than as WebP.", frames)
	}
	return fmt.Sprintf("%s, because it moves (%d frames).", name(f), frames)
}

// movingWebP finds the quality of a WebP on the first frame.
func movingWebP(first motion.Film, o Options) (Encoded, func(motion.Film) ([]byte, error), error) {
	by := webpBy(quickMethod)
	e, err := search(first.Frames[0], o, by, "")
	e.Format = WebP
	return e, func(f motion.Film) ([]byte, error) {
		return f.WebP(func(m image.Image) ([]byte, error) { return by.write(m, e.Quality) })
	}, err
}

// movingLossless writes WebP without loss.
func movingLossless(first motion.Film, _ Options) (Encoded, func(motion.Film) ([]byte, error), error) {
	write := func(f motion.Film) ([]byte, error) {
		return f.WebP(func(m image.Image) ([]byte, error) { return losslessWebP(m, quickMethod) })
	}
	data, err := write(first)
	return Encoded{Data: data, MediaType: "image/webp", Format: WebP, SSIM: 1}, write, err
}

// tolerances are how far colours of a GIF may be off, from none on; the last is as much as is ever
// taken for the same.
var tolerances = []int{0, 2, 3, 4, 5, 7, 9, 12}

// movingGIF finds on the first frame how far off the colours of a GIF may be.
func movingGIF(first motion.Film, o Options) (Encoded, func(motion.Film) ([]byte, error), error) {
	before := luma(first.Frames[0])
	e, taken := Encoded{MediaType: "image/gif", Format: GIF}, 0
	for _, tolerance := range tolerances {
		data, err := first.GIF(tolerance)
		if err != nil {
			return e, nil, err
		}
		m, err := gif.Decode(bytes.NewReader(data))
		if err != nil {
			return e, nil, err
		}
		like := ssim(before, luma(m), sparse, 0)
		if tolerance > 0 && like < o.target() {
			break
		}
		taken, e.SSIM, e.Data = tolerance, like, data
	}
	return e, func(f motion.Film) ([]byte, error) { return f.GIF(taken) }, nil
}
