package suite

import (
	"time"

	"github.com/stretchr/testify/assert"

	"mivlet/core/banner"
	"mivlet/core/consent"
	"mivlet/core/page"
	"mivlet/store"
)

// unused keeps which pictures nothing uses, and since when.
func unused(h *house) {
	add := func(name string, at store.Station) uint {
		p := store.Picture{Section: "juniors", Work: store.Work{Name: name}, Station: at, UpdatedAt: noon, CreatedAt: noon}
		h.ok(h.AddPicture(&p))
		return p.ID
	}
	free, placed, bannered, binned := add("free", store.Shelf), add("placed", store.Shelf), add("bannered", store.Shelf), add("binned", store.Bin)
	waits := add("waits", store.Arrivals)
	p := store.Page{Section: "juniors", Slug: "boats", Version: 1, UpdatedAt: noon, Doc: page.Doc{Version: page.Version, Title: "Boats", Blocks: []page.Block{{ID: "p1", Kind: page.Picture, Placement: &page.Placement{Picture: placed, Slot: "column"}}}}}
	h.ok(h.AddPage(&p))
	b := store.Banner{Section: "juniors", Doc: banner.Doc{Version: banner.Version, Title: "Soup", Picture: bannered}, UpdatedAt: noon}
	h.ok(h.AddBanner(&b))
	day := func(n int) time.Time { return noon.AddDate(0, 0, n) }
	since := func(at time.Time) (ids []uint) {
		for _, u := range of(h.UnusedSince("juniors", at))(h) {
			ids = append(ids, u.ID)
		}
		return ids
	}
	assert.Empty(h, since(day(99)), "nothing was noted yet")
	h.ok(h.NoteUnused(day(1)))
	assert.Empty(h, since(noon))
	assert.Equal(h, []uint{free, waits}, since(day(1)))
	assert.Empty(h, of(h.UnusedSince("touring", day(99)))(h))

	h.ok(h.NoteUnused(day(9)))
	assert.Equal(h, []uint{free, waits}, since(day(1)), "it is known since when")
	h.ok(h.TellUnused([]uint{free}, day(10)))
	all := of(h.UnusedSince("juniors", day(99)))(h)
	assert.Equal(h, "free", all[0].Name)
	assert.True(h, all[0].Since.Equal(day(1)))
	assert.True(h, all[0].ToldAt != nil && all[0].ToldAt.Equal(day(10)))
	assert.Nil(h, all[1].ToldAt)

	h.ok(h.UseAgain([]uint{free}, day(20)))
	assert.Equal(h, []uint{waits}, since(day(19)))
	all = of(h.UnusedSince("juniors", day(99)))(h)
	assert.Nil(h, all[1].ToldAt, "it has to be told again")

	changed := of(h.Picture(waits))(h)
	changed.UpdatedAt = day(30)
	h.ok(h.SavePicture(&changed))
	h.ok(h.NoteUnused(day(31)))
	assert.Empty(h, since(day(19)), "what was changed counts from then")
	gone := of(h.Picture(free))(h)
	gone.Station = store.Bin
	h.ok(h.SavePicture(&gone))
	h.ok(h.NoteUnused(day(32)))
	assert.Equal(h, []uint{waits}, since(day(99)))

	// All of them in numbers.
	seen := of(h.Picture(placed))(h)
	seen.Facts.Bytes = 1000
	seen.Consents = []consent.Entry{{ID: "a", Whom: "Pell", State: consent.Refused}, {ID: "b", Whom: "Odo", State: consent.Allowed}}
	h.ok(h.SavePicture(&seen))
	assert.Equal(h, store.Census{Pictures: 5, Originals: 1000, InBin: 2, Seen: 2, Refused: 1}, of(h.Census())(h))

	// All pictures, a few at a time.
	var ids []uint
	for after := uint(0); ; {
		some := of(h.PicturesAfter(after, 2))(h)
		if len(some) == 0 {
			break
		}
		for _, one := range some {
			ids = append(ids, one.ID)
		}
		after = some[len(some)-1].ID
	}
	assert.Equal(h, []uint{free, placed, bannered, binned, waits}, ids)
}
