package suite

import (
	"fmt"
	"time"

	"github.com/stretchr/testify/assert"

	"mivlet/core/page"
	"mivlet/store"
)

// listed is the pages of some cards.
func listed(h *house, q store.CardQuery) ([]uint, int) {
	h.Helper()
	all, n, err := h.Cards(q)
	h.ok(err)
	ids := make([]uint, len(all))
	for i, c := range all {
		ids[i] = c.PageID
	}
	return ids, n
}

func cards(h *house) {
	pic := h.picture("juniors", "juniors-boat")
	var ids []uint
	for i, slug := range []string{"autumn", "Bees", "camp"} {
		p := h.page("juniors", slug, pic.ID)
		h.publish(&p, file(p.Path(), "aaa"+slug[:1], 0))
		h.ok(h.Tx(func(s store.Records) error {
			return s.AddLiveVersion(&store.LiveVersion{PageID: p.ID, At: noon, Files: []store.Published{}})
		}))
		c := store.LiveCard{PageID: p.ID, Title: slug, FirstAt: noon.Add(time.Duration(i) * time.Hour), Files: []page.CardFile{{Slot: "s", Hash: "h", Width: 4}}}
		if i == 0 {
			c.FromDay, c.Cover = "2031-05-01", pic.ID
		}
		h.ok(h.SetCard(c, []string{"section:juniors", "tag:" + slug}, nil))
		ids = append(ids, p.ID)
	}
	front := h.page("juniors", "")
	h.publish(&front, file("/juniors", "ffff", 0))
	h.ok(h.Tx(func(s store.Records) error {
		return s.AddLiveVersion(&store.LiveVersion{PageID: front.ID, At: noon, Files: []store.Published{}})
	}))
	h.ok(h.SetCard(store.LiveCard{PageID: front.ID, Title: "Juniors", FirstAt: noon}, []string{"sections:"}, []string{"section:juniors", "tag:camp"}))

	newest, n := listed(h, store.CardQuery{Key: "section:juniors"})
	assert.Equal(h, []uint{ids[0], ids[2], ids[1]}, newest, "by the day it is about, else by when it first went live")
	assert.Equal(h, 3, n)
	first, n := listed(h, store.CardQuery{Key: "section:juniors", Order: page.ByTitle, Most: 2})
	assert.Equal(h, []uint{ids[0], ids[1]}, first, "upper and lower case are one")
	assert.Equal(h, 3, n, "how many there are without the limit")
	oldest, _ := listed(h, store.CardQuery{Key: "section:juniors", Order: page.Oldest, But: ids[2]})
	assert.Equal(h, []uint{ids[1], ids[0]}, oldest)
	given, _ := listed(h, store.CardQuery{Pages: []uint{ids[2], 999, ids[0], ids[1]}, Most: 2})
	assert.Equal(h, []uint{ids[2], ids[0]}, given, "as they were given")
	none, n := listed(h, store.CardQuery{Key: "tag:nothing"})
	assert.Empty(h, none)
	assert.Zero(h, n)
	none, _ = listed(h, store.CardQuery{})
	assert.Empty(h, none, "who asks for nothing gets nothing")

	c, keys, err := h.Card(ids[0])
	h.ok(err)
	assert.Equal(h, []string{"section:juniors", "tag:autumn"}, keys)
	assert.Equal(h, "/juniors/autumn", c.Path())
	assert.Equal(h, page.Card{Page: ids[0], Path: "/juniors/autumn", Title: "autumn", From: "2031-05-01", Files: c.Files}, c.Card())

	site := of(h.LiveSite())(h)
	assert.Equal(h, map[string]string{"juniors": of(h.NewestLive(front.ID))(h).Doc}, site.Fronts, "pages that are no front pages are left out")
	assert.Equal(h, site.Fronts, of(h.LiveFronts())(h))
	known, lists := site.Known, site.Lists
	assert.Equal(h, map[string]int{"section:juniors": 3, "sections:": 1, "tag:autumn": 1, "tag:Bees": 1, "tag:camp": 1}, known)
	assert.Equal(h, map[string]bool{"section:juniors": true, "tag:camp": true}, lists)
	assert.Equal(h, []uint{front.ID}, of(h.Listing([]string{"tag:other", "tag:camp"}))(h))
	assert.Empty(h, of(h.Listing([]string{"tag:autumn"}))(h))
	assert.Equal(h, []uint{ids[0]}, of(h.WithCover(pic.ID))(h))
	h.ok(h.Uncover(pic.ID))
	assert.Empty(h, of(h.WithCover(pic.ID))(h))
	c, _, err = h.Card(ids[0])
	h.ok(err)
	assert.Empty(h, c.Files)

	h.ok(h.Relist(front.ID, of(h.FilesOf(front.ID))(h), []store.Published{file("/juniors", "eeee", 0), file("/juniors/all", "dddd", 0)}, noon.Add(time.Hour)))
	assert.Len(h, of(h.FilesOf(front.ID))(h), 2)
	assert.Len(h, of(h.NewestLive(front.ID))(h).Files, 2, "what visitors once got is what they get now")
	assert.True(h, of(h.WasPublished("/juniors", "ffff000000000000"))(h))
	assert.Equal(h, 1, of(h.Page(front.ID))(h).LiveVersion, "the draft is what it was")

	many := []store.Published{file("/juniors", "eeee", 0)}
	for i := range 4000 { // as a list of all of a large house has
		f := file(fmt.Sprintf("/juniors/tile-%d.jpg", i), fmt.Sprintf("%04x", i), pic.ID)
		f.For = store.ForList
		many = append(many, f)
	}
	h.ok(h.Relist(front.ID, of(h.FilesOf(front.ID))(h), many, noon.Add(2*time.Hour)))
	files := of(h.FilesOf(front.ID))(h)
	assert.Len(h, files, 4001)
	assert.Len(h, of(h.NewestLive(front.ID))(h).Files, 4001)
	assert.True(h, of(h.WasPublished("/juniors/all", "dddd000000000000"))(h), "what is there no more")
	for _, f := range files {
		if f.Path == "/juniors" {
			assert.True(h, noon.Add(time.Hour).Equal(f.PublishedAt), "what stays is not written again")
		}
	}
	h.ok(h.TakeOffline(&front, noon))
	h.publish(&front, many...)
	assert.Len(h, of(h.FilesOf(front.ID))(h), 4001)
	h.ok(h.TakeOffline(&front, noon))
	assert.Empty(h, of(h.Listing([]string{"tag:camp"}))(h), "what is not live lists nothing")
	_, _, err = h.Card(front.ID)
	assert.ErrorIs(h, err, store.ErrNotFound)
}

func themes(h *house) {
	pic, other := h.picture("juniors", "juniors-boat"), h.picture("juniors", "juniors-lake")
	p := h.page("juniors", "autumn", pic.ID)
	h.page("juniors", "other", other.ID)
	p.Doc.Details = page.Details{Tags: []string{"water"}, Categories: []string{"events"}}
	h.ok(h.Tx(func(s store.Records) error { return s.AddPageStep(&p, "Told of", "Ines", noon) }))
	assert.Equal(h, map[string]int{"tag:water": 1, "category:events": 1}, of(h.Themes())(h))
	for _, id := range []uint{pic.ID, other.ID} {
		h.ok(h.SetStation(id, store.Shelf))
	}
	found, n, err := h.Shelf(store.ShelfQuery{Themes: "category:events\ncategory:was", Most: 10})
	h.ok(err)
	assert.Equal(h, []uint{pic.ID}, numbers(found))
	assert.EqualValues(h, 1, n)
	h.ok(h.Tx(func(s store.Records) error { return s.ShowPageStep(&p, 0, noon) }))
	assert.Empty(h, of(h.Themes())(h), "it was undone")
}
