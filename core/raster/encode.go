package raster

import (
	"bytes"
	"fmt"
	"image"
	"image/jpeg"
	"image/png"

	"github.com/gen2brain/webp"

	"mivlet/core/facts"
)

// Format names what a cut is written as.
type Format string

// The formats. Auto chooses by what the pixels are and says why.
const (
	Auto Format = "auto"
	JPEG Format = "jpeg"
	PNG  Format = "png"
	GIF  Format = "gif"
	WebP Format = "webp"
)

// SameToTheEye is the structural similarity from which a cut is taken to look
// the same after encoding as before. On photographs it leads to a JPEG quality
// of 70 to 85: medium quality (common practice).
const SameToTheEye = 0.96

// The range of qualities that are tried. Below the lowest, faces and skies fall
// apart to the eye (common practice); above the highest, bytes grow and nothing
// is seen.
const (
	lowest  = 40
	highest = 95
)

// Options say how a cut is written. The zero value chooses the format, and the
// lowest quality that still looks the same.
type Options struct {
	Format   Format
	Quality  int     // 1 to 100, fixed; 0 looks for one
	MaxBytes int64   // budget; 0 for none
	Target   float64 // structural similarity to reach; 0 for SameToTheEye
}

// Encoded is a finished file in memory, without any metadata.
type Encoded struct {
	Data      []byte
	MediaType string
	Quality   int     // 0 where the format has none
	SSIM      float64 // of the luma before and after; 1 where nothing is lost
	Why       string  // why this format and quality, in one sentence
	// OverBudget tells what was reached where the budget could not be met, and
	// what would meet it; empty otherwise.
	OverBudget string
}

// Extension returns the extension that is true to the content.
func (e Encoded) Extension() string { return facts.Extension(e.MediaType) }

// Encode writes m as o says.
func Encode(m image.Image, o Options) (Encoded, error) {
	var e Encoded
	var err error
	switch o.Format {
	case Auto, "":
		e, err = encodeAuto(m, o)
	case JPEG:
		if !opaque(m) {
			return e, fmt.Errorf("a JPEG has no transparency, and parts of this picture are transparent")
		}
		e, err = search(m, o, "image/jpeg", "JPEG, as asked.", jpegAt)
	case PNG:
		e, err = encodePNG(m, "PNG, as asked.")
	case WebP:
		if drawn(m) && o.Quality == 0 {
			e, err = encodeWebPLossless(m, "WebP without loss, because it is drawn in flat colours.")
		} else {
			e, err = search(m, o, "image/webp", "WebP, as asked.", webpAt)
		}
	case GIF:
		e, err = encodeGIFStill(m, "GIF, as asked.")
	default:
		return e, fmt.Errorf("a cut is written as auto, jpeg, png, gif or webp, not %q", o.Format)
	}
	if err == nil && o.MaxBytes > 0 && int64(len(e.Data)) > o.MaxBytes {
		e.OverBudget = overBudget(m, e, o.MaxBytes)
	}
	return e, err
}

// encodeAuto chooses: transparency and flat colours make a PNG, all else a JPEG.
func encodeAuto(m image.Image, o Options) (Encoded, error) {
	switch {
	case !opaque(m):
		return encodePNG(m, "PNG, because parts of it are transparent.")
	case drawn(m):
		return encodePNG(m, "PNG, because it is drawn in flat colours.")
	}
	return search(m, o, "image/jpeg", "JPEG, because it is a photograph.", jpegAt)
}

// encodeAt writes a picture at a quality and tells its luma as a reader will
// see it.
type encodeAt func(m image.Image, quality int) (data []byte, after plane, err error)

func jpegAt(m image.Image, quality int) ([]byte, plane, error) {
	var b bytes.Buffer
	if err := jpeg.Encode(&b, m, &jpeg.Options{Quality: quality}); err != nil {
		return nil, plane{}, err
	}
	back, err := jpeg.Decode(bytes.NewReader(b.Bytes()))
	if err != nil {
		return nil, plane{}, err
	}
	return b.Bytes(), luma(back), nil
}

func webpAt(m image.Image, quality int) ([]byte, plane, error) {
	var b bytes.Buffer
	if err := webp.Encode(&b, m, webp.Options{Quality: quality, Method: webp.DefaultMethod}); err != nil {
		return nil, plane{}, err
	}
	back, err := webp.Decode(bytes.NewReader(b.Bytes()))
	if err != nil {
		return nil, plane{}, err
	}
	return b.Bytes(), luma(back), nil
}

// sparse is how far apart the windows lie that a quality is judged by.
const sparse = 4

// search finds the quality: fixed, else the lowest that looks the same, else
// the highest that meets the budget.
func search(m image.Image, o Options, mediaType, why string, at encodeAt) (Encoded, error) {
	before := luma(m)
	try := func(q int) (Encoded, error) {
		data, after, err := at(m, q)
		if err != nil {
			return Encoded{}, err
		}
		return Encoded{Data: data, MediaType: mediaType, Quality: q, SSIM: ssim(before, after, sparse), Why: why}, nil
	}
	if o.Quality > 0 {
		return try(min(o.Quality, 100))
	}
	target := o.Target
	if target == 0 {
		target = SameToTheEye
	}
	best, err := bisect(try, func(e Encoded) bool { return e.SSIM >= target })
	if err != nil || o.MaxBytes == 0 || int64(len(best.Data)) <= o.MaxBytes {
		return best, err
	}
	// The first quality that is too heavy; the one before meets the budget.
	heavy, err := bisect(try, func(e Encoded) bool { return int64(len(e.Data)) > o.MaxBytes })
	if err != nil {
		return Encoded{}, err
	}
	light, err := try(max(heavy.Quality-1, lowest))
	light.Why = fmt.Sprintf("%s At quality %d it meets the budget.", why, light.Quality)
	if int64(len(light.Data)) > o.MaxBytes {
		light.Why = why
	}
	return light, err
}

// bisect returns the result at the lowest quality that enough accepts, or the
// highest quality where none is.
func bisect(try func(int) (Encoded, error), enough func(Encoded) bool) (Encoded, error) {
	lo, hi := lowest, highest
	var best Encoded
	for lo <= hi {
		q := (lo + hi) / 2
		e, err := try(q)
		if err != nil {
			return e, err
		}
		if enough(e) {
			best, hi = e, q-1
		} else {
			lo = q + 1
		}
	}
	if best.Data == nil {
		return try(highest)
	}
	return best, nil
}

// overBudget tells what was reached and what would meet the budget.
func overBudget(m image.Image, e Encoded, budget int64) string {
	size := m.Bounds()
	scale := float64(budget) / float64(len(e.Data))
	return fmt.Sprintf("%d bytes reached, %d allowed: about %d pixels of width instead of %d would meet the budget",
		len(e.Data), budget, int(float64(size.Dx())*sqrt(scale)*0.95), size.Dx())
}

// EncodeForScreen writes m for a screen that wants it soon rather than small: a
// PNG where it is drawn or transparent, else a JPEG.
func EncodeForScreen(m image.Image) ([]byte, error) {
	var b bytes.Buffer
	if !opaque(m) || drawn(m) {
		err := (&png.Encoder{CompressionLevel: png.BestSpeed}).Encode(&b, m)
		return b.Bytes(), err
	}
	err := jpeg.Encode(&b, m, &jpeg.Options{Quality: 82})
	return b.Bytes(), err
}

func encodePNG(m image.Image, why string) (Encoded, error) {
	if p := palette(m); p != nil {
		m = p
		why = fmt.Sprintf("%s Its %d colours fit a palette.", why, len(p.Palette))
	}
	var b bytes.Buffer
	err := (&png.Encoder{CompressionLevel: png.BestCompression}).Encode(&b, m)
	return Encoded{Data: b.Bytes(), MediaType: "image/png", SSIM: 1, Why: why}, err
}

func encodeWebPLossless(m image.Image, why string) (Encoded, error) {
	var b bytes.Buffer
	err := webp.Encode(&b, m, webp.Options{Lossless: true, Quality: 75, Method: webp.DefaultMethod})
	return Encoded{Data: b.Bytes(), MediaType: "image/webp", SSIM: 1, Why: why}, err
}
