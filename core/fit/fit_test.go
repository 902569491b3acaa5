package fit_test

import (
	"image"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

	"mivlet/core/fit"
)

// Worked by hand: w is given, h = round(w·H0/W0), half away from zero.
func TestSizesWorkedByHand(t *testing.T) {
	assert.Equal(t, fit.Size{W: 640, H: 900}, fit.ByWidth(fit.Size{W: 4912, H: 6908}, 640))
	assert.Equal(t, fit.Size{W: 300, H: 192}, fit.ByWidth(fit.Size{W: 500, H: 320}, 300))
	assert.Equal(t, fit.Size{W: 212, H: 300}, fit.ByHeight(fit.Size{W: 423, H: 600}, 300), "211.5, half away from zero")
	assert.Equal(t, fit.Size{W: 1, H: 10}, fit.ByHeight(fit.Size{W: 1, H: 5000}, 10), "never less than one pixel")
}

func TestRatiosWorkedByHand(t *testing.T) {
	for size, want := range map[fit.Size][2]int{{W: 900, H: 600}: {3, 2}, {W: 450, H: 300}: {3, 2}, {W: 1600, H: 900}: {16, 9}} {
		w, h := fit.Ratio(size)
		assert.Equal(t, want, [2]int{w, h}, "%v", size)
	}
}

func TestPlanByWidth(t *testing.T) {
	cuts := fit.Plan(image.Rect(0, 0, 6000, 4000), fit.Centre, fit.Want{Width: 809}, []float64{1, 2})
	assert.Len(t, cuts, 2)
	assert.Equal(t, 1618, cuts[1].Size.W, "slot 809 wide at density 2")
	assert.Equal(t, 2.0, cuts[1].Effective)
	assert.Equal(t, 809, cuts[1].CSSWidth)
}

func TestPlanByHeight(t *testing.T) {
	cuts := fit.Plan(image.Rect(0, 0, 3000, 2000), fit.Centre, fit.Want{Height: 600}, []float64{2})
	assert.Equal(t, fit.Size{W: 1800, H: 1200}, cuts[0].Size, "strip 600 high at density 2; the width follows")
	assert.Equal(t, 900, cuts[0].CSSWidth)
}

func TestPlanExactBox(t *testing.T) {
	cuts := fit.Plan(image.Rect(0, 0, 3000, 2000), fit.Centre, fit.Want{Width: 440, Height: 600}, []float64{2})
	assert.Equal(t, fit.Size{W: 880, H: 1200}, cuts[0].Size)
	assert.Equal(t, fit.Size{W: 1467, H: 2000}, fit.SizeOf(cuts[0].Source), "the largest frame of that ratio")

	right := fit.Plan(image.Rect(0, 0, 3000, 2000), fit.Focus{X: 1, Y: 0.5}, fit.Want{Width: 440, Height: 600}, []float64{1})
	assert.Equal(t, 3000, right[0].Source.Max.X, "a focus at the right edge keeps the right edge")
}

func TestPlanInsideBox(t *testing.T) {
	cuts := fit.Plan(image.Rect(0, 0, 3000, 2000), fit.Centre, fit.Want{Width: 600, Height: 600, Inside: true}, []float64{1, 2})
	assert.Equal(t, fit.Size{W: 600, H: 400}, cuts[0].Size)
	assert.Equal(t, fit.Size{W: 1200, H: 800}, cuts[1].Size)
}

func TestBufferIsScaledWithTheDensity(t *testing.T) {
	cuts := fit.Plan(image.Rect(0, 0, 6000, 4000), fit.Centre, fit.Want{Width: 500, Buffer: 100}, []float64{1, 2})
	assert.Equal(t, 600, cuts[0].Size.W)
	assert.Equal(t, 1200, cuts[1].Size.W)
	assert.Equal(t, 2.4, cuts[1].Effective)
}

func TestNeverEnlarged(t *testing.T) {
	cuts := fit.Plan(image.Rect(0, 0, 500, 320), fit.Centre, fit.Want{Width: 640}, []float64{1, 2})
	assert.Len(t, cuts, 1, "a second cut with the same pixels is not made")
	assert.Equal(t, fit.Size{W: 500, H: 320}, cuts[0].Size)
	assert.InDelta(t, 0.78, cuts[0].Effective, 0.005)
}

// 690 is 7.8 % more than 640: not worth a file. 710 is 10.9 % more.
func TestCutWithinTenPercentIsLeftOut(t *testing.T) {
	want := fit.Want{Width: 640}
	assert.Len(t, fit.Plan(image.Rect(0, 0, 690, 500), fit.Centre, want, []float64{1, 2}), 1)
	assert.Len(t, fit.Plan(image.Rect(0, 0, 710, 500), fit.Centre, want, []float64{1, 2}), 2)
}

// A 1000 px wide picture scaled down on the page to 250 px is four times more
// than shown.
func TestEffectiveDensityOfAPictureScaledOnThePage(t *testing.T) {
	cuts := fit.Plan(image.Rect(0, 0, 1000, 600), fit.Centre, fit.Want{Width: 250}, []float64{4})
	assert.Equal(t, 4.0, cuts[0].Effective)
}

func TestPlanProperties(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		side := rapid.IntRange(1, 12000)
		frame := image.Rect(0, 0, side.Draw(t, "w"), side.Draw(t, "h")).Add(image.Pt(rapid.IntRange(0, 500).Draw(t, "x"), 0))
		want := fit.Want{
			Width: rapid.IntRange(0, 2000).Draw(t, "slot width"), Height: rapid.IntRange(1, 2000).Draw(t, "slot height"),
			Inside: rapid.Bool().Draw(t, "inside"), Buffer: rapid.IntRange(0, 200).Draw(t, "buffer"),
		}
		focus := fit.Focus{X: rapid.Float64Range(0, 1).Draw(t, "fx"), Y: rapid.Float64Range(0, 1).Draw(t, "fy")}
		last := 0
		for _, c := range fit.Plan(frame, focus, want, []float64{1, 2, 3}) {
			if !c.Source.In(frame) || c.Source.Empty() {
				t.Fatalf("source %v outside frame %v", c.Source, frame)
			}
			if c.Size.Empty() || c.Size.W > c.Source.Dx() || c.Size.H > c.Source.Dy() {
				t.Fatalf("cut %v enlarges its source %v", c.Size, c.Source)
			}
			if c.Size.W < last {
				t.Fatalf("cuts do not ascend")
			}
			last = c.Size.W
		}
	})
}

func TestSrcSet(t *testing.T) {
	got := fit.SrcSet([]fit.Candidate{{URL: "/a-640.jpg", Width: 640}, {URL: "/a-1280.jpg", Width: 1280}})
	assert.Equal(t, "/a-640.jpg 640w, /a-1280.jpg 1280w", got)
	assert.False(t, strings.HasSuffix(got, ","))
}

func TestLoadTime(t *testing.T) {
	assert.Equal(t, time.Second, fit.LoadTime(200_000, fit.SlowLine), "200 kB are 1.6 Mbit")
}

// Prefixes of the SI: k is a thousand, M a million.
func TestWeightsAreToldInDecimalUnits(t *testing.T) {
	for bytes, told := range map[int64]string{0: "0 bytes", 999: "999 bytes", 1000: "1 kB", 187_400: "187 kB", 999_499: "999 kB", 999_500: "1.0 MB", 4_240_000: "4.2 MB", 9_949_999: "9.9 MB", 9_950_000: "10 MB", 40_000_000: "40 MB"} {
		assert.Equal(t, told, fit.Weight(bytes))
	}
}
