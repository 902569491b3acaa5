package suite

import (
	"strings"

	"github.com/stretchr/testify/assert"

	"mivlet/core/album"
	"mivlet/core/page"
	"mivlet/store"
)

// album adds one of some pictures.
func (h *house) album(section, title string, pictures ...uint) store.Album {
	h.Helper()
	a := store.Album{Section: section, Doc: album.Album{Version: album.Version, Title: title}.Add(pictures...), UpdatedAt: noon}
	h.ok(h.AddAlbum(&a))
	return a
}

// showing adds a page with a block of an album.
func (h *house) showing(slug string, a uint) store.Page {
	h.Helper()
	p := store.Page{Section: "juniors", Slug: slug, Version: 1, UpdatedAt: noon, Doc: page.Doc{Version: page.Version, Title: slug, Blocks: []page.Block{
		{ID: "a1", Kind: page.Album, Album: &page.AlbumShow{Album: a, Look: page.Grid}},
	}}}
	h.ok(h.AddPage(&p))
	return p
}

func albums(h *house) {
	one, two, three := h.picture("juniors", "juniors-one"), h.picture("juniors", "juniors-two"), h.picture("touring", "touring-three")
	b := h.album("touring", "Autumn", three.ID)
	a := h.album("juniors", "Regatta", two.ID, one.ID)
	assert.Equal(h, []uint{a.ID, b.ID}, albumIDs(of(h.Albums(false))(h)), "by section and title")
	assert.Equal(h, []uint{two.ID, one.ID}, of(h.Album(a.ID))(h).Doc.Pictures(), "in their order")
	assert.Equal(h, []uint{a.ID}, albumIDs(of(h.AlbumsWith(one.ID))(h)))
	assert.ErrorIs(h, of2(h.Album(999)), store.ErrNotFound)
	assert.True(h, of(h.StandingOf([]uint{one.ID}))(h)[one.ID].Placed, "who is in an album has a place")

	p := h.showing("autumn", a.ID)
	shown := func() (all [][]any) {
		for _, u := range of(h.AlbumPages(a.ID))(h)[a.ID] {
			all = append(all, []any{u.ID, u.Slug, u.OnDraft, u.OnLive})
		}
		return all
	}
	assert.Equal(h, [][]any{{p.ID, "autumn", true, false}}, shown())
	assert.Len(h, of(h.AlbumPages())(h), 1, "of all albums")
	assert.Equal(h, []uint{p.ID}, pageIDs(of(h.PagesWith(one.ID))(h)), "its pictures stand on the page")
	h.ok(h.Tx(func(s store.Records) error {
		return s.Settle([]store.Page{{ID: p.ID, Compared: "now", Judged: "now"}})
	}))
	now := of(h.Album(a.ID))(h)
	now.Doc = now.Doc.TakeOut(one.ID).Add(three.ID)
	h.ok(h.Tx(func(s store.Records) error { return s.AddAlbumStep(&now, "Another picture", "Ines", noon) }))
	assert.Empty(h, of(h.PagesWith(one.ID))(h), "what was taken out stands there no more")
	assert.Equal(h, []uint{p.ID}, pageIDs(of(h.PagesWith(three.ID))(h)))
	assert.Equal(h, []uint{p.ID}, pageIDs(of(h.Unsettled("", "now"))(h)), "what was worked out of the page is worked out anew")
	assert.ErrorIs(h, h.Tx(func(s store.Records) error { return s.AddAlbumStep(&a, "late", "Tom", noon) }), store.ErrStale)
	steps := of(h.AlbumSteps(a.ID))(h)
	assert.Equal(h, []any{2, "As it began", "Another picture", "Ines", 0}, []any{len(steps), steps[0].Text, steps[1].Text, steps[1].Person, steps[1].Parent})
	h.ok(h.Tx(func(s store.Records) error { return s.ShowAlbumStep(&now, 0, noon) }))
	assert.Equal(h, []uint{two.ID, one.ID}, of(h.Album(a.ID))(h).Doc.Pictures(), "one step back")

	// A page that went live keeps what the album held, its draft does not.
	filled := p.Doc.Filled(map[uint]album.Album{a.ID: now.Doc})
	h.publish(&p, file("/juniors/autumn", "aaaa", 0))
	h.ok(h.AddLiveVersion(&store.LiveVersion{PageID: p.ID, At: noon, Doc: string(of(jsonOf(filled))(h)), Files: []store.Published{}}))
	assert.Equal(h, [][]any{{p.ID, "autumn", true, true}}, shown())
	assert.Equal(h, []uint{p.ID}, of(h.PagesThatShowed(two.ID))(h))
	draft := of(h.Page(p.ID))(h)
	draft.Doc = filled
	h.ok(h.Tx(func(s store.Records) error { return s.AddPageStep(&draft, "again", "Ines", noon) }))
	assert.Empty(h, of(h.Page(p.ID))(h).Doc.Blocks[0].Pictures)
	assert.Empty(h, of(h.Page(p.ID))(h).Doc.Blocks[0].Album.Title)

	at := noon
	h.ok(h.DropAlbum(a.ID, &at))
	assert.Equal(h, []uint{b.ID}, albumIDs(of(h.Albums(false))(h)))
	assert.Equal(h, []uint{a.ID}, albumIDs(of(h.Albums(true))(h)))
	assert.Empty(h, of(h.AlbumsIn([]uint{a.ID}))(h))
	assert.Empty(h, of(h.PagesWith(two.ID))(h))
	h.ok(h.DropAlbum(a.ID, nil))
	assert.Len(h, of(h.AlbumsIn([]uint{a.ID, b.ID}))(h), 2, "it is back")
	assert.Equal(h, []uint{p.ID}, pageIDs(of(h.PagesWith(two.ID))(h)))

	h.ok(h.Tx(func(s store.Records) error {
		return s.ForgetInAlbums([]uint{three.ID}, func(text string) string { return strings.ReplaceAll(text, "Another", "Some") })
	}))
	assert.Empty(h, of(h.Album(b.ID))(h).Doc.Entries)
	assert.Equal(h, "Some picture", of(h.AlbumSteps(a.ID))(h)[1].Text)
	now = of(h.Album(a.ID))(h)
	h.ok(h.Tx(func(s store.Records) error { return s.ShowAlbumStep(&now, 1, noon) }))
	assert.Equal(h, []uint{two.ID}, of(h.Album(a.ID))(h).Doc.Pictures(), "no step has it")
}

func albumIDs(all []store.Album) []uint {
	ids := []uint{}
	for _, a := range all {
		ids = append(ids, a.ID)
	}
	return ids
}

func pageIDs(all []store.Page) []uint {
	ids := []uint{}
	for _, p := range all {
		ids = append(ids, p.ID)
	}
	return ids
}
