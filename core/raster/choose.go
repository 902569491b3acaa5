package raster

import (
	"cmp"
	"fmt"
	"image"
	"slices"
	"strings"
)

// Tried is a format that was tried for a cut.
type Tried struct {
	Format  Format  `json:"format"`
	Bytes   int     `json:"bytes"`
	Quality int     `json:"quality"` // 0 where the format has none
	SSIM    float64 `json:"ssim"`
	Enough  bool    `json:"enough"` // whether it looks as like as is asked
}

// unseen is the alpha from which a pixel hides what lies behind it, to the eye.
const unseen = 250

// Shares of pixels that equal their left neighbour to the last bit.
const (
	flat       = 0.4 // from here on a picture is drawn in flat colours
	partlyFlat = 0.3 // photographs of the demo have 0.26 at most, those with a smooth sky
)

// encodeAuto tries the formats that can hold the picture and are allowed, and takes the one of the
// least weight that looks as like as is asked, within the budget where one is.
func encodeAuto(m image.Image, o Options) (Encoded, error) {
	m = withoutUnseen(m)
	share := flatness(m)
	fitting, others, because := candidates(m, share)
	if share >= flat {
		o.Target = sharper(o.target())
	}
	some := slices.DeleteFunc(slices.Clone(fitting), func(f Format) bool { return !o.allows(f) })
	if i := slices.IndexFunc(others, o.allows); len(some) == 0 && i >= 0 {
		some = others[i : i+1]
	}
	switch {
	case len(some) == 0:
		some, because = fitting[:1], because+fmt.Sprintf("; none of the formats of its slot (%s) can hold it", join(o.Allowed))
	case some[0] != fitting[0]:
		because += ", in a format of its slot"
	}
	var all []rank
	for _, f := range some {
		e, err := encodeAs(f, m, o, name(f)+", "+because+".")
		if err != nil {
			return e, err
		}
		all = append(all, rankOf(e, o, share >= flat))
	}
	best := lightest(all)
	if best.Format != some[0] {
		best.because = fmt.Sprintf("%s, because it looks the same and is lighter than %s.", name(best.Format), name(some[0]))
		best.Why = best.because + strings.TrimPrefix(best.Why, name(best.Format)+", "+because+".")
	}
	best.Tried, best.target = tried(all), o.Target
	return best, nil
}

// rank orders files: within the budget, as like as is asked, and of the least weight come first.
type rank struct {
	Encoded
	heavy, poor bool
	weight      int
}

// rankOf judges a file; isDrawn says whether the picture is drawn in flat colours.
func rankOf(e Encoded, o Options, isDrawn bool) rank {
	r := rank{e, o.MaxBytes > 0 && int64(len(e.Data)) > o.MaxBytes, o.Quality == 0 && e.SSIM < o.target()-0.002, len(e.Data)}
	if e.SSIM == 1 && isDrawn {
		r.weight /= worthOfSharp
	}
	return r
}

// lightest is the file that comes first.
func lightest(all []rank) Encoded {
	return slices.MinFunc(all, func(a, b rank) int {
		return cmp.Or(later(a.heavy, b.heavy), later(a.poor, b.poor), cmp.Compare(a.weight, b.weight))
	}).Encoded
}

// tried tells what a file was chosen from.
func tried(all []rank) (t []Tried) {
	for _, r := range all {
		t = append(t, Tried{r.Format, len(r.Data), r.Quality, r.SSIM, !r.poor})
	}
	return t
}

// sharper is the likeness to ask for where colours are flat: what is lost there is seen sooner, so
// that a quarter as much may be.
func sharper(target float64) float64 { return 1 - (1-target)/4 }

// worthOfSharp is how many times the bytes a file without loss may have where a picture is drawn, as
// letters and lines that are sharp to the pixel are worth something (common practice keeps
// screenshots so at any weight).
const worthOfSharp = 4

// later orders what holds behind what does not.
func later(a, b bool) int {
	switch {
	case a == b:
		return 0
	case a:
		return 1
	}
	return -1
}

// candidates are the formats that may be lightest for a picture, the most likely first, and why
// that one; and others that hold it, of which the first is taken where none of these is allowed.
// share is how much of it is flat.
func candidates(m image.Image, share float64) (fitting, others []Format, because string) {
	switch {
	case !opaque(m):
		return []Format{PNG, WebP}, []Format{GIF}, "because parts of it are transparent"
	case share >= flat:
		return []Format{PNG, JPEG, WebP, AVIF}, []Format{GIF}, "because it is drawn in flat colours"
	case share >= partlyFlat:
		return []Format{JPEG, PNG, WebP, AVIF}, []Format{GIF}, "because it is a photograph in most parts"
	}
	return []Format{JPEG, WebP, AVIF}, []Format{PNG, GIF}, "because it is a photograph"
}

// allows says whether a format may be chosen. Where nothing is said, those are chosen from that
// every program reads.
func (o Options) allows(f Format) bool {
	if len(o.Allowed) == 0 {
		return f == JPEG || f == PNG
	}
	return slices.Contains(o.Allowed, f)
}

// target is the likeness that is asked for.
func (o Options) target() float64 {
	if o.Target == 0 {
		return SameToTheEye
	}
	return o.Target
}

// encodeAs writes m in a format; why is told.
func encodeAs(f Format, m image.Image, o Options, why string) (e Encoded, err error) {
	switch f {
	case PNG:
		e, err = encodePNG(m, why)
	case GIF:
		e, err = encodeGIFStill(m, why)
	case WebP:
		if drawn(m) && o.Quality == 0 {
			e, err = encodeWebPLossless(m, why)
		} else {
			e, err = search(m, o, webpWriter, why)
		}
	case AVIF:
		e, err = search(m, o, avifWriter, why)
	default:
		e, err = search(m, o, jpegWriter, why)
	}
	e.Format, e.because = f, why
	return e, err
}

// AsThis returns the options for other sizes of a picture that was written as e: in the same
// format, for the same reason, and to look as like.
func (o Options) AsThis(e Encoded) Options {
	if o.Format == Auto || o.Format == "" {
		o.Format, o.because, o.Target = e.Format, e.because, e.target
	}
	return o
}

// withoutUnseen is m without a transparency that no eye sees.
func withoutUnseen(m image.Image) image.Image {
	n, ok := m.(*image.NRGBA)
	if !ok || opaque(m) {
		return m
	}
	for i := 3; i < len(n.Pix); i += 4 {
		if n.Pix[i] < unseen {
			return m
		}
	}
	out := image.NewRGBA(n.Rect)
	copy(out.Pix, n.Pix)
	for i := 3; i < len(out.Pix); i += 4 {
		out.Pix[i] = 255
	}
	return out
}

// name is a format as people write it.
func name(f Format) string {
	return map[Format]string{JPEG: "JPEG", PNG: "PNG", WebP: "WebP", AVIF: "AVIF", GIF: "GIF"}[f]
}

func join(formats []Format) string {
	words := make([]string, len(formats))
	for i, f := range formats {
		words[i] = string(f)
	}
	return strings.Join(words, ", ")
}
