package raster

import (
	"runtime"
	"sync"
)

// inBands has each core do a band of so many rows, and waits for all.
func inBands(rows int, do func(from, to int)) {
	bands := min(runtime.GOMAXPROCS(0), rows)
	var wg sync.WaitGroup
	for b := range bands {
		wg.Go(func() { do(b*rows/bands, (b+1)*rows/bands) })
	}
	wg.Wait()
}
