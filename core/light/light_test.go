package light_test

import (
	"fmt"
	"math"
	"testing"

	"github.com/stretchr/testify/assert"

	"mivlet/core/light"
)

// Half of the light of white is not half of its code value.
func ExampleCode() {
	fmt.Println(light.Code((light.OfCode[0]+light.OfCode[255])/2), light.Code(-0.1), light.Code(1.2))
	// Output: 188 0 255
}

// Values of IEC 61966-2-1 (from memory): the linear part ends at 0.04045, which is 0.0031308 of
// light, and middle grey of 18 % lies at code value 118.
func TestTheCurveOfSRGB(t *testing.T) {
	assert.InDelta(t, 0.0031308, light.Linear(0.04045), 1e-7)
	assert.InDelta(t, 0.04045, light.Encoded(0.0031308), 1e-5)
	assert.InDelta(t, 0.0002, light.Linear(0.0002*12.92), 1e-12, "a straight line near black")
	assert.InDelta(t, 1, light.Linear(1), 1e-12)
	assert.EqualValues(t, 118, light.Code(0.18))
}

func TestEveryCodeComesBack(t *testing.T) {
	for c := range 256 {
		assert.EqualValues(t, c, light.Code(light.OfCode[c]))
		assert.InDelta(t, light.Linear(float64(c)/255), float64(light.OfCode[c]), 1e-7)
	}
	for i := range 1000 {
		l := float64(i) / 999
		assert.InDelta(t, l, light.Linear(light.Encoded(l)), 1e-9)
		// A code is rounded to the nearest: no other lies closer, but for the steps of the table.
		assert.LessOrEqual(t, math.Abs(255*light.Encoded(l)-float64(light.Code(float32(l)))), 0.53)
	}
}
