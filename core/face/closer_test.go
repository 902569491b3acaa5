package face

import (
	"image"
	"image/draw"
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	scaled "golang.org/x/image/draw"

	"mivlet/core/fit"
)

// Small people in a large photo: the sample photos as they would stand in it if somebody
// had held them up at the far end of a field.
func TestSmallFacesInLargePhotos(t *testing.T) {
	t.Parallel()
	if testing.Short() {
		t.Skip("slow")
	}
	// As wide as a sample photo is within the large one, faces have about 24 pixels.
	const width = 240.0
	large, want := field(t), []image.Rectangle(nil)
	for n, faces := range inSamples {
		photo := sample(t, n+1)
		s := width / float64(photo.Rect.Dx())
		small := image.NewRGBA(image.Rect(0, 0, int(width), int(float64(photo.Rect.Dy())*s)))
		scaled.CatmullRom.Scale(small, small.Rect, photo, photo.Rect, draw.Src, nil)
		at := image.Pt(37+n%3*(large.Rect.Dx()/3), 111+n/3*(large.Rect.Dy()/2))
		draw.Draw(large, small.Rect.Add(at), small, image.Point{}, draw.Src)
		for _, f := range faces {
			want = append(want, image.Rect(int(f[0]*s), int(f[1]*s), int((f[0]+f[2])*s), int((f[1]+f[3])*s)).Add(at))
		}
	}
	hits, others := 0, 0
	for _, f := range Together(atOneLook(large), Closer(large.Rect.Max, tilesOf(large))) {
		if overAny(f.Bounds, want) {
			hits++
		} else {
			others++
		}
	}
	t.Logf("%d of 22 found, and %d that are none", hits, others)
	assert.GreaterOrEqual(t, hits, 18)
	assert.LessOrEqual(t, others, 1)
}

// field is a part of a made-up photo of grass and water, at its own pixels, with nobody in it.
func field(t *testing.T) *image.RGBA {
	src := demoPhoto(t, "DSC_0421.JPG")
	m := src.Cut(image.Rect(0, 0, 2400, 1800), fit.Size{W: 2400, H: 1800})
	r := image.NewRGBA(m.Bounds())
	draw.Draw(r, r.Rect, m, m.Bounds().Min, draw.Src)
	return r
}

// atOneLook are the faces that one look at all of a large picture finds.
func atOneLook(m *image.RGBA) []Face {
	by := float64(m.Rect.Dx()) / Widest
	all := Find(resized(m, 1/by))
	for i, f := range all {
		all[i].Bounds = image.Rect(int(float64(f.Bounds.Min.X)*by), int(float64(f.Bounds.Min.Y)*by), int(float64(f.Bounds.Max.X)*by), int(float64(f.Bounds.Max.Y)*by))
	}
	return all
}

func tilesOf(m *image.RGBA) Tile {
	return func(part image.Rectangle, size image.Point) image.Image {
		if part.Size() == size {
			return m.SubImage(part)
		}
		out := image.NewRGBA(image.Rectangle{Max: size})
		scaled.BiLinear.Scale(out, out.Rect, m, part, scaled.Src, nil)
		return out
	}
}

// overAny reports whether a box lies over one of those that are wanted, at about its size.
func overAny(b image.Rectangle, want []image.Rectangle) bool {
	size := math.Sqrt(float64(b.Dx() * b.Dy()))
	for _, w := range want {
		side := math.Sqrt(float64(w.Dx() * w.Dy()))
		if w.Min.Add(w.Max).Div(2).In(b) && size > side/2 && size < 2*side {
			return true
		}
	}
	return false
}

// A picture that Find enlarges needs no closer look, and a hint at its rim ends.
func TestCloserEnds(t *testing.T) {
	t.Parallel()
	assert.Empty(t, Closer(image.Pt(Seen, Seen), func(image.Rectangle, image.Point) image.Image {
		require.Fail(t, "no tile is asked for")
		return nil
	}))
	photo := sample(t, 6)
	rim := image.NewRGBA(image.Rect(0, 0, 2100, 160)) // faces that a tile cuts at its rim
	for x := 0; x < 2100; x += 300 {
		scaled.CatmullRom.Scale(rim, image.Rect(x, -60, x+300, 140), photo, photo.Rect, draw.Src, nil)
	}
	assert.NotEmpty(t, Closer(rim.Rect.Max, tilesOf(rim)))
}

// A face that is known stays as it is, so that what was said of it stays, too.
func TestTogetherKeepsWhatIsKnown(t *testing.T) {
	t.Parallel()
	known := []Face{{image.Rect(100, 100, 160, 170), 0.9}}
	got := Together(known, []Face{{image.Rect(104, 98, 158, 175), 0.99}, {image.Rect(10, 10, 40, 45), 0.8}})
	assert.Equal(t, []Face{{image.Rect(10, 10, 40, 45), 0.8}, known[0]}, got)
}
