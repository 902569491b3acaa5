package album_test

import (
	"encoding/json"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"mivlet/core/album"
)

func of(pictures ...uint) album.Album {
	return album.Album{Version: album.Version, Title: "Regatta"}.Add(pictures...)
}

func TestPicturesComeAndGo(t *testing.T) {
	t.Parallel()
	a := of(3, 1, 2, 3, 0)
	assert.Equal(t, []uint{3, 1, 2}, a.Pictures(), "each once")
	assert.EqualValues(t, 3, a.LeadPicture())
	a.Lead = 1
	b := a.TakeOut(1, 9)
	assert.Equal(t, []uint{3, 2}, b.Pictures())
	assert.EqualValues(t, 3, b.LeadPicture(), "who is out stands for nothing")
	assert.Equal(t, []uint{1}, b.Out)
	assert.Equal(t, []uint{7}, b.Offers([]uint{1, 3, 7}), "what was taken out is not offered again")
	assert.Empty(t, b.Add(1).Out, "but can be put back by hand")
	assert.Empty(t, b.Without(1).Out, "what is erased is not remembered")
	assert.Equal(t, []uint{3, 1, 2}, a.Pictures(), "the album before is as it was")
	assert.Zero(t, of().LeadPicture())
}

func TestOrders(t *testing.T) {
	t.Parallel()
	a := of(1, 2, 3, 4)
	assert.Equal(t, []uint{2, 1, 3, 4}, a.Move(1, 1).Pictures())
	assert.Equal(t, []uint{1, 2, 3, 4}, a.Move(1, -1).Pictures(), "as far as the album goes")
	assert.Equal(t, []uint{2, 3, 4, 1}, a.Move(1, 99).Pictures())
	assert.Equal(t, a, a.Move(9, 1))
	assert.Equal(t, []uint{3, 4, 1, 2}, a.MoveTo([]uint{4, 3}, 1).Pictures(), "in their order")
	assert.Equal(t, []uint{1, 3, 4, 2}, a.MoveTo([]uint{2}, 0).Pictures(), "to the end")
	assert.Equal(t, a, a.MoveTo([]uint{2}, 2), "before itself is where it is")

	at := func(n int) time.Time { return time.Date(2026, 11, n, 12, 0, 0, 0, time.UTC) }
	known := map[uint]album.Known{1: {"boat", at(3)}, 2: {"Anchor", at(2)}, 3: {"canoe", at(2)}, 4: {"dock", at(1)}}
	order := func(o album.Order) []uint {
		b := a
		b.Order = o
		return b.Sorted(func(p uint) album.Known { return known[p] }).Pictures()
	}
	assert.Equal(t, []uint{4, 2, 3, 1}, order(album.ByTaken), "of one moment, by name")
	assert.Equal(t, []uint{2, 1, 3, 4}, order(album.ByName), "capitals or not")
	assert.Equal(t, []uint{1, 2, 3, 4}, order(album.ByHand))
	assert.Equal(t, []uint{1, 2, 3, 4}, order(album.Shuffled))
}

// Whatever is done, no picture is lost or doubled, and captions stay with their pictures.
func TestMovingLosesNothing(t *testing.T) {
	t.Parallel()
	rapid.Check(t, func(t *rapid.T) {
		a := of(1, 2, 3, 4, 5, 6)
		for _, p := range a.Pictures() {
			a = a.Captioned(p, string(rune('a'+p)))
		}
		for range rapid.IntRange(1, 8).Draw(t, "acts") {
			p := uint(rapid.IntRange(0, 7).Draw(t, "picture"))
			if rapid.Bool().Draw(t, "step") {
				a = a.Move(p, rapid.IntRange(-9, 9).Draw(t, "by"))
			} else {
				a = a.MoveTo([]uint{p, uint(rapid.IntRange(1, 6).Draw(t, "other"))}, uint(rapid.IntRange(0, 7).Draw(t, "before")))
			}
		}
		require.ElementsMatch(t, []uint{1, 2, 3, 4, 5, 6}, a.Pictures())
		for _, e := range a.Entries {
			require.Equal(t, string(rune('a'+e.Picture)), e.Caption)
		}
	})
}

func TestWhatIsNoAlbumIsRefused(t *testing.T) {
	t.Parallel()
	good, err := json.Marshal(of(1, 2))
	require.NoError(t, err)
	back, err := album.Parse(good)
	require.NoError(t, err)
	assert.Equal(t, of(1, 2).Entries, back.Entries)
	for text, why := range map[string]string{
		`{"version":2,"title":"x"}`:                                                "version 2",
		`{"version":1,"title":" "}`:                                                "has a title",
		`{"version":1,"title":"x","order":"size"}`:                                 `"size"`,
		`{"version":1,"title":"x","lead":3}`:                                       "not in it",
		`{"version":1,"title":"x","entries":[{"picture":1},{"picture":1}]}`:        "twice",
		`{"version":1,"title":"x","entries":[{"caption":"a picture of nothing"}]}`: "is none",
		`{"version":1,"title":"x","rule":{"year":20}}`:                             "year 20",
		`{`: "unexpected end",
	} {
		_, err := album.Parse([]byte(text))
		assert.ErrorContains(t, err, why, text)
	}
	var many []uint
	for i := range album.Most + 1 {
		many = append(many, uint(i+1))
	}
	assert.ErrorContains(t, of(many...).Check(), "1000")
	assert.NoError(t, of(many[:album.Most]...).Check())
}
