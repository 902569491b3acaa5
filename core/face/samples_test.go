package face

import (
	"fmt"
	"image"
	"image/draw"
	"image/jpeg"
	"math"
	"math/rand/v2"
	"os"
	"sync"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	scaled "golang.org/x/image/draw"
	"golang.org/x/image/math/f64"

	"mivlet/core/facts"
	"mivlet/core/fit"
	"mivlet/core/raster"
)

// sample is one of the six sample photos that the package of the weights ships: they are
// fetched with it when tests run. Each is decoded once: nobody may write on it.
func sample(t testing.TB, n int) *image.RGBA {
	t.Helper()
	decoded.Lock()
	defer decoded.Unlock()
	if m := decoded.samples[n]; m != nil {
		return m
	}
	f, err := os.Open(fmt.Sprintf("reference/node_modules/@vladmandic/face-api/demo/sample%d.jpg", n))
	require.NoError(t, err, "scripts/test fetches the sample photos")
	defer f.Close()
	m, err := jpeg.Decode(f)
	require.NoError(t, err)
	r := image.NewRGBA(m.Bounds())
	draw.Draw(r, r.Rect, m, image.Point{}, draw.Src)
	decoded.samples[n] = r
	return r
}

var decoded = struct {
	sync.Mutex
	samples map[int]*image.RGBA
}{samples: map[int]*image.RGBA{}}

// inSamples are the 22 faces of the six sample photos: left, top, width and height, as
// the larger net of the same package has them, and counted.
var inSamples = [][][4]float64{
	{{414, 354, 177, 239}, {838, 420, 186, 227}, {1476, 199, 203, 240}},
	{{1447, 153, 193, 242}, {901, 219, 151, 233}, {360, 125, 152, 259}},
	{{585, 329, 199, 271}, {1514, 291, 169, 279}, {1075, 214, 219, 299}},
	{{664, 52, 186, 257}, {257, 185, 161, 245}, {988, 180, 169, 227}, {1276, 143, 145, 243}},
	{{787, 108, 156, 211}, {1112, 198, 158, 236}, {1406, 389, 165, 271}, {597, 414, 166, 248}, {376, 859, 172, 300}},
	{{233, 545, 256, 230}, {662, 390, 205, 245}, {1094, 347, 313, 272}, {1458, 334, 263, 238}},
}

// tried is how many of the 22 faces are found in the samples, made another size and
// turned, and how much else is taken for one.
func tried(t *testing.T, width, degrees float64) (hits, others int) {
	for n, faces := range inSamples {
		photo := sample(t, n+1)
		w, h := float64(photo.Rect.Dx()), float64(photo.Rect.Dy())
		s := width / w
		sin, cos := math.Sincos(degrees * math.Pi / 180)
		// The photo turned about its middle, on a ground that holds all of it.
		ow, oh := s*(w*math.Abs(cos)+h*math.Abs(sin)), s*(w*math.Abs(sin)+h*math.Abs(cos))
		to := f64.Aff3{s * cos, -s * sin, ow/2 - s*(cos*w-sin*h)/2, s * sin, s * cos, oh/2 - s*(sin*w+cos*h)/2}
		m := image.NewRGBA(image.Rect(0, 0, int(ow), int(oh)))
		scaled.ApproxBiLinear.Transform(m, to, photo, photo.Rect, draw.Src, nil)
		taken := map[int]bool{}
		for _, f := range Find(m) {
			hit := -1
			for i, want := range faces {
				x, y := want[0]+want[2]/2, want[1]+want[3]/2
				middle := image.Pt(int(to[0]*x+to[1]*y+to[2]), int(to[3]*x+to[4]*y+to[5]))
				side := s * math.Sqrt(want[2]*want[3])
				if size := math.Sqrt(float64(f.Bounds.Dx() * f.Bounds.Dy())); middle.In(f.Bounds) && size > side/2 && size < 2*side {
					hit = i
				}
			}
			if hit < 0 || taken[hit] {
				others++
				continue
			}
			taken[hit] = true
			hits++
		}
	}
	return hits, others
}

func TestFacesInPhotos(t *testing.T) {
	t.Parallel()
	if testing.Short() {
		t.Skip("slow")
	}
	for _, c := range []struct {
		width, degrees float64
		hits, others   int
	}{
		{1920, 0, 20, 2}, {600, 0, 20, 2}, // as they come, and from a page
		{1200, -30, 20, 2}, {1200, 15, 20, 2},
		{240, 0, 17, 2}, // faces of about 24 pixels
	} {
		t.Run(fmt.Sprintf("%.0f px, %.0f°", c.width, c.degrees), func(t *testing.T) {
			if testing.Short() && c.width != 600 {
				t.Skip("one size is enough here")
			}
			t.Parallel()
			hits, others := tried(t, c.width, c.degrees)
			t.Logf("%d of 22 found, and %d that are none", hits, others)
			assert.GreaterOrEqual(t, hits, c.hits)
			assert.LessOrEqual(t, others, c.others)
		})
	}
}

func TestWhereThereIsNobody(t *testing.T) {
	t.Parallel()
	assert.Empty(t, Find(image.NewRGBA(image.Rectangle{})))
	assert.Empty(t, Find(image.NewGray(image.Rect(5, 5, 6, 6))))
	dice := rand.New(rand.NewPCG(4, 4))
	noise, slope := image.NewRGBA(image.Rect(0, 0, 900, 700)), image.NewRGBA(image.Rect(0, 0, 900, 700))
	for i := range noise.Pix {
		noise.Pix[i], slope.Pix[i] = uint8(dice.IntN(256)), uint8(i%3600/15)
	}
	assert.Empty(t, Find(noise))
	assert.Empty(t, Find(slope))
}

// A part of a picture has its own coordinates.
func TestFacesOfAPart(t *testing.T) {
	t.Parallel()
	photo := sample(t, 6)
	part := photo.SubImage(image.Rect(900, 200, 1920, 1000))
	whole := Find(photo)
	require.Len(t, whole, 4)
	got := Find(part)
	require.Len(t, got, 2)
	for i, f := range got {
		middle := f.Bounds.Min.Add(f.Bounds.Max).Div(2)
		assert.True(t, middle.In(whole[2+i].Bounds), "%v lies in %v", middle, whole[2+i].Bounds)
	}
}

// The toy people of the demo are found where they look at the camera.
func TestToyPeople(t *testing.T) {
	t.Parallel()
	if testing.Short() {
		t.Skip("slow")
	}
	for name, least := range map[string]int{"IMG_2101.JPG": 2, "DSC_0430.JPG": 1, "IMG_2140.JPG": 2} {
		src := demoPhoto(t, name)
		size := fit.Inside(src.Upright(), fit.Size{W: Widest, H: Widest})
		if size.W > src.Upright().W {
			size = src.Upright()
		}
		assert.GreaterOrEqual(t, len(Find(src.Glance(size).Image())), least, name)
	}
}

// demoPhoto is a photo of the demo, decoded.
func demoPhoto(t *testing.T, name string) *raster.Source {
	t.Helper()
	f, err := os.Open("../../demo/pictures/" + name)
	require.NoError(t, err)
	defer f.Close()
	known, err := facts.Read(f)
	require.NoError(t, err)
	src, err := raster.Decode(f, known, raster.Limits{})
	require.NoError(t, err)
	return src
}
