package album_test

import (
	"fmt"
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"mivlet/core/album"
	"mivlet/core/fit"
)

// Whatever pictures come, in whatever room: all of them stand in their order, each once;
// widths and gaps of a full row add up to the width; no picture is larger than it may be,
// nor cropped, by more than the pixel that rounding takes.
func TestRowsHoldWhatTheyPromise(t *testing.T) {
	t.Parallel()
	rapid.Check(t, func(t *rapid.T) {
		room := album.Room{Width: rapid.IntRange(200, 1600).Draw(t, "width"), Height: 200, Most: 260, Gap: rapid.IntRange(0, 20).Draw(t, "gap")}
		sizes := rapid.SliceOfN(rapid.Custom(func(t *rapid.T) fit.Size {
			return fit.Size{W: rapid.IntRange(40, 900).Draw(t, "w"), H: rapid.IntRange(40, 600).Draw(t, "h")}
		}), 0, 60).Draw(t, "sizes")
		rows := album.Rows(sizes, room)
		at := 0
		for i, row := range rows {
			require.Equal(t, at, row.First)
			require.NotEmpty(t, row.Widths)
			sum := (len(row.Widths) - 1) * room.Gap
			for k, w := range row.Widths {
				s := sizes[at+k]
				sum += w
				require.InDelta(t, row.Height*float64(s.W)/float64(s.H), float64(w), 1.01, "its proportions")
				require.LessOrEqual(t, row.Height, float64(s.H)+1e-9, "not enlarged")
			}
			require.LessOrEqual(t, row.Height, room.Most+1e-9)
			if row.Full {
				require.Equal(t, room.Width, sum, "row %d fills the width", i)
			} else {
				require.LessOrEqual(t, sum, room.Width+len(row.Widths))
			}
			at += len(row.Widths)
		}
		require.Equal(t, len(sizes), at, "all of them")
	})
}

// Where every picture is large enough, only the last row may be short.
func TestOnlyTheLastRowIsShort(t *testing.T) {
	t.Parallel()
	rapid.Check(t, func(t *rapid.T) {
		room := album.Room{Width: 960, Height: 200, Most: 400, Gap: 8}
		sizes := rapid.SliceOfN(rapid.Custom(func(t *rapid.T) fit.Size {
			return [...]fit.Size{{W: 600, H: 400}, {W: 400, H: 600}, {W: 1200, H: 400}, {W: 500, H: 500}}[rapid.IntRange(0, 3).Draw(t, "shape")]
		}), 4, 40).Draw(t, "sizes")
		rows := album.Rows(sizes, room)
		for _, row := range rows[:len(rows)-1] {
			require.True(t, row.Full, "%v", rows)
		}
	})
}

// It is the best of all ways to break: no other has rows that are nearer to the best height.
// All ways of few pictures are tried.
func TestNoOtherBreaksAreBetter(t *testing.T) {
	t.Parallel()
	room := album.Room{Width: 700, Height: 200, Most: 300, Gap: 10}
	sizes := []fit.Size{{W: 300, H: 300}, {W: 450, H: 300}, {W: 200, H: 300}, {W: 600, H: 300}, {W: 300, H: 300}, {W: 300, H: 400}, {W: 533, H: 300}}
	dislike := func(rows []album.Row) float64 {
		sum := 0.0
		for i, r := range rows {
			switch off := math.Log2(r.Height / room.Height); {
			case r.Full:
				sum += off * off
			case i == len(rows)-1:
				sum += 0.25
			default:
				sum += 1e6
			}
		}
		return sum
	}
	found := dislike(album.Rows(sizes, room))
	for breaks := range 1 << (len(sizes) - 1) {
		var rows []album.Row
		from, ok := 0, true
		for i := range sizes {
			if i < len(sizes)-1 && breaks>>i&1 == 0 {
				continue
			}
			aspects, most := 0.0, room.Most
			for _, s := range sizes[from : i+1] {
				aspects += float64(s.W) / float64(s.H)
				most = min(most, float64(s.H))
			}
			h := float64(room.Width-(i-from)*room.Gap) / aspects
			ok = ok && h > 0
			rows = append(rows, album.Row{Height: h, Full: h <= most})
			from = i + 1
		}
		if ok {
			assert.GreaterOrEqual(t, dislike(rows)+1e-9, found, "%b", breaks)
		}
	}
}

// Three pictures of 3:2 in 620 px with gaps of 10: 600 px are theirs, so each is 200 wide and
// 133.3 high (worked out by hand).
func ExampleRows() {
	three := []fit.Size{{W: 600, H: 400}, {W: 600, H: 400}, {W: 600, H: 400}}
	for _, row := range album.Rows(three, album.Room{Width: 620, Height: 140, Most: 260, Gap: 10}) {
		fmt.Printf("%v %.1f\n", row.Widths, row.Height)
	}
	// Output: [200 200 200] 133.3
}
