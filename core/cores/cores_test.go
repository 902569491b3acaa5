package cores_test

import (
	"fmt"
	"runtime"
	"sync/atomic"
	"testing"

	"github.com/stretchr/testify/assert"

	"mivlet/core/cores"
)

func ExampleShare() {
	rows := []string{"water", "reeds", "sky"}
	long := make([]int, len(rows))
	cores.Share(len(rows), func(from, to int) {
		for i := from; i < to; i++ {
			long[i] = len(rows[i])
		}
	})
	fmt.Println(long)
	// Output: [5 5 3]
}

// Each thing is done once, on any number of cores, with no more parts than there are things.
func TestShare(t *testing.T) {
	for _, processors := range []int{1, 2, 7} {
		before := runtime.GOMAXPROCS(processors)
		for n := range 23 {
			done := make([]atomic.Int32, n)
			var parts atomic.Int32
			cores.Share(n, func(from, to int) {
				parts.Add(1)
				assert.Less(t, from, to)
				for i := from; i < to; i++ {
					done[i].Add(1)
				}
			})
			for i := range done {
				assert.EqualValues(t, 1, done[i].Load(), "%d of %d", i, n)
			}
			assert.EqualValues(t, min(n, processors), parts.Load())
		}
		runtime.GOMAXPROCS(before)
	}
}
