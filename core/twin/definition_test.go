package twin_test

import (
	"image"
	"image/color"
	"image/draw"
	"math"
	"math/bits"
	"math/rand/v2"
	"sort"
	"testing"

	"github.com/stretchr/testify/assert"

	"mivlet/core/twin"
)

// defined is the hash of a part by its definition: the luma of ITU-R BT.601 on a grid of 32 by
// 32, a discrete cosine transform of type II (Ahmed, Natarajan and Rao, 1974, memory) taken row
// by row and then column by column, and a bit for each of the lowest 63 frequencies that is
// above their median.
func defined(m image.Image, r image.Rectangle) uint64 {
	var cells [32][32][]float64
	for y := r.Min.Y; y < r.Max.Y; y++ {
		for x := r.Min.X; x < r.Max.X; x++ {
			c := color.NRGBAModel.Convert(m.At(x, y)).(color.NRGBA)
			row, column := int(float64(y-r.Min.Y)/float64(r.Dy())*32), int(float64(x-r.Min.X)/float64(r.Dx())*32)
			cells[row][column] = append(cells[row][column], 0.299*float64(c.R)+0.587*float64(c.G)+0.114*float64(c.B))
		}
	}
	transform := func(in [32]float64) (out [32]float64) {
		for k := range out {
			for n, v := range in {
				out[k] += v * math.Cos(math.Pi/32*(float64(n)+0.5)*float64(k))
			}
		}
		return out
	}
	var rows, all [32][32]float64
	for y := range cells {
		var line [32]float64
		for x, values := range cells[y] {
			for _, v := range values {
				line[x] += v / float64(len(values))
			}
		}
		rows[y] = transform(line)
	}
	for u := range 32 {
		var column [32]float64
		for y := range rows {
			column[y] = rows[y][u]
		}
		for v, f := range transform(column) {
			all[v][u] = f
		}
	}
	var low []float64
	for i := 1; i < 64; i++ {
		low = append(low, all[i/8][i%8])
	}
	sorted := append([]float64{}, low...)
	sort.Float64s(sorted)
	var h uint64
	for i, f := range low {
		if f > sorted[31] {
			h |= 1 << (i + 1)
		}
	}
	return h
}

// scene is a picture of soft shapes at an odd place, of some size.
func scene(at image.Point, w, h int, seed uint64) *image.RGBA {
	r := rand.New(rand.NewPCG(seed, 7))
	m := image.NewRGBA(image.Rect(at.X, at.Y, at.X+w, at.Y+h))
	var waves [6][4]float64
	for i := range waves {
		waves[i] = [4]float64{r.Float64() * 6, r.Float64() * 6, r.Float64() * 6, r.Float64() * 40}
	}
	for y := range h {
		for x := range w {
			v := [3]float64{110, 120, 130}
			for i, k := range waves {
				v[i%3] += k[3] * math.Sin(k[0]*math.Pi*float64(x)/float64(w)+k[1]*math.Pi*float64(y)/float64(h)+k[2])
			}
			m.SetRGBA(at.X+x, at.Y+y, color.RGBA{uint8(v[0]), uint8(v[1]), uint8(v[2]), 255})
		}
	}
	return m
}

// The three hashes of a picture are those of all of it, and of the middles that leave 3.5 and
// 7 in 100 out at each edge; the kind of image and where it begins do not matter.
func TestHashesByTheirDefinition(t *testing.T) {
	t.Parallel()
	for seed, size := range []image.Point{{96, 64}, {64, 96}, {333, 200}, {160, 160}, {100, 401}} {
		m := scene(image.Pt(3, -5), size.X, size.Y, uint64(seed))
		var want twin.Hash
		for i, out := range []float64{0, 0.035, 0.07} {
			dx, dy := int(float64(size.X)*out+1e-9), int(float64(size.Y)*out+1e-9)
			want[i] = defined(m, image.Rect(m.Rect.Min.X+dx, m.Rect.Min.Y+dy, m.Rect.Max.X-dx, m.Rect.Max.Y-dy))
		}
		got := twin.Of(m)
		for i := range want {
			assert.LessOrEqual(t, bits.OnesCount64(want[i]^got[i]), 0, "%v, part %d: %064b instead of %064b", size, i, got[i], want[i])
		}
		other := image.NewNRGBA(m.Rect)
		draw.Draw(other, other.Rect, m, m.Rect.Min, draw.Src)
		assert.Equal(t, got, twin.Of(other), "%v as NRGBA", size)
	}
}

// Distance is the least of the whole of one against any part of the other, and of like parts.
func TestDistanceByHand(t *testing.T) {
	t.Parallel()
	far := ^uint64(0)
	for _, one := range []struct {
		a, b twin.Hash
		want int
	}{
		{twin.Hash{0, 0, 0}, twin.Hash{0, 0, 0}, 0},
		{twin.Hash{0, 0, 0}, twin.Hash{far, far, far}, 64},
		{twin.Hash{7, far, far}, twin.Hash{0, 0, 0}, 3},
		{twin.Hash{0b1011, far, far}, twin.Hash{far << 4, 0b1111, far << 5}, 1},     // the whole in a middle
		{twin.Hash{far << 9, 0b111, far << 9}, twin.Hash{0b110, far >> 40, far}, 1}, // a middle in the whole
		{twin.Hash{far << 32, 0b1, far << 32}, twin.Hash{far >> 32, 0b11, far}, 1},  // like middles
		{twin.Hash{far << 20, 0, 0b1}, twin.Hash{0xfff, far, 0b1}, 0},               // the smallest ones
		{twin.Hash{0xffff << 40, 0, far}, twin.Hash{0xffff, far, 0}, 16},            // unlike middles do not count
	} {
		assert.Equal(t, one.want, one.a.Distance(one.b), "%x %x", one.a, one.b)
		assert.Equal(t, one.want, one.b.Distance(one.a), "it is the same both ways: %x %x", one.a, one.b)
	}
	assert.False(t, twin.Hash{1, 0, 0}.Flat())
	assert.True(t, twin.Hash{0, 5, 5}.Flat())
}

// What is smaller than the grid, or changes by less than one step of light, gives something
// that can be compared, or nothing; it never fails.
func TestSmallAndNearlyFlat(t *testing.T) {
	t.Parallel()
	for _, size := range []image.Point{{2, 2}, {3, 40}, {40, 3}, {31, 31}} {
		assert.False(t, twin.Of(scene(image.Pt(0, 0), size.X, size.Y, 4)).Flat(), "%v", size)
	}
	for _, size := range []image.Point{{1, 40}, {40, 1}, {0, 0}} {
		assert.True(t, twin.Of(scene(image.Pt(0, 0), size.X, size.Y, 4)).Flat(), "%v", size)
	}
	m := image.NewGray(image.Rect(0, 0, 64, 64))
	for i := range m.Pix {
		m.Pix[i] = 90
	}
	assert.True(t, twin.Of(m).Flat())
	m.Pix[64*20+20] = 190
	assert.False(t, twin.Of(m).Flat())
}
