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

// Plain Go works out what the registers do, for every number of pixels at the end of a row.
func TestPlainGoAgrees(t *testing.T) {
	t.Parallel()
	if !wide {
		t.Skip("this processor has no wide registers: everything is plain Go")
	}
	dice := rand.New(rand.NewPCG(1, 2))
	values := func(n int) []float32 {
		v := make([]float32, n)
		for i := range v {
			v[i] = float32(dice.NormFloat64())
		}
		return v
	}
	const taps = 27
	l := layer{in: 3, out: 32, across: values(taps * 32), bias: values(32)}
	for w := 1; w < 12; w++ {
		from := values(w * taps)
		made, plain := make([]float32, w*l.out), make([]float32, 2*l.out)
		l.mix(made, from, w)
		for x := range w {
			l.mixTwo(plain, from[x*taps:][:taps], from[x*taps:][:taps])
			for c := range l.out {
				require.InDelta(t, plain[c], made[x*l.out+c], 1e-4, "pixel %d of %d", x, w)
			}
		}
	}
	for _, ch := range []int{8, 16, 24} {
		src, weights := values(5*ch), values(ch)
		dst := values(5 * ch)
		want := append([]float32(nil), dst...)
		spread(dst, src, weights)
		for i := range want {
			require.InDelta(t, want[i]+src[i]*weights[i%ch], dst[i], 1e-5)
		}
		largestOf(dst, src)
		for i := range dst {
			require.GreaterOrEqual(t, dst[i], src[i])
		}
	}
}

// What a layer mixes and spreads is what its definition says, for numbers of pixels and channels that fill
// registers and that do not: one sum for each output, over all that was gathered.
func TestMixingIsWhatItSays(t *testing.T) {
	t.Parallel()
	dice := rand.New(rand.NewPCG(5, 6))
	values := func(n int) []float32 {
		v := make([]float32, n)
		for i := range v {
			v[i] = float32(dice.NormFloat64())
		}
		return v
	}
	for _, taps := range []int{1, 3, 27} {
		l := layer{out: 2 * lanes, across: values(taps * 2 * lanes), bias: values(2 * lanes)}
		want := func(from []float32, o int) float32 {
			sum := float64(l.bias[o])
			for i, v := range from {
				sum += float64(v) * float64(l.across[o/lanes*lanes*taps+i*lanes+o%lanes])
			}
			return float32(sum)
		}
		p, q, both := values(taps), values(taps), make([]float32, 2*l.out)
		l.mixTwo(both, p, q)
		for o := range l.out {
			require.InDelta(t, want(p, o), both[o], 1e-4)
			require.InDelta(t, want(q, o), both[l.out+o], 1e-4)
		}
		for w := 1; w < 7; w++ {
			from, made := values(w*taps), make([]float32, w*l.out)
			l.mix(made, from, w)
			for x := range w {
				for o := range l.out {
					require.InDelta(t, want(from[x*taps:][:taps], o), made[x*l.out+o], 1e-4, "pixel %d of %d", x, w)
				}
			}
		}
	}
	for _, ch := range []int{1, 3, 7, 8} {
		for w := 1; w < 4; w++ {
			src, weights, dst := values(w*ch), values(ch), values(w*ch)
			before := append([]float32(nil), dst...)
			spread(dst, src, weights)
			larger := append([]float32(nil), before...)
			largestOf(larger, src)
			for i := range dst {
				require.InDelta(t, before[i]+src[i]*weights[i%ch], dst[i], 1e-5)
				require.Equal(t, max(before[i], src[i]), larger[i])
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
