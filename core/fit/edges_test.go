package fit_test

import (
	"image"
	"testing"

	"github.com/stretchr/testify/assert"

	"mivlet/core/fit"
)

// A crop lies with its middle on the focus, as far as the frame allows: worked out by hand.
func TestACropFollowsItsFocus(t *testing.T) {
	frame := image.Rect(100, 200, 1100, 700) // 1000 × 500
	for _, c := range []struct {
		box   fit.Size
		focus fit.Focus
		want  image.Rectangle
	}{
		{fit.Size{W: 1, H: 1}, fit.Focus{X: .5, Y: .5}, image.Rect(350, 200, 850, 700)},
		{fit.Size{W: 1, H: 1}, fit.Focus{X: .4, Y: .5}, image.Rect(250, 200, 750, 700)},
		{fit.Size{W: 1, H: 1}, fit.Focus{X: .7, Y: .9}, image.Rect(550, 200, 1050, 700)},
		{fit.Size{W: 1, H: 1}, fit.Focus{X: .1, Y: .5}, image.Rect(100, 200, 600, 700)},
		{fit.Size{W: 1, H: 1}, fit.Focus{X: 1, Y: .5}, image.Rect(600, 200, 1100, 700)},
		{fit.Size{W: 4, H: 1}, fit.Focus{X: .5, Y: .4}, image.Rect(100, 275, 1100, 525)},
		{fit.Size{W: 4, H: 1}, fit.Focus{X: .5, Y: 0}, image.Rect(100, 200, 1100, 450)},
		{fit.Size{W: 2, H: 1}, fit.Focus{X: .1, Y: .9}, frame},
		{fit.Size{W: 300, H: 200}, fit.Focus{X: .5, Y: .5}, image.Rect(225, 200, 975, 700)},
		{fit.Size{W: 300, H: 100}, fit.Focus{X: .5, Y: .5}, image.Rect(100, 284, 1100, 617)}, // 333 high, from round(250 − 166.5) = 84 on
	} {
		assert.Equal(t, c.want, fit.BoxFrame(frame, c.box, c.focus), "%v at %v", c.box, c.focus)
	}
}

// The smaller of two scales rules, and equal ones give the box itself.
func TestInsideABox(t *testing.T) {
	for _, c := range []struct{ src, box, want fit.Size }{
		{fit.Size{W: 1000, H: 500}, fit.Size{W: 100, H: 100}, fit.Size{W: 100, H: 50}},
		{fit.Size{W: 500, H: 1000}, fit.Size{W: 100, H: 100}, fit.Size{W: 50, H: 100}},
		{fit.Size{W: 1000, H: 500}, fit.Size{W: 100, H: 50}, fit.Size{W: 100, H: 50}},
		{fit.Size{W: 3, H: 7}, fit.Size{W: 200, H: 10}, fit.Size{W: 4, H: 10}},
		{fit.Size{W: 7, H: 3}, fit.Size{W: 10, H: 200}, fit.Size{W: 10, H: 4}},
		{fit.Size{W: 7, H: 300}, fit.Size{W: 10, H: 200}, fit.Size{W: 5, H: 200}},
	} {
		assert.Equal(t, c.want, fit.Inside(c.src, c.box), "%v in %v", c.src, c.box)
	}
	assert.True(t, fit.Size{W: 0, H: 5}.Empty())
	assert.True(t, fit.Size{W: 5, H: 0}.Empty())
	assert.False(t, fit.Size{W: 1, H: 1}.Empty())
}

// Nothing is ever made larger than it is: exactly as large is still made, one pixel more is
// not.
func TestNothingIsEnlarged(t *testing.T) {
	plan := func(w, h int, want fit.Want, d float64) fit.Cut {
		return fit.Plan(image.Rect(0, 0, w, h), fit.Centre, want, []float64{d})[0]
	}
	box := fit.Want{Width: 400, Height: 300}
	assert.Equal(t, fit.Size{W: 800, H: 600}, plan(800, 600, box, 2).Size)
	assert.Equal(t, fit.Size{W: 799, H: 599}, plan(799, 599, box, 2).Size)
	assert.InDelta(t, 799./400, plan(799, 599, box, 2).Effective, 1e-9)
	box.Buffer = 10
	assert.Equal(t, fit.Size{W: 820, H: 620}, plan(830, 630, box, 2).Size, "the buffer is added on both sides")
	assert.Equal(t, fit.Size{W: 820, H: 615}, plan(820, 630, box, 2).Size, "as large as the part that has the ratio")
	inside := fit.Want{Width: 400, Height: 300, Inside: true}
	assert.Equal(t, fit.Size{W: 800, H: 400}, plan(1000, 500, inside, 2).Size)
	assert.Equal(t, fit.Size{W: 799, H: 400}, plan(799, 400, inside, 2).Size)
	assert.Equal(t, 400, plan(799, 400, inside, 2).CSSWidth)
	assert.Equal(t, fit.Size{W: 600, H: 600}, plan(900, 900, inside, 2).Size)
	assert.Equal(t, 300, plan(900, 900, inside, 2).CSSWidth)
}

// A sharper cut that is hardly larger is not made twice (within a tenth).
func TestCutsThatAreNearlyTheSame(t *testing.T) {
	sizes := func(w int) (all []int) {
		for _, c := range fit.Plan(image.Rect(0, 0, w, w), fit.Centre, fit.Want{Width: 400}, []float64{1, 1.5, 2}) {
			all = append(all, c.Size.W)
		}
		return all
	}
	assert.Equal(t, []int{400, 600, 800}, sizes(800))
	assert.Equal(t, []int{400, 600, 700}, sizes(700))
	assert.Equal(t, []int{400, 600}, sizes(660))
	assert.Equal(t, []int{400, 600, 661}, sizes(661))
	assert.Equal(t, []int{300}, sizes(300))
}
