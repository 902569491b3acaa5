package raster

import (
	"cmp"
	"fmt"
	"image"
	"image/color"
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
	partlyFlat = 0.3 // photographs have less, also those with a smooth sky
)

// encodeAuto tries the formats that can hold the picture and are allowed, and takes the one of the
// least weight that looks as like as is asked, within the budget where one is.
func encodeAuto(m image.Image, o Options) (Encoded, error) {
	m = withoutUnseen(m)
	fitting, because := candidates(m)
	tried := slices.DeleteFunc(slices.Clone(fitting), func(f Format) bool { return !o.allows(f) })
	switch {
	case len(tried) == 0 && len(o.Allowed) > 0 && slices.Contains(o.Allowed, GIF):
		tried, because = []Format{GIF}, because+", in a format of its slot"
	case len(tried) == 0 && !opaque(m), len(tried) == 0 && !slices.Contains(o.Allowed, PNG):
		tried, because = fitting[:1], because+fmt.Sprintf("; none of the formats of its slot (%s) can hold it", join(o.Allowed))
	case len(tried) == 0:
		tried, because = []Format{PNG}, because+", in a format of its slot"
	case tried[0] != fitting[0]:
		because += ", in a format of its slot"
	}
	var all []Encoded
	for _, f := range tried {
		e, err := encodeAs(f, m, o, name(f)+", "+because+".")
		if err != nil {
			return e, err
		}
		all = append(all, e)
	}
	best := slices.MinFunc(all, func(a, b Encoded) int {
		return cmp.Or(sooner(a.withinBudget(o), b.withinBudget(o)), sooner(o.enough(m, a), o.enough(m, b)), cmp.Compare(o.weight(m, a), o.weight(m, b)))
	})
	if best.Format != tried[0] {
		best.because = fmt.Sprintf("%s, because it looks the same and is lighter than %s.", name(best.Format), name(tried[0]))
		best.Why = best.because + strings.TrimPrefix(best.Why, name(best.Format)+", "+because+".")
	}
	for _, e := range all {
		best.Tried = append(best.Tried, Tried{e.Format, len(e.Data), e.Quality, e.SSIM, o.enough(m, e)})
	}
	return best, nil
}

// candidates are the formats that may be lightest for a picture, the most likely first, and why
// that one.
func candidates(m image.Image) ([]Format, string) {
	switch share := flatness(m); {
	case !opaque(m):
		return []Format{PNG, WebP}, "because parts of it are transparent"
	case share >= flat:
		return []Format{PNG, JPEG, WebP}, "because it is drawn in flat colours"
	case share >= partlyFlat:
		return []Format{JPEG, PNG, WebP}, "because it is a photograph in most parts"
	}
	return []Format{JPEG, WebP}, "because it is a photograph"
}

// allows says whether a format may be chosen. Where nothing is said, those are chosen from that
// every program reads.
func (o Options) allows(f Format) bool {
	if len(o.Allowed) == 0 {
		return f == JPEG || f == PNG
	}
	return slices.Contains(o.Allowed, f)
}

// weight is what a file counts for. Letters and lines that are sharp to the pixel are worth something:
// where a picture is drawn, one without loss may have four times the bytes (common practice keeps
// screenshots so at any weight).
func (o Options) weight(m image.Image, e Encoded) int {
	if e.SSIM == 1 && drawn(m) {
		return len(e.Data) / 4
	}
	return len(e.Data)
}

// enough says whether a file looks as like as is asked. A quality that is given is enough.
func (o Options) enough(m image.Image, e Encoded) bool {
	return o.Quality > 0 || e.SSIM >= o.target(m)-0.002
}

// target is the likeness that is asked for. What is lost where colours are flat is seen sooner: a
// quarter as much may be.
func (o Options) target(m image.Image) float64 {
	target := o.Target
	if target == 0 {
		target = SameToTheEye
	}
	if drawn(m) {
		target = 1 - (1-target)/4
	}
	return target
}

func (e Encoded) withinBudget(o Options) bool {
	return o.MaxBytes == 0 || int64(len(e.Data)) <= o.MaxBytes
}

// sooner orders what holds before what does not.
func sooner(a, b bool) int {
	switch {
	case a == b:
		return 0
	case a:
		return -1
	}
	return 1
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
	default:
		e, err = search(m, o, jpegWriter, why)
	}
	e.Format, e.because = f, why
	return e, err
}

// AsThis returns the options for other sizes of a picture that was written as e: in the same
// format, for the same reason.
func (o Options) AsThis(e Encoded) Options {
	if o.Format == Auto || o.Format == "" {
		o.Format, o.because = e.Format, e.because
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
	for i := 0; i+3 < len(n.Pix); i += 4 {
		c := color.NRGBA{n.Pix[i], n.Pix[i+1], n.Pix[i+2], 255}
		out.Pix[i], out.Pix[i+1], out.Pix[i+2], out.Pix[i+3] = c.R, c.G, c.B, c.A
	}
	return out
}

// name is a format as people write it.
func name(f Format) string {
	return map[Format]string{JPEG: "JPEG", PNG: "PNG", WebP: "WebP", GIF: "GIF"}[f]
}

func join(formats []Format) string {
	words := make([]string, len(formats))
	for i, f := range formats {
		words[i] = string(f)
	}
	return strings.Join(words, ", ")
}
