package retention_test

import (
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/rules"
	"mivlet/desk/access"
	"mivlet/desk/desktest"
	"mivlet/desk/retention"
	"mivlet/store"
)

const days = 24 * time.Hour

// kept is a house whose juniors keep unused pictures for 60 days.
func kept(t *testing.T) *desktest.Fixture {
	t.Helper()
	b := desktest.Fresh(t)
	b.UnderRules(func(r *rules.Rules) {
		r.ServeUpTo(1)
		r.Sections = slices.Clone(r.Sections)
		for i := range r.Sections {
			if r.Sections[i].Code == "juniors" {
				r.Sections[i].UnusedDays = 60
			}
		}
	})
	return b
}

// tidy is the daily work some days later.
func tidy(b *desktest.Fixture, later int) int {
	b.T.Helper()
	b.SetTime(b.Time().Add(time.Duration(later) * days))
	n, err := b.Retention.Tidy()
	require.NoError(b.T, err)
	return n
}

func leaving(b *desktest.Fixture) map[uint]time.Time {
	b.T.Helper()
	all, err := b.Retention.Leaving()
	require.NoError(b.T, err)
	on := map[uint]time.Time{}
	for _, l := range all {
		on[l.ID] = l.On
	}
	return on
}

func station(b *desktest.Fixture, id uint) store.Station { return b.PictureOf(id).Station }

// A picture that nothing uses is told of two weeks before it goes, goes to the bin, and can be brought
// back. One that somebody keeps, changes or uses stays.
func TestUnusedPicturesLeaveAfterNotice(t *testing.T) {
	t.Parallel()
	b := kept(t)
	unused, wanted, changed, placed := b.Ready("juniors-unused", 1), b.Ready("juniors-wanted", 2), b.Ready("juniors-changed", 3), b.Ready("juniors-placed", 4)
	b.Place(placed)
	tidy(b, 0)
	begun := b.Time()
	tidy(b, 45)
	assert.Empty(t, leaving(b), "it is not told too early")
	assert.Zero(t, tidy(b, 2))
	told := leaving(b)
	assert.Len(t, told, 3)
	assert.WithinDuration(t, begun.Add(61*days), told[unused], days)
	assert.NotContains(t, told, placed)

	require.NoError(t, b.Retention.Keep([]uint{wanted}))
	require.NoError(t, desktest.Describe(b.Desk, changed, "Another boat on the same lake"))
	assert.Zero(t, tidy(b, 13), "nothing goes before its day")
	assert.Equal(t, 1, tidy(b, 2))
	assert.Equal(t, store.Bin, station(b, unused))
	for _, id := range []uint{wanted, changed, placed} {
		assert.NotEqual(t, store.Bin, station(b, id))
	}
	trail, err := b.People.Trail(store.TrailFilter{Most: 3})
	require.NoError(t, err)
	assert.Contains(t, trail[0].What, "juniors-unused away: nothing had used it for 60 days")
	require.NoError(t, b.Shelves.BringBack(unused))
	assert.Zero(t, tidy(b, 1), "what was brought back is not thrown away again at once")
	assert.NotEqual(t, store.Bin, station(b, unused))

	// The others go when their own time has come.
	assert.Zero(t, tidy(b, 44))
	assert.Len(t, leaving(b), 2)
	assert.Equal(t, 2, tidy(b, 20))
	assert.NotEqual(t, store.Bin, station(b, placed))
}

// Whatever uses a picture keeps it: what visitors see though no draft has it, albums, and a use that begins
// on the last day.
func TestUsedPicturesStay(t *testing.T) {
	t.Parallel()
	b := kept(t)
	live, last := b.Ready("juniors-live", 1), b.Ready("juniors-last", 2)
	block := b.Place(live)
	b.GoLive()
	require.NoError(t, b.Pages.TakeOff(b.PageID, block, 0, b.MarkOf(block)))
	inAlbum := b.Ready("juniors-album", 3)
	album, err := b.Albums.Begin("juniors", "Boats", []uint{inAlbum})
	require.NoError(t, err)
	require.NotZero(t, album)
	tidy(b, 0)
	tidy(b, 50)
	told := leaving(b)
	assert.Len(t, told, 1)
	assert.Contains(t, told, last)
	b.SetTime(b.Time().Add(20 * days))
	b.Place(last) // on the day on which it would go, before the tidying
	assert.Zero(t, tidy(b, 0))
	for _, id := range []uint{live, last, inAlbum} {
		assert.NotEqual(t, store.Bin, station(b, id))
	}
}

// A rule that is set today throws nothing away that nobody was told of, and one that is taken back
// nothing at all.
func TestARuleThatChanges(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	old := b.Ready("juniors-old", 1)
	tidy(b, 0)
	tidy(b, 400)
	set := func(n int) {
		t.Helper()
		b.UnderRules(func(r *rules.Rules) {
			r.Sections = slices.Clone(r.Sections)
			r.Sections[0].UnusedDays = n
		})
	}
	require.Equal(t, "juniors", b.Rules().Sections[0].Code)
	set(60)
	assert.Zero(t, tidy(b, 0))
	assert.Contains(t, leaving(b), old)
	assert.Zero(t, tidy(b, 13))
	set(0)
	assert.Empty(t, leaving(b))
	assert.Zero(t, tidy(b, 30))
	set(3650)
	assert.Zero(t, tidy(b, 1))
	assert.Empty(t, leaving(b))
	set(60)
	assert.Equal(t, 1, tidy(b, 1), "it was told of before")
	assert.Equal(t, store.Bin, station(b, old))
	err := b.House.ChangeRules(func(r rules.Rules) (rules.Rules, error) {
		r.Sections = slices.Clone(r.Sections)
		r.Sections[0].UnusedDays = 7
		return r, nil
	})
	if err == nil {
		_, err = b.House.ApplyRules("too soon")
	}
	assert.ErrorContains(t, err, "30 to 3650 days")
}

func TestWhoMayKeepThem(t *testing.T) {
	t.Parallel()
	b := kept(t)
	id := b.Ready("juniors-unused", 1)
	tidy(b, 0)
	tidy(b, 50)
	other := b.Elsewhere()
	all, err := other.Retention.Leaving()
	require.NoError(t, err)
	assert.Empty(t, all, "it is told to its own section")
	assert.Error(t, other.Retention.Keep([]uint{id}))
	desktest.Refusal(t, b.Retention.Keep(nil), access.Bad, "No picture is ticked")
	assert.Equal(t, 14*days, retention.Notice)
}
