// Package cores shares work out among the cores of the processor: what is done to each row of a
// picture can be done to many of them at once.
package cores

import (
	"runtime"
	"sync"
)

// Share has each core do some of n things, from one number up to, and without, another one, and
// waits for all. Of none nothing is done.
func Share(n int, do func(from, to int)) {
	parts := min(runtime.GOMAXPROCS(0), n)
	var wg sync.WaitGroup
	for i := range parts {
		wg.Go(func() { do(i*n/parts, (i+1)*n/parts) })
	}
	wg.Wait()
}
