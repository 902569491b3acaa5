package mend_test

import (
	"fmt"
	"image"
	"image/color"
	"image/draw"
	"math/rand/v2"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"

	"mivlet/core/fit"
	"mivlet/core/mend"
)

func ExampleDifferences() {
	was, now := image.NewGray(image.Rect(0, 0, 320, 200)), image.NewGray(image.Rect(0, 0, 320, 200))
	now.SetGray(100, 50, color.Gray{Y: 1})
	var d mend.Differences
	d.Strip(2000, was, now)
	fmt.Println(d.Areas())
	// Output: [{96 2048 8 8}]
}

// However a page is cut into strips, each pixel that differs lies in an area, no area is without one, and none overlaps
// another.
func TestDifferencesAreWhereTheyAre(t *testing.T) {
	t.Parallel()
	random := rand.New(rand.NewPCG(7, 11))
	for range 60 {
		size := image.Rect(0, 0, 60+random.IntN(200), 60+random.IntN(300))
		was, now := image.NewRGBA(size), image.NewRGBA(size)
		var differ []image.Point
		for range random.IntN(30) {
			p := image.Pt(random.IntN(size.Dx()), random.IntN(size.Dy()))
			now.SetRGBA(p.X, p.Y, color.RGBA{B: 1, A: 255})
			differ = append(differ, p)
		}
		var d mend.Differences
		for top := 0; top < size.Dy(); {
			next := min(top+1+random.IntN(50), size.Dy())
			strip := image.Rect(0, top, size.Dx(), next)
			d.Strip(top, was.SubImage(strip), now.SubImage(strip))
			top = next
		}
		areas := d.Areas()
		for _, p := range differ {
			assert.True(t, slices.ContainsFunc(areas, func(a fit.Box) bool { return p.In(a.Rect()) }), "%v in %v", p, areas)
		}
		for i, a := range areas {
			assert.True(t, slices.ContainsFunc(differ, func(p image.Point) bool { return p.In(a.Rect()) }), "%v holds nothing", a)
			for _, b := range areas[i+1:] {
				assert.False(t, a.Rect().Overlaps(b.Rect()), "%v and %v", a, b)
			}
		}
	}
}

// What one page has and the other lacks differs, and so does a picture that moved; what is the same does not.
func TestWhatOnlyOnePageHasDiffers(t *testing.T) {
	t.Parallel()
	long, short := image.NewRGBA(image.Rect(0, 0, 80, 64)), image.NewRGBA(image.Rect(5, 5, 85, 45))
	draw.Draw(long, long.Rect, image.White, image.Point{}, draw.Src)
	draw.Draw(short, short.Rect, image.White, image.Point{}, draw.Src)
	var same, d mend.Differences
	same.Strip(0, long, long)
	assert.Empty(t, same.Areas())
	d.Strip(0, long, short)
	assert.Equal(t, []fit.Box{{X: 0, Y: 40, Width: 80, Height: 24}}, d.Areas())
	d.Moved(image.Rect(10, 10, 20, 20), image.Rect(12, 10, 22, 20))
	assert.Equal(t, []fit.Box{{X: 10, Y: 10, Width: 12, Height: 10}, {X: 0, Y: 40, Width: 80, Height: 24}}, d.Areas())
}

// A page that is other everywhere is told in few areas.
func TestAPageThatIsOtherEverywhere(t *testing.T) {
	t.Parallel()
	was, now := image.NewGray(image.Rect(0, 0, 1280, 2000)), image.NewGray(image.Rect(0, 0, 1280, 2000))
	for y := 4; y < 2000; y += 24 {
		for x := 4; x < 1280; x += 24 {
			now.SetGray(x, y, color.Gray{Y: 9})
		}
	}
	var d mend.Differences
	for top := 0; top < 60_000; top += 2000 {
		d.Strip(top, was, now)
	}
	areas := d.Areas()
	assert.LessOrEqual(t, len(areas), 200)
	last := areas[len(areas)-1].Rect()
	assert.Equal(t, 60_000, last.Max.Y, "the rest is in the last one: %v", last)
}
