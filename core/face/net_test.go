package face

import (
	"bytes"
	"encoding/json"
	"image"
	"math/rand/v2"
	"os"
	"path/filepath"
	"strconv"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	scaled "golang.org/x/image/draw"

	"mivlet/internal/reference"
)

// One look finds what the package finds that the weights come from: boxes within two
// pixels, and as sure of them to a hundredth.
func TestOneLookAgainstThePackage(t *testing.T) {
	t.Parallel()
	if testing.Short() {
		t.Skip("slow")
	}
	const side = 416
	for _, n := range []int{6} { // four faces
		m := image.NewRGBA(image.Rect(0, 0, side, side))
		photo := sample(t, n)
		scaled.ApproxBiLinear.Scale(m, m.Rect, photo, photo.Bounds(), scaled.Src, nil)
		var raw bytes.Buffer
		for i := 0; i < len(m.Pix); i += 4 {
			raw.Write(m.Pix[i : i+3])
		}
		name := filepath.Join(t.TempDir(), "pixels")
		require.NoError(t, os.WriteFile(name, raw.Bytes(), 0o600))
		var want [][5]float64
		require.NoError(t, json.Unmarshal([]byte(reference.Output(t, "node", "reference/find.mjs", name, strconv.Itoa(side))), &want))
		got := look(m, 0.2)
		require.Len(t, got, len(want), "sample %d", n)
		require.NotEmpty(t, want)
		for i, w := range want {
			assert.InDelta(t, w[0], got[i].score, 0.01)
			assert.InDelta(t, w[1], got[i].x0, 2)
			assert.InDelta(t, w[2], got[i].y0, 2)
			assert.InDelta(t, w[1]+w[3], got[i].x1, 2)
			assert.InDelta(t, w[2]+w[4], got[i].y1, 2)
		}
	}
}

// values are some by chance.
func values(dice *rand.Rand, n int) []float32 {
	v := make([]float32, n)
	for i := range v {
		v[i] = float32(dice.NormFloat64())
	}
	return v
}

// What a layer mixes is what its definition says: one sum for each output, over all that was gathered,
// in one run or several, for numbers of pixels that fill registers and that do not. It is so in plain Go,
// and with registers of eight and of sixteen values, which give the same to the last bit.
func TestMixingIsWhatItSays(t *testing.T) {
	defer func(a, b bool) { wide, wider = a, b }(wide, wider)
	hasWide, hasWider := wide, wider
	dice := rand.New(rand.NewPCG(5, 6))
	for _, g := range []gathered{{step: 1, run: 1, runs: 1}, {step: 5, run: 5, runs: 1}, {step: 3, run: 9, runs: 3, next: 80}, {step: 32, run: 32, runs: 1}} {
		taps := g.run * g.runs
		l := layer{out: 2 * lanes, across: values(dice, taps*2*lanes), bias: values(dice, 2*lanes)}
		for w := 1; w < 23; w++ {
			g.v = values(dice, w*g.step+g.run+(g.runs-1)*g.next)
			plain, eight, sixteen := make([]float32, w*l.out), make([]float32, w*l.out), make([]float32, w*l.out)
			wide, wider = false, false
			l.mix(plain, g, w)
			for x := range w {
				from := g.of(nil, x)
				require.Len(t, from, taps)
				for o := range l.out {
					sum := float64(l.bias[o])
					for i, v := range from {
						sum += float64(v) * float64(l.across[o/lanes*lanes*taps+i*lanes+o%lanes])
					}
					require.InDelta(t, sum, plain[x*l.out+o], 1e-4, "pixel %d of %d", x, w)
				}
			}
			if wide = hasWide; !wide {
				continue
			}
			l.mix(eight, g, w)
			require.InDeltaSlice(t, plain, eight, 1e-4, "%d pixels", w)
			if wider = hasWider; wider {
				l.mix(sixteen, g, w)
				require.Equal(t, eight, sixteen, "%d pixels", w)
			}
		}
	}
}

// Channels are convolved each alone, with nothing around the picture, in plain Go and in registers.
func TestChannelsAreConvolvedAlone(t *testing.T) {
	defer func(a bool) { wide = a }(wide)
	has := wide
	dice := rand.New(rand.NewPCG(7, 8))
	for _, ch := range []int{1, 3, 8, 16, 24} {
		for w := 1; w < 6; w++ {
			for h := 1; h < 5; h++ {
				in := newPlane(w, h, ch, 1)
				l := layer{in: ch, deep: values(dice, 9*ch)}
				for y := range h {
					copy(in.row(y), values(dice, w*ch))
				}
				for y := range h {
					for _, wide = range []bool{false, has} {
						got := values(dice, w*ch)
						l.channels(got, in, y)
						for i := range got {
							x, c, sum := i/ch, i%ch, 0.0
							for dy := -1; dy <= 1; dy++ {
								for dx := -1; dx <= 1; dx++ {
									if x+dx >= 0 && x+dx < w && y+dy >= 0 && y+dy < h {
										sum += float64(in.row(y + dy)[(x+dx)*ch+c]) * float64(l.deep[(3*(dy+1)+dx+1)*ch+c])
									}
								}
							}
							require.InDelta(t, sum, got[i], 1e-5, "%d × %d of %d channels, at %d, %d", w, h, ch, x, y)
						}
					}
				}
			}
		}
	}
}

// The largest of neighbours, and what is rectified, are what their definitions say, for every
// number of pixels in a row.
func TestPoolingIsWhatItSays(t *testing.T) {
	t.Parallel()
	dice := rand.New(rand.NewPCG(3, 4))
	for _, step := range []int{1, 2} {
		for w := 1; w < 12; w++ {
			for _, ch := range []int{3, 8, 16} {
				l := layer{out: ch}
				n := (w + step - 1) / step
				made := [2][]float32{make([]float32, w*ch), make([]float32, w*ch)}
				want, got := make([]float32, n*ch), make([]float32, n*ch)
				for i := range want {
					want[i] = -99
				}
				for _, row := range made {
					for i := range row {
						row[i] = float32(dice.NormFloat64())
						for x := range n { // that the value is one of two neighbours of
							if at := i / ch; at == x*step || at == x*step+1 {
								want[x*ch+i%ch] = max(want[x*ch+i%ch], row[i])
							}
						}
					}
				}
				l.largest(got, made[0], w, step, true)
				l.largest(got, made[1], w, step, false)
				require.Equal(t, want, got, "%d pixels of %d channels, every %d", w, ch, step)
				rectify(got)
				for i, v := range want {
					require.InDelta(t, max(v, v/10), got[i], 1e-6)
				}
			}
		}
	}
}

func TestWeightsThatAreNone(t *testing.T) {
	t.Parallel()
	_, err := unpack([]byte(`[{"name":"a","shape":[2,2],"scale":1,"min":0}]`), make([]byte, 3))
	require.ErrorContains(t, err, "wants 4 weights, and 3 are left")
	_, err = unpack([]byte(`[{"name":"a","shape":[2],"scale":0.5,"min":-1}]`), make([]byte, 3))
	require.ErrorContains(t, err, "1 weights belong to nothing")
	_, err = unpack([]byte(`{`), nil)
	require.Error(t, err)
	got, err := unpack([]byte(`[{"name":"a","shape":[2],"scale":0.5,"min":-1}]`), []byte{0, 4})
	require.NoError(t, err)
	assert.Equal(t, []float32{-1, 1}, got["a"])
}
