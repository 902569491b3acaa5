package desk_test

import (
	"bytes"
	"context"
	"fmt"
	"runtime"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/page"
	"mivlet/desk"
	"mivlet/desk/access"
	"mivlet/desk/bench"
	"mivlet/desk/derive"
	"mivlet/desk/people"
	"mivlet/internal/heavy"
	"mivlet/store"
)

// What would take more memory or time than the house gives is refused by its head, with
// its reason, and nothing of it is kept.
func TestFilesThatWouldExhaustTheMachine(t *testing.T) {
	b := freshWith(t, func(o *desk.Options) { o.Decoding = 64 << 20 })
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
		refusal(t, err, access.TooMuch, c.why)
		assert.Less(t, allocatedSoFar()-begun, uint64(32<<20), "%s: refused by its head", name)
	}
	assert.Empty(t, filesOf(t, b.dir))
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
	b := freshWith(t, func(o *desk.Options) { o.Decoding = budget })
	var ids []uint
	for n := range 3 {
		ids = append(ids, b.arrive(fmt.Sprintf("%d.png", n), heavy.DeepPNG(side+n, side)).ID)
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
	b := freshWith(t, func(o *desk.Options) { o.Decoding = 64 << 20 })
	id := b.arrive("a.png", heavy.DeepPNG(1400, 1400)).ID
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

// Sixty at once do not get past the slowdown: a try is counted before it is checked, and
// only a few are checked at the same time.
func TestManySignInsAtOnce(t *testing.T) {
	now := time.Date(2026, 11, 2, 12, 0, 0, 0, time.UTC)
	b := freshWith(t, func(o *desk.Options) { o.Now = func() time.Time { return now } })
	_, err := b.People.FirstKeeper("Ines", "ines", "four words in a row", b.People.FirstCode(), "here")
	require.NoError(t, err)
	var wrong, later atomic.Int64
	var wg sync.WaitGroup
	for n := range 60 {
		wg.Go(func() {
			_, err := b.People.SignIn("ines", fmt.Sprint("guess number ", n), fmt.Sprint("address ", n))
			if r, ok := asRefusal(err); ok && r.Kind == access.TooSoon {
				later.Add(1)
			} else if ok {
				wrong.Add(1)
			}
		})
	}
	wg.Wait()
	assert.LessOrEqual(t, wrong.Load(), int64(3), "three are free, the others wait")
	assert.Equal(t, int64(60), wrong.Load()+later.Load())
	trail, err := b.People.Trail(store.TrailFilter{Most: 10})
	require.NoError(t, err)
	assert.Contains(t, trail[0].What, "A sign-in failed: ines, from address")
	assert.Less(t, b.store.Database().OpenConnections(), 16, "however many ask, a few read and one writes")

	// The same on changing a password.
	now = now.Add(time.Hour)
	who, err := b.People.SignIn("ines", "four words in a row", "here")
	require.NoError(t, err)
	refused := 0
	for range 10 {
		_, err := b.As(who).People.SetOwnPassword("a guess", "four other words in a row")
		if r, ok := asRefusal(err); ok && r.Kind == access.TooSoon {
			refused++
		}
	}
	assert.Greater(t, refused, 3)
}

// An address that a whole school shares is not closed because one person guesses there.
func TestASharedAddressStaysOpen(t *testing.T) {
	b := fresh(t)
	keeper, err := b.People.FirstKeeper("Ines", "ines", "four words in a row", b.People.FirstCode(), "school")
	require.NoError(t, err)
	_, err = b.As(keeper).People.SaveAccount(people.Account{Name: "Odo", Login: "odo", Password: "a paddle on the lake"})
	require.NoError(t, err)
	for range 200 { // one guesses on, at one account
		_, _ = b.People.SignIn("ines", "a guess", "school")
	}
	_, err = b.People.SignIn("odo", "a paddle on the lake", "school")
	require.NoError(t, err)
	for n := range 100 { // and then at many
		_, _ = b.People.SignIn(fmt.Sprint("nobody", n), "a guess", "school")
	}
	_, err = b.People.SignIn("somebody", "a guess", "school")
	refusal(t, err, access.TooSoon, "Wait")
	_, err = b.People.SignIn("odo", "a paddle on the lake", "school")
	assert.NoError(t, err, "who has signed in from there goes on to")
}

// Names and texts of any length, with signs that nobody sees, are cleaned or refused,
// and names that mean devices never become addresses.
func TestOddNamesAndTexts(t *testing.T) {
	b := fresh(t)
	long := b.arrive(strings.Repeat("x", 9000)+".jpg", photo(400, 300, 1))
	assert.Less(t, len(long.OriginalName), 300)
	assert.True(t, strings.HasSuffix(long.OriginalName, ".jpg"))
	odd := b.arrive("photo\u202egpj.exe\x00\x07.jpg", photo(400, 300, 2))
	assert.Equal(t, "photogpj.exe.jpg", odd.OriginalName)
	refusal(t, describe(b.Desk, odd.ID, strings.Repeat("word ", 2000)), access.TooMuch, "at most 5000")
	id, err := b.Pages.NewPage("juniors", "CON\u202e", "empty")
	require.NoError(t, err)
	v, err := b.Pages.Page(id)
	require.NoError(t, err)
	assert.Equal(t, "/juniors/con-page", v.Path())
	block, err := b.Pages.AddFile(id, page.Gap{}, "aux.csv", strings.NewReader("a,b\n1,2\n"))
	require.NoError(t, err)
	v, err = b.Pages.Page(id)
	require.NoError(t, err)
	file, _ := v.Doc.Block(block)
	assert.Equal(t, "aux-file.csv", file.File.Name)
	refusal(t, b.Pages.BeAt(b.page, strings.Repeat("a", 5000)), access.Missing, "no such place")
	require.NoError(t, b.Pages.BeAt(b.page, "a"))
	require.NoError(t, b.Pages.BeAt(b.page, ""))
}
