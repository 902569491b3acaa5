package jpegdec

import (
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
)

// What the processor works out eight at a time is what it works out one by one, to the bit.
func TestWideIsPlain(t *testing.T) {
	if !wide {
		t.Skip("this processor has no wide registers: plain is all there is")
	}
	r := rand.New(rand.NewPCG(5, 9))
	for range 3000 {
		var b block
		b.at[0] = float32(r.IntN(4000) - 2000)
		for k := 1; k < 1+r.IntN(63); k++ {
			if r.IntN(3) > 0 {
				b.put(k, float32(r.IntN(900)-450)*r.Float32())
			}
		}
		nh, nv := 1<<r.IntN(4), 1<<r.IntN(4)
		const stride = 24
		var got, want [8 * stride]byte
		inverse(got[:], stride, &b, nh, nv)
		reach := reach[b.last]
		inversePlain(want[:], stride, &b, nh, nv, int(reach.rows), int(reach.cols))
		for y := range nv {
			assert.Equal(t, want[y*stride:][:nh], got[y*stride:][:nh], "%d × %d", nh, nv)
		}
		assert.Equal(t, want[nv*stride:], got[nv*stride:], "nothing below is written")
	}
}
