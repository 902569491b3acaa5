package raster

import (
	"image"
	"math/rand/v2"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
)

// What the processor works out eight at a time is what it works out one by one, to the bit.
func TestWideIsPlain(tt *testing.T) {
	if !wide {
		tt.Skip("this processor has no wide registers: plain is all there is")
	}
	r := rand.New(rand.NewPCG(1, 2))
	random := func(n int) []float32 {
		v := make([]float32, n+1)
		for i := range v {
			v[i] = r.Float32()*3 - 1
		}
		return v[:n]
	}
	for _, c := range []struct{ from, to int }{{1, 1}, {2, 1}, {9, 9}, {37, 11}, {640, 300}, {641, 427}, {1023, 1000}} {
		cols := tapsFor(side{0, float64(c.from), c.from, 1}, c.to, lobes)
		for _, ch := range []int{3, 4} {
			src := random(c.from * ch)
			got, want := make([]float32, c.to*ch), make([]float32, c.to*ch)
			narrow(got, src, cols, ch)
			if ch == 3 {
				narrowOpaque(want, src, cols)
			} else {
				narrowAlpha(want, src, cols)
			}
			assert.Equal(tt, want, got, "%d to %d, %d channels", c.from, c.to, ch)
		}
	}
	for _, n := range []int{1, 7, 8, 9, 31, 32, 33, 100, 2001} {
		for _, t := range []taps{{0, []float32{1}, 0, 1}, {0, []float32{-0.1, 1.1}, 1, 2}, {0, []float32{-0.1, 0.4, 0.6, 0.3, -0.2}, 1, 4}, {0, []float32{0.1, 0.2, 0.3, 0.25, 0.1, 0.05}, 0, 6}} {
			rows := make([][]float32, len(t.weights))
			for i := range rows {
				rows[i] = roomFor(n)
				copy(rows[i], random(n))
			}
			got, want := roomFor(n), roomFor(n)
			for i := range got {
				got[i] = 7 // of the row before
			}
			stack(got, rows, t)
			stackPlain(want, rows, t)
			assert.Equal(tt, want, got, "%d values of %d rows", n, len(rows))
		}
	}
}

// Every luma with every chroma has the same light, eight at a time and one by one, in whatever
// colour space; and so have rows of any length.
func TestLightOfPhotographsIsPlain(t *testing.T) {
	if !wide {
		t.Skip("this processor has no wide registers: plain is all there is")
	}
	r := rand.New(rand.NewPCG(3, 4))
	odd := &space{} // no table like another, and none even
	for c := range odd.light {
		odd.light[c] = new([256]float32)
		for i := range odd.light[c] {
			odd.light[c][i] = r.Float32()
		}
	}
	same := func(in *space, luma, cb, cr []uint8, shared bool) bool {
		got, want := make([]float32, 3*len(luma)+1), make([]float32, 3*len(luma)+1)
		for i := range got {
			got[i] = r.Float32()
		}
		copy(want, got)
		addLight(got, luma, cb, cr, in.wide(), shared)
		if shared {
			pairs(want, luma, cb, cr, in.wide())
		} else {
			singles(want, luma, cb, cr, in.wide())
		}
		return slices.Equal(want, got)
	}
	luma := make([]uint8, 256)
	cb, cr := make([]uint8, 256), make([]uint8, 256)
	for i := range luma {
		luma[i] = uint8(i)
	}
	for b := range 256 {
		for v := range 256 {
			for i := range cb {
				cb[i], cr[i] = uint8(b), uint8(v)
			}
			if !same(odd, luma, cb, cr, v%2 == 1) {
				t.Fatalf("Cb %d, Cr %d", b, v)
			}
		}
	}
	low := make([]uint8, 256)
	for n := range 70 {
		for i := range 2 * n {
			luma[i], low[i], cb[i], cr[i] = uint8(r.Uint32()), uint8(r.Uint32()), uint8(r.Uint32()), uint8(r.Uint32())
		}
		for group := 1; group < 4; group++ {
			got := make([]float32, 3*n)
			for i := range got {
				got[i] = r.Float32()
			}
			want := slices.Clone(got)
			addFours(got, luma[:2*n], low[:2*n], cb[:n], cr[:n], odd.wide(), group)
			fours(want, luma[:2*n], low[:2*n], cb[:n], cr[:n], odd.wide(), group)
			assert.Equal(t, want, got, "%d times two by two pixels, in groups of %d", n, group)
		}
		for i := range n {
			luma[i], cb[i], cr[i] = uint8(r.Uint32()), uint8(r.Uint32()), uint8(r.Uint32())
		}
		assert.True(t, same(odd, luma[:n], cb[:n], cr[:n], false), "%d pixels", n)
		assert.True(t, same(odd, luma[:n&^1], cb[:n/2], cr[:n/2], true), "%d pixels that share chroma", n)
	}
}

// Squares of pixels that are near each other and far, in rows of any length, are marked alike.
func TestUnlikeIsPlain(t *testing.T) {
	r := rand.New(rand.NewPCG(5, 6))
	marked := [2]int{}
	for count := range 40 {
		upper, lower := make([]uint8, 8*count+4), make([]uint8, 8*count+4)
		for range 50 {
			for i := range upper {
				upper[i], lower[i] = 100+uint8(r.IntN(aloneFrom+2)), 100+uint8(r.IntN(aloneFrom+2))
			}
			marks := slices.Repeat([]uint8{0xFF}, (count+3)/4) // of the row before
			unlike(marks, upper, lower)
			for n := range count {
				want := !alike((*[8]byte)(upper[8*n:]), (*[8]byte)(lower[8*n:]))
				got := marks[n/4]>>(n%4)&1 == 1
				assert.Equal(t, want, got, "%d of %d", n, count)
				marked[marks[n/4]>>(n%4)&1]++
			}
			if count%4 > 0 {
				assert.Zero(t, marks[count/4]>>(count%4), "nothing is marked beyond %d", count)
			}
		}
	}
	assert.Greater(t, min(marked[0], marked[1]), 1000, "both kinds are among them: %v", marked)
}

// Each k pixels with a chroma of their own are added as they are one by one, to the bit: whole groups and what is
// left of the last, from any column on.
func TestPixelsAreFoldedOneByOne(t *testing.T) {
	r := rand.New(rand.NewPCG(7, 8))
	m := image.NewYCbCr(image.Rect(0, 0, 401, 1), image.YCbCrSubsampleRatio444)
	for _, plane := range [][]uint8{m.Y, m.Cb, m.Cr} {
		for i := range plane {
			plane[i] = uint8(r.Uint32())
		}
	}
	add, tables := ycbcrAdder(m, srgb), srgb.wide()
	for _, k := range []int{2, 3, 7, 32, 96, 97} {
		for _, x0 := range []int{0, 1, 90, 400} {
			got := make([]float32, 3*((401-x0+k-1)/k))
			for i := range got {
				got[i] = r.Float32()
			}
			want := slices.Clone(got)
			add(got, 0, x0, 401, k)
			for x := x0; x < 401; x++ {
				singles(want[(x-x0)/k*3:], m.Y[x:x+1], m.Cb[x:x+1], m.Cr[x:x+1], tables)
			}
			assert.Equal(t, want, got, "%d together, from %d", k, x0)
		}
	}
}
