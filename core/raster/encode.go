package raster

import (
	"bytes"
	"fmt"
	"image"
	"image/png"
	"math"

	"github.com/gen2brain/webp"

	"mivlet/core/facts"
	"mivlet/core/jpegenc"
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
	AVIF Format = "avif"
)

// SameToTheEye is the structural similarity from which a cut is taken to look
// the same after encoding as before. On photographs it leads to a JPEG quality
// of 70 to 85: medium quality (common practice).
const SameToTheEye = 0.96

// Options say how a cut is written. The zero value chooses the format, and the
// lowest quality that still looks the same.
type Options struct {
	Format   Format
	Quality  int     // 1 to 100, fixed; 0 looks for one
	MaxBytes int64   // budget; 0 for none
	Target   float64 // structural similarity to reach; 0 for SameToTheEye
	// Allowed are the formats that Auto may choose from; empty for JPEG and PNG. One that
	// cannot hold the picture is not taken for that.
	Allowed []Format

	because string // why the format was chosen, where another size of the picture chose it
}

// Encoded is a finished file in memory, without any metadata.
type Encoded struct {
	Data      []byte
	MediaType string
	Format    Format
	Quality   int     // 0 where the format has none
	SSIM      float64 // of the luma before and after; 1 where nothing is lost
	Why       string  // why this format and quality, in one sentence
	// OverBudget tells what was reached where the budget could not be met, and
	// what would meet it; empty otherwise.
	OverBudget string
	Tried      []Tried // what the format was chosen from; one or none where there was no choice

	because string  // why this format
	target  float64 // that the choice of the format asked for
}

// Extension returns the extension that is true to the content.
func (e Encoded) Extension() string { return facts.Extension(e.MediaType) }

// Encode writes m as o says.
func Encode(m image.Image, o Options) (Encoded, error) {
	var e Encoded
	var err error
	why := o.because
	if why == "" {
		why = name(o.Format) + ", as asked."
	}
	switch o.Format {
	case Auto, "":
		e, err = encodeAuto(m, o)
	case JPEG:
		if m = withoutUnseen(m); !opaque(m) && o.because != "" { // chosen for another size
			e, err = encodeAuto(m, o)
			break
		}
		if !opaque(m) {
			return e, fmt.Errorf("a JPEG has no transparency, and parts of this picture are transparent")
		}
		e, err = encodeAs(JPEG, m, o, why)
	case WebP:
		if drawn(m) && o.Quality == 0 && o.because == "" {
			why = "WebP without loss, because it is drawn in flat colours."
		}
		e, err = encodeAs(WebP, m, o, why)
	case PNG, GIF, AVIF:
		e, err = encodeAs(o.Format, m, o, why)
	default:
		return e, fmt.Errorf("a cut is written as auto, jpeg, png, gif, webp or avif, not %q", o.Format)
	}
	if err == nil && o.MaxBytes > 0 && int64(len(e.Data)) > o.MaxBytes {
		e.OverBudget = overBudget(m, e, o.MaxBytes)
	}
	return e, err
}

// writer writes a picture at a quality.
type writer struct {
	mediaType string
	often     [2]int // qualities that most photographs lie between
	write     func(m image.Image, quality int) ([]byte, error)
	// trial returns what gives the luma of a picture as it is after writing and reading it.
	trial func(m image.Image, before plane) func(quality int) (plane, error)
	// sure is trial for sure, where that one is quick rather than exact; nil where it is exact.
	sure func(m image.Image, before plane) func(quality int) (plane, error)
}

var jpegWriter = writer{"image/jpeg", often, func(m image.Image, quality int) ([]byte, error) {
	return jpegenc.EncodeSmall(m, quality, colourOf(m))
}, func(_ image.Image, before plane) func(int) (plane, error) {
	// Its luma is written the same with colour beside it.
	trial := jpegenc.NewTrial(before.grey())
	return func(q int) (plane, error) { return plane{before.w, before.h, trial.At(q)}, nil }
}, nil}

var webpWriter = webpBy(webp.DefaultMethod)

// webpBy writes WebP with as much effort as a method of libwebp takes.
func webpBy(method int) writer {
	write := func(m image.Image, quality int) ([]byte, error) {
		var b bytes.Buffer
		err := webp.Encode(&b, m, webp.Options{Quality: quality, Method: method})
		return b.Bytes(), err
	}
	return writer{"image/webp", often, write, func(m image.Image, _ plane) func(int) (plane, error) {
		return func(q int) (plane, error) {
			data, err := write(m, q)
			if err != nil {
				return plane{}, err
			}
			back, err := webp.Decode(bytes.NewReader(data))
			if err != nil {
				return plane{}, err
			}
			if m, ok := back.(*image.NYCbCrA); ok {
				fullRange(&m.YCbCr)
			}
			return luma(back), nil
		}
	}, nil}
}

// sparse is how far apart the windows lie that a quality is judged by.
const sparse = 5

// search finds the quality: fixed, else the lowest that looks the same, else
// the highest that meets the budget. The likeness is judged on a sample of the
// picture, the bytes on the whole.
func search(m image.Image, o Options, w writer, why string) (Encoded, error) {
	part, each := sample(m)
	before := luma(part)
	after, judged := w.trial(part, before), newJudge(before, sparse, each)
	target := o.target()
	whole := remembered(func(q int) ([]byte, error) { return w.write(m, q) })
	likeBy := func(after func(int) (plane, error)) func(int) (float64, error) {
		return remembered(func(q int) (float64, error) {
			then, err := after(q)
			if err != nil {
				return 0, err
			}
			return judged.of(then), nil
		})
	}
	like := likeBy(after)
	e := Encoded{MediaType: w.mediaType, Quality: min(o.Quality, 100), Why: why}
	var err error
	if e.Quality == 0 {
		e.Quality, err = lowestThat(decibels(target), w.often, func(q int) (float64, error) {
			v, err := like(q)
			return decibels(v), err
		})
		if err != nil {
			return e, err
		}
	}
	if w.sure != nil {
		like = likeBy(w.sure(part, before))
		for o.Quality == 0 && e.Quality < highest {
			if v, err := like(e.Quality); err != nil || v >= target {
				break
			}
			e.Quality++
		}
	}
	if e.Data, err = whole(e.Quality); err != nil {
		return e, err
	}
	if o.Quality == 0 && o.MaxBytes > 0 && int64(len(e.Data)) > o.MaxBytes {
		// The first quality that is too heavy; the one before meets the budget.
		heavy, err := lowestThat(math.Log(float64(o.MaxBytes)+0.5), w.often, func(q int) (float64, error) {
			data, err := whole(q)
			return math.Log(float64(len(data))), err
		})
		if err != nil {
			return e, err
		}
		e.Quality = max(heavy-1, lowest)
		if e.Data, err = whole(e.Quality); err != nil {
			return e, err
		}
		if int64(len(e.Data)) <= o.MaxBytes {
			e.Why = fmt.Sprintf("%s At quality %d it meets the budget.", why, e.Quality)
		}
	}
	e.SSIM, err = like(e.Quality)
	return e, err
}

// overBudget tells what was reached and what would meet the budget.
func overBudget(m image.Image, e Encoded, budget int64) string {
	size := m.Bounds()
	scale := float64(budget) / float64(len(e.Data))
	return fmt.Sprintf("%d bytes reached, %d allowed: about %d pixels of width instead of %d would meet the budget",
		len(e.Data), budget, int(float64(size.Dx())*math.Sqrt(scale)*0.95), size.Dx())
}

// EncodeForScreen writes m for a screen that wants it soon rather than small: a
// PNG where it is drawn or transparent, else a JPEG.
func EncodeForScreen(m image.Image) ([]byte, error) { return encodeScreen(m, !opaque(m) || drawn(m)) }

// EncodeCopy writes a working copy for the screen: a JPEG where the original is of a type
// that loses something and has no transparency, else a PNG. What it shows does not choose.
func EncodeCopy(m image.Image, original facts.Facts) ([]byte, error) {
	return encodeScreen(m, !lossy(original.MediaType) || original.Alpha)
}

func encodeScreen(m image.Image, asPNG bool) ([]byte, error) {
	if asPNG {
		var b bytes.Buffer
		err := (&png.Encoder{CompressionLevel: png.BestSpeed}).Encode(&b, m)
		return b.Bytes(), err
	}
	return jpegenc.Encode(m, 82)
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
	data, err := losslessWebP(m, webp.DefaultMethod)
	return Encoded{Data: data, MediaType: "image/webp", SSIM: 1, Why: why}, err
}

// losslessWebP writes WebP without loss, with as much effort as a method of libwebp takes.
func losslessWebP(m image.Image, method int) ([]byte, error) {
	var b bytes.Buffer
	err := webp.Encode(&b, m, webp.Options{Lossless: true, Quality: 75, Method: method})
	return b.Bytes(), err
}
