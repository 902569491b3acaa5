package derive_test

import (
	"bytes"
	"context"
	"fmt"
	"runtime"
	"sync"
	"sync/atomic"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/desk"
	"mivlet/desk/access"
	"mivlet/desk/bench"
	"mivlet/desk/derive"
	"mivlet/desk/desktest"
	"mivlet/internal/heavy"
)

// What would take more memory or time than the house gives is refused by its head, with
// its reason, and nothing of it is kept.
func TestFilesThatWouldExhaustTheMachine(t *testing.T) {
	b := desktest.FreshWith(t, func(o *desk.Options) { o.Decoding = 64 << 20 })
	for name, c := range map[string]struct {
		data []byte
		why  string
	}{
		"a PNG of 0.1 MB that takes 200 MB": {heavy.DeepPNG(5000, 5000), "takes 200 MB of memory when it is opened"},
		"a GIF of 30,000 frames":            {heavy.ManyFrames(30_000, 8), "has 30000 frames"},
		"62 bytes of GIF":                   {[]byte("GIF89a\xff\xff\xff\xff\x80\x00\x00\x00\x00\x00\xff\xff\xff,\x00\x00\x00\x00\xff\xff\xff\xff\x00\x02\x16\x8c-\x99\x87*\x1c\xdc3\xa0\x02u\xec\x95\xfa\xa8\xde`\x8c\x04\x91L\x01\x00;"), "65535 × 65535"},
	} {
		begun := allocatedSoFar()
		_, err := b.Pictures.Arrive("bomb", bytes.NewReader(c.data), "juniors")
		desktest.Refusal(t, err, access.TooMuch, c.why)
		assert.Less(t, allocatedSoFar()-begun, uint64(32<<20), "%s: refused by its head", name)
	}
	assert.Empty(t, desktest.FilesOf(t, b.Dir))
}

func allocatedSoFar() uint64 {
	var m runtime.MemStats
	runtime.ReadMemStats(&m)
	return m.TotalAlloc
}

// However many want pixels at once, of stages, tiles, thumbnails and cuts, no more is
// decoded at the same time than the budget gives.
func TestOneBudgetForAllDecoding(t *testing.T) {
	side, budget := 1400, int64(40<<20) // each picture takes 16 MB
	if testing.Short() {
		side, budget = 350, 40<<16 // enough to look for races
	}
	b := desktest.FreshWith(t, func(o *desk.Options) { o.Decoding = budget })
	var ids []uint
	for n := range 3 {
		ids = append(ids, b.Arrive(fmt.Sprintf("%d.png", n), heavy.DeepPNG(side+n, side)).ID)
	}
	require.NoError(t, b.Bench.Send(ids, bench.Assignment{Slot: "thumb", Section: "juniors"}))
	var most atomic.Int64
	stop := make(chan struct{})
	var watch, work sync.WaitGroup
	watch.Go(func() {
		for {
			select {
			case <-stop:
				return
			default:
				most.Store(max(most.Load(), b.Derive.DecodingNow()))
				runtime.Gosched()
			}
		}
	})
	for _, id := range ids {
		for n := range 4 {
			work.Go(func() { f, err := b.Derive.Tile(id, 0, n, 0); closeIf(f, err) })
			work.Go(func() { f, err := b.Derive.Stage(id, -1); closeIf(f, err) })
			work.Go(func() { _, _ = b.Cuts.MakeCuts(id, []string{"thumb", "side", "half", "link"}[n]) })
		}
	}
	work.Wait()
	close(stop)
	watch.Wait()
	assert.Positive(t, most.Load())
	assert.LessOrEqual(t, most.Load(), budget)
	assert.Zero(t, b.Derive.DecodingNow(), "all of it was given back")
}

func closeIf(f derive.File, err error) {
	if err == nil {
		f.Close()
	}
}

// Who does not wait for the answer any more takes no room and no time.
func TestWorkThatNobodyWaitsForEnds(t *testing.T) {
	b := desktest.FreshWith(t, func(o *desk.Options) { o.Decoding = 64 << 20 })
	id := b.Arrive("a.png", heavy.DeepPNG(1400, 1400)).ID
	require.NoError(t, b.Bench.Send([]uint{id}, bench.Assignment{Slot: "thumb", Section: "juniors"}))
	gone, leave := context.WithCancel(t.Context())
	leave()
	_, err := b.In(gone).Derive.Tile(id, 0, 0, 0)
	assert.ErrorIs(t, err, context.Canceled)
	_, err = b.In(gone).Pictures.Arrive("b.png", bytes.NewReader(heavy.DeepPNG(1401, 1400)), "juniors")
	assert.ErrorIs(t, err, context.Canceled)
	f, err := b.Derive.Tile(id, 0, 0, 0)
	require.NoError(t, err, "others go on")
	f.Close()
	assert.Zero(t, b.Derive.DecodingNow())
}
