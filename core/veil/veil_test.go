package veil_test

import (
	"encoding/json"
	"image"
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"mivlet/core/fit"
	"mivlet/core/veil"
)

func TestWhatHidesNothingOrTellsTooMuchIsRefused(t *testing.T) {
	t.Parallel()
	good := veil.Veil{Shape: veil.Rect, Bounds: image.Rect(0, 0, 40, 30), Style: veil.Cover}
	assert.NoError(t, good.Check())
	for name, change := range map[string]func(*veil.Veil){
		"shape":            func(v *veil.Veil) { v.Shape = "star" },
		"style":            func(v *veil.Veil) { v.Style = "fog" },
		"reason":           func(v *veil.Veil) { v.Reason = "fun" },
		"no region":        func(v *veil.Veil) { v.Bounds = image.Rectangle{} },
		"two points":       func(v *veil.Veil) { v.Shape, v.Points = veil.Polygon, make([]image.Point, 2) },
		"a colour of none": func(v *veil.Veil) { v.Style, v.Fill = veil.Colour, "red" },
		"no letter":        func(v *veil.Veil) { v.Style, v.Fill = veil.Colour, "#" },
		"letters":          func(v *veil.Veil) { v.Letters = -1 },
		"colours of text":  func(v *veil.Veil) { v.Style, v.Reason, v.Cells = veil.Figure, veil.Number, 2 },
		"a cover's":        func(v *veil.Veil) { v.Reason, v.Cells = veil.Face, 2 },
		"many colours":     func(v *veil.Veil) { v.Style, v.Reason, v.Cells = veil.Figure, veil.Face, veil.MostCells+1 },
		"other colours": func(v *veil.Veil) {
			v.Style, v.Reason, v.Cells, v.Told = veil.Figure, veil.Face, 1, &veil.Told{Cols: 1, Rows: 1, Levels: []int{0, 1, 3}}
		},
		"few colours": func(v *veil.Veil) {
			v.Style, v.Reason, v.Cells, v.Told = veil.Figure, veil.Face, 1, &veil.Told{Cols: 2, Rows: 1, Levels: []int{0, 1, 2}}
		},
		"frames in no order": func(v *veil.Veil) {
			v.Path = []veil.Keyframe{{Frame: 2, Bounds: v.Bounds}, {Frame: 2, Bounds: v.Bounds}}
		},
		"an empty place": func(v *veil.Veil) { v.Path = []veil.Keyframe{{Frame: 2}} },
	} {
		bad := good
		change(&bad)
		assert.Error(t, bad.Check(), name)
	}
}

// canvas is a plain picture in light of three channels.
func canvas(w, h int, traces veil.Traces) veil.Canvas {
	return veil.Canvas{Bounds: image.Rect(0, 0, w, h), Channels: 3, Traces: traces,
		Light: func(c [3]uint8) [3]float32 {
			return [3]float32{float32(c[0]) / 255, float32(c[1]) / 255, float32(c[2]) / 255}
		},
		SRGB: func(px []float32) [3]float64 { return [3]float64{float64(px[0]), float64(px[1]), float64(px[2])} }}
}

func drawn(on veil.Canvas, read veil.Rows, veils ...veil.Veil) []float32 {
	w, h := on.Bounds.Dx(), on.Bounds.Dy()
	out := make([]float32, w*h*3)
	layers := veil.Make(veils, on, read)
	for y := range h {
		line := out[y*w*3 : (y+1)*w*3]
		read(line, y, 0, w)
		for _, l := range layers {
			if l.Touches(y) {
				l.Draw(line, y, 0)
			}
		}
	}
	return out
}

// Whatever lies inside the outlines, or at most where their traces reach, the result is
// the same to the last bit. What is hidden is even no number at all.
func TestTheResultDoesNotDependOnWhatIsHidden(t *testing.T) {
	t.Parallel()
	rapid.Check(t, func(t *rapid.T) {
		w, h := rapid.IntRange(8, 120).Draw(t, "w"), rapid.IntRange(8, 120).Draw(t, "h")
		block := rapid.SampledFrom([]int{1, 8, 16}).Draw(t, "block")
		on := canvas(w, h, veil.Traces{Block: image.Pt(block, block), Reach: rapid.SampledFrom([]int{0, 3, 16}).Draw(t, "reach")})
		var veils []veil.Veil
		for range rapid.IntRange(1, 4).Draw(t, "veils") {
			v := veil.Veil{Shape: rapid.SampledFrom([]veil.Shape{veil.Rect, veil.Ellipse, veil.Polygon}).Draw(t, "shape"), Style: rapid.SampledFrom(veil.Styles).Draw(t, "style")}
			x, y := rapid.IntRange(-20, w).Draw(t, "x"), rapid.IntRange(-20, h).Draw(t, "y")
			v.Bounds = image.Rect(x, y, x+rapid.IntRange(1, 60).Draw(t, "vw"), y+rapid.IntRange(1, 60).Draw(t, "vh"))
			v.Points = []image.Point{v.Bounds.Min, {X: v.Bounds.Max.X, Y: y}, {X: x + 1, Y: v.Bounds.Max.Y}}
			require.NoError(t, v.Check())
			veils = append(veils, v)
		}
		hidden := veil.Mask(veils, on)
		scene := func(inside float32) veil.Rows {
			return func(dst []float32, y, x0, x1 int) {
				for x := x0; x < x1; x++ {
					for c := range 3 {
						dst[(x-x0)*3+c] = float32((x*7919+y*104729+c*31)%251) / 250
						if hidden(x, y) {
							dst[(x-x0)*3+c] = inside * dst[(x-x0)*3+c]
						}
					}
				}
			}
		}
		a, b := drawn(on, scene(1), veils...), drawn(on, scene(float32(math.NaN())), veils...)
		for i := range a {
			if a[i] != b[i] {
				t.Fatalf("value %d is %v, and %v with another scene beneath", i, a[i], b[i])
			}
		}
	})
}

// A region reaches over its outline by half the height of the text, and to whole blocks.
func TestRegionsGrow(t *testing.T) {
	t.Parallel()
	line := veil.Veil{Shape: veil.Rect, Bounds: image.Rect(101, 100, 200, 130), Style: veil.Cover, Reason: veil.Number}
	for _, c := range []struct {
		letters int
		block   image.Point
		reach   int
		want    image.Rectangle
	}{
		{0, image.Pt(1, 1), 0, image.Rect(86, 85, 215, 145)}, // as high as the box is
		{20, image.Pt(1, 1), 0, image.Rect(91, 90, 210, 140)},
		{4, image.Pt(1, 1), 0, image.Rect(97, 96, 204, 134)}, // four pixels at least
		{4, image.Pt(8, 8), 0, image.Rect(96, 96, 208, 136)},
		{4, image.Pt(16, 16), 0, image.Rect(96, 96, 208, 144)},
		{4, image.Pt(1, 1), 16, image.Rect(81, 80, 220, 150)},
	} {
		line.Letters = c.letters
		is := veil.Mask([]veil.Veil{line}, canvas(400, 400, veil.Traces{Block: c.block, Reach: c.reach}))
		var got image.Rectangle
		for y := range 400 {
			for x := range 400 {
				if is(x, y) {
					got = got.Union(image.Rect(x, y, x+1, y+1))
				}
			}
		}
		assert.Equal(t, c.want, got, "%+v", c)
	}
}

// The place of a round veil holds every block that it touches.
func TestARoundVeilHidesWholeBlocks(t *testing.T) {
	t.Parallel()
	v := veil.Veil{Shape: veil.Ellipse, Bounds: image.Rect(50, 60, 170, 110), Style: veil.Figure, Reason: veil.Face}
	inside := veil.Mask([]veil.Veil{v}, canvas(300, 300, veil.Traces{}))
	whole := veil.Mask([]veil.Veil{v}, canvas(300, 300, veil.Traces{Block: image.Pt(16, 16)}))
	for y := range 288 {
		for x := range 288 {
			if !inside(x, y) {
				continue
			}
			for by := y / 16 * 16; by < y/16*16+16; by++ {
				for bx := x / 16 * 16; bx < x/16*16+16; bx++ {
					require.True(t, whole(bx, by), "%d,%d is in a block with %d,%d", bx, by, x, y)
				}
			}
		}
	}
}

// On a plain ground nothing is to be seen, and one that changes goes on beneath.
func TestACoverIsCalm(t *testing.T) {
	t.Parallel()
	on := canvas(200, 120, veil.Traces{})
	v := veil.Veil{Shape: veil.Rect, Bounds: image.Rect(60, 40, 140, 70), Style: veil.Cover}
	slope := func(dst []float32, y, x0, x1 int) {
		for x := x0; x < x1; x++ {
			for c := range 3 {
				dst[(x-x0)*3+c] = 0.3 + float32(x)/500
			}
		}
	}
	out := drawn(on, slope, v)
	for y := range 120 {
		for x := range 200 {
			require.InDelta(t, 0.3+float64(x)/500, out[(y*200+x)*3], 0.05, "at %d,%d", x, y)
		}
	}
	// Writing beside it does not darken it.
	written := func(dst []float32, y, x0, x1 int) {
		for x := x0; x < x1; x++ {
			for c := range 3 {
				dst[(x-x0)*3+c] = 0.9
				if (x+y)%6 == 0 {
					dst[(x-x0)*3+c] = 0.1
				}
			}
		}
	}
	out = drawn(on, written, v)
	for x := 60; x < 140; x++ {
		require.InDelta(t, 0.9, out[(55*200+x)*3], 0.03)
	}
}

func TestWhereAllIsHiddenThereIsGrey(t *testing.T) {
	t.Parallel()
	on := canvas(40, 30, veil.Traces{})
	out := drawn(on, func(dst []float32, _, _, _ int) { clear(dst) }, veil.Veil{Shape: veil.Rect, Bounds: on.Bounds, Style: veil.Cover})
	assert.InDelta(t, 0x8a/255.0, out[0], 0.001, veil.Grey)
}

func TestOutsideThePictureThereIsNothingToHide(t *testing.T) {
	t.Parallel()
	v := veil.Veil{Shape: veil.Ellipse, Bounds: image.Rect(200, 200, 240, 240), Style: veil.Colour}
	assert.Empty(t, veil.Make([]veil.Veil{v}, canvas(100, 100, veil.Traces{}), nil))
	assert.True(t, v.Reach(image.Rect(0, 0, 100, 100), veil.Traces{}).Empty())
}

func TestMapTurnsTheRegion(t *testing.T) {
	t.Parallel()
	v := veil.Veil{Shape: veil.Rect, Bounds: image.Rect(10, 0, 30, 5), Points: []image.Point{{X: 1, Y: 2}},
		Told: &veil.Told{Cols: 2, Rows: 1, Levels: []int{0, 0, 0, 2, 2, 2}}, Path: []veil.Keyframe{{Frame: 3, Bounds: image.Rect(0, 0, 1, 2)}}}
	// A quarter turn of a plane 100 high.
	got := v.Map(func(p image.Point) image.Point { return image.Pt(99-p.Y, p.X) })
	assert.Equal(t, image.Rect(95, 10, 100, 30), got.Bounds)
	assert.Equal(t, []image.Point{{X: 97, Y: 1}}, got.Points)
	assert.Equal(t, &veil.Told{Cols: 1, Rows: 2, Levels: []int{0, 0, 0, 2, 2, 2}}, got.Told, "what was left is on top")
	assert.Equal(t, image.Rect(98, 0, 100, 1), got.Path[0].Bounds)
}

func TestAVeilFollows(t *testing.T) {
	t.Parallel()
	v := veil.Veil{Shape: veil.Rect, Bounds: image.Rect(0, 0, 10, 10), Style: veil.Cover}
	assert.Equal(t, v, v.At(7), "without a path it stays")
	v = v.Placed(10, image.Rect(100, 0, 110, 20))
	assert.Equal(t, []veil.Keyframe{{Frame: 0, Bounds: v.Bounds}, {Frame: 10, Bounds: image.Rect(100, 0, 110, 20)}}, v.Path)
	assert.Equal(t, image.Rect(50, 0, 60, 15), v.At(5).Bounds)
	assert.Equal(t, image.Rect(30, 0, 40, 13), v.At(3).Bounds)
	assert.Equal(t, image.Rect(100, 0, 110, 20), v.At(50).Bounds)
	assert.Equal(t, v.Bounds, v.At(0).Bounds)
	v = v.Placed(10, image.Rect(90, 0, 100, 10))
	assert.Len(t, v.Path, 2)
	require.NoError(t, v.Check())
}

// On a smaller copy no pixel of the region is left out.
func TestACopyHidesAtLeastAsMuch(t *testing.T) {
	t.Parallel()
	whole, small := fit.Size{W: 3000, H: 2000}, fit.Size{W: 1000, H: 667}
	v := veil.Veil{Shape: veil.Rect, Bounds: image.Rect(1001, 998, 1302, 1020), Style: veil.Cover, Reason: veil.Plate}
	on := veil.Mask([]veil.Veil{v}, veil.Canvas{Bounds: whole.Rect()})
	copied := veil.Mask([]veil.Veil{v.Scaled(fit.ScaleOf(whole, small))}, veil.Canvas{Bounds: small.Rect()})
	for y := 900; y < 1100; y++ {
		for x := 900; x < 1400; x++ {
			if on(x, y) {
				require.True(t, copied(x/3, y*667/2000), "%d,%d", x, y)
			}
		}
	}
}

// Veils that were averages become what stands for them now.
func TestUpgraded(t *testing.T) {
	t.Parallel()
	for _, c := range []struct {
		style  string
		reason veil.Reason
		want   veil.Style
	}{{"soft", veil.Number, veil.Cover}, {"blocks", veil.Plate, veil.Cover}, {"soft", "", veil.Cover}, {"blocks", veil.Face, veil.Figure}, {"solid", veil.Face, veil.Colour}} {
		got := veil.Upgraded(veil.Veil{Shape: veil.Rect, Bounds: image.Rect(0, 0, 9, 9), Cells: 3, Reason: c.reason}, c.style)
		assert.Equal(t, c.want, got.Style, "%+v", c)
		assert.NoError(t, got.Check())
		data, err := json.Marshal(got)
		require.NoError(t, err)
		assert.NotContains(t, string(data), "cells")
	}
}

// On a copy of another size a veil covers all that it covers on the original: the first
// pixel of the copy that a hidden one has a share in, and the last (rounded outwards).
func TestOnACopyNothingOfTheRimShows(t *testing.T) {
	at := image.Rect(101, 203, 302, 405)
	v := veil.Veil{Shape: veil.Rect, Bounds: at, Style: veil.Cover, Reason: veil.Number, Path: []veil.Keyframe{{Frame: 3, Bounds: at}}}
	for _, to := range []fit.Size{{W: 333, H: 217}, {W: 1000, H: 1000}, {W: 97, H: 3}, {W: 2001, H: 1999}} {
		s := fit.ScaleOf(fit.Size{W: 1000, H: 1000}, to)
		scaled := v.Scaled(s)
		for _, got := range []image.Rectangle{scaled.Bounds, scaled.At(3).Bounds} {
			assert.LessOrEqual(t, float64(got.Min.X), float64(at.Min.X)*s.X, "%v", to)
			assert.LessOrEqual(t, float64(got.Min.Y), float64(at.Min.Y)*s.Y, "%v", to)
			assert.GreaterOrEqual(t, float64(got.Max.X), float64(at.Max.X)*s.X, "%v", to)
			assert.GreaterOrEqual(t, float64(got.Max.Y), float64(at.Max.Y)*s.Y, "%v", to)
			assert.Less(t, float64(at.Min.X)*s.X-float64(got.Min.X), 1.0, "and no more than a pixel more")
			assert.Less(t, float64(got.Max.Y)-float64(at.Max.Y)*s.Y, 1.0)
		}
	}
	assert.Equal(t, at, v.Bounds, "the veil itself stays")
	assert.Equal(t, at, v.Path[0].Bounds)
}
