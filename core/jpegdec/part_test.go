package jpegdec_test

import (
	"bytes"
	"image"
	"math/rand/v2"
	"os"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/fit"
	"mivlet/core/jpegdec"
)

// A part has the pixels that the whole has there, in every kind of file and at every scale.
func TestAPartIsWhatTheWholeHasThere(t *testing.T) {
	r := rand.New(rand.NewPCG(8, 15))
	for kind, args := range kinds {
		name := written(t, scene(203, 117), args...)
		data, err := os.ReadFile(name)
		require.NoError(t, err)
		for _, n := range scales {
			wanted := fit.Size{W: 203 * n / 16, H: 1}
			whole, err := jpegdec.Decode(bytes.NewReader(data), wanted)
			require.NoError(t, err)
			for range 12 {
				part := image.Rect(r.IntN(203), r.IntN(117), 1+r.IntN(203), 1+r.IntN(117)) // in any order
				if part.Empty() {
					continue
				}
				got, err := jpegdec.DecodePart(bytes.NewReader(data), wanted, part)
				require.NoError(t, err, "%s, %v", kind, part)
				due := image.Rect(part.Min.X*n/8, part.Min.Y*n/8, (part.Max.X*n+7)/8, (part.Max.Y*n+7)/8)
				b := got.Planes.Bounds()
				require.True(t, due.In(b), "%s: %v of %v at %d", kind, due, b, n)
				assert.Zero(t, b.Min.X%2+b.Min.Y%2, "it begins with a pair")
				assert.LessOrEqual(t, b.Dx(), due.Dx()+2*2*n, "no more than the units that hold it, and one for a pair")
				for y := b.Min.Y; y < b.Max.Y; y++ {
					for x := b.Min.X; x < b.Max.X; x++ {
						require.Equal(t, whole.Planes.At(x, y), got.Planes.At(x, y), "%s: %d, %d of %v at %d", kind, x, y, part, n)
					}
				}
			}
		}
	}
}

// What lies below a part is not read: its damage is not met.
func TestNothingBelowAPartIsRead(t *testing.T) {
	for _, kind := range []string{"4:2:0", "restarts by rows", "progressive"} {
		data, err := os.ReadFile(written(t, scene(640, 480), kinds[kind]...))
		require.NoError(t, err)
		top, low := image.Rect(0, 0, 640, 40), image.Rect(0, 400, 640, 480)
		want, err := jpegdec.DecodePart(bytes.NewReader(data), fit.Size{}, top)
		require.NoError(t, err)
		assert.Less(t, want.Planes.Bounds().Dy(), 60)
		end := len(data) - 400
		if kind == "progressive" { // where each scan has its own lower rows: the last one's
			end = len(data) - 60
		}
		for i := end; i < len(data)-2; i++ {
			data[i] = 0
		}
		got, err := jpegdec.DecodePart(bytes.NewReader(data), fit.Size{}, top)
		require.NoError(t, err, kind)
		assert.Equal(t, want.Planes, got.Planes, kind)
		_, err = jpegdec.DecodePart(bytes.NewReader(data), fit.Size{}, low)
		assert.Error(t, err, kind)
	}
}
