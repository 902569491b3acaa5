package suite

import (
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/store"
)

func droppedPages(h *house) {
	pic := h.picture("juniors", "juniors-boat")
	p, live := h.page("juniors", "autumn", pic.ID), h.page("juniors", "spring")
	h.publish(&live, file("/juniors/spring", "aaaa", 0))
	a := h.album("juniors", "Regatta", pic.ID)
	shows := h.showing("regatta", a.ID)
	h.ok(h.DropPage(shows.ID, noon))
	assert.Empty(h, of(h.AlbumPages(a.ID))(h), "a deleted page shows no album")
	h.ok(h.RemovePage(shows.ID))

	assert.ErrorIs(h, h.DropPage(live.ID, noon), store.ErrNotFound, "what visitors see is not deleted")
	h.ok(h.DropPage(p.ID, noon))
	assert.ErrorIs(h, h.DropPage(p.ID, noon), store.ErrNotFound, "it is deleted already")
	for what, err := range map[string]error{"by its number": of2(h.Page(p.ID)), "by its address": of2(h.PageAt("juniors", "autumn"))} {
		assert.ErrorIs(h, err, store.ErrNotFound, what)
	}
	assert.Equal(h, []string{"spring"}, titles(of(h.Pages())(h)))
	assert.Len(h, of(h.PageTitles(pic.ID))(h), 1)
	assert.Empty(h, of(h.PagesIn([]uint{p.ID}))(h))
	assert.False(h, of(h.IsPlaced(pic.ID))(h), "its pictures are free")
	for _, left := range of(h.Unsettled("", "now"))(h) {
		assert.NotEqual(h, p.ID, left.ID, "nothing is worked out about it")
	}
	assert.EqualValues(h, 2, of(h.CountInSection("juniors"))(h), "a picture and a page")

	kept := of(h.DroppedPage(p.ID))(h)
	assert.Equal(h, []any{"autumn", "About autumn", true}, []any{kept.Slug, kept.Doc.Title, kept.DroppedAt.Equal(noon)})
	assert.ErrorIs(h, of2(h.DroppedPage(live.ID)), store.ErrNotFound)
	second := h.page("juniors", "autumn") // its address is free
	h.ok(h.DropPage(second.ID, noon.Add(time.Hour)))
	all := of(h.DroppedPages())(h)
	require.Len(h, all, 2)
	assert.Equal(h, []uint{second.ID, p.ID}, []uint{all[0].ID, all[1].ID}, "those deleted last first")

	h.ok(h.BringPageBack(p.ID, "autumn"))
	back := of(h.Page(p.ID))(h)
	assert.Equal(h, []any{"autumn", p.Version, (*time.Time)(nil)}, []any{back.Slug, back.Version, back.DroppedAt})
	assert.Len(h, of(h.PageSteps(p.ID))(h), 1, "its history is there")
	assert.True(h, of(h.IsPlaced(pic.ID))(h), "its pictures stand again")
	assert.ErrorIs(h, h.BringPageBack(p.ID, "autumn"), store.ErrNotFound)
	assert.ErrorIs(h, h.BringPageBack(second.ID, "autumn"), store.ErrTaken)

	h.ok(h.RemovePage(p.ID))
	assert.Equal(h, "autumn", of(h.Page(p.ID))(h).Slug, "only what was deleted is forgotten")
	h.ok(h.RemovePage(second.ID))
	assert.Empty(h, of(h.DroppedPages())(h))
	assert.Empty(h, of(h.PageSteps(second.ID))(h))
}

func samples(h *house) {
	assert.Empty(h, of(h.Samples())(h))
	pic, binned := h.picture("juniors", "juniors-boat"), h.picture("juniors", "juniors-oar", func(p *store.Picture) { p.Station = store.Bin })
	p := h.page("juniors", "try")
	h.ok(h.AddSample(store.SamplePage, p.ID))
	for _, id := range []uint{pic.ID, pic.ID, binned.ID, 999} {
		h.ok(h.AddSample(store.SamplePicture, id))
	}
	assert.Equal(h, map[store.SampleKind][]uint{store.SamplePage: {p.ID}, store.SamplePicture: {pic.ID}}, of(h.Samples())(h), "those that are there, each once")
	h.ok(h.DropPage(p.ID, noon))
	assert.Empty(h, of(h.Samples())(h)[store.SamplePage])
	h.ok(h.ForgetSamples())
	h.ok(h.BringPageBack(p.ID, "try"))
	assert.Empty(h, of(h.Samples())(h))
}
