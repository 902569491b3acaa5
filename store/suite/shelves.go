package suite

import (
	"time"

	"github.com/stretchr/testify/assert"

	"mivlet/core/consent"
	"mivlet/core/facts"
	"mivlet/store"
)

// shelf returns the numbers that a query gives, and checks the count that comes with them.
func (h *house) shelf(q store.ShelfQuery) []uint {
	h.Helper()
	if q.Most == 0 {
		q.Most = 100
	}
	q.Now = noon
	found, n, err := h.Shelf(q)
	h.ok(err)
	if q.Skip == 0 && len(found) < q.Most {
		assert.EqualValues(h, len(found), n)
	}
	return numbers(found)
}

// shelfFilters asks every question of a picture that it fits and of one that it does not.
func shelfFilters(h *house) {
	plain := h.picture("juniors", "juniors-plain", func(p *store.Picture) { p.Work.Alt, p.CreatedAt = "Described", noon.AddDate(0, -1, 0) })
	h.page("juniors", "autumn", plain.ID)
	for filter, fits := range map[string]func(*store.Picture){
		"no-alt":       func(p *store.Picture) { p.Work.Alt = "" },
		"never-placed": func(*store.Picture) {},
		"heavy":        func(p *store.Picture) { p.Heavy = true },
		"soft":         func(p *store.Picture) { p.Soft = true },
		"position":     func(p *store.Picture) { p.Facts = facts.Facts{Position: true} },
		"refused":      func(p *store.Picture) { p.Consents = []consent.Entry{{ID: "a", State: consent.Refused}} },
		"expiring": func(p *store.Picture) {
			p.Consents = []consent.Entry{{ID: "a", State: consent.Allowed, Until: "2026-12-02"}}
		},
		"this-week": func(p *store.Picture) { p.CreatedAt = noon.AddDate(0, 0, -6) },
	} {
		assert.Contains(h, store.Filters, filter)
		p := h.picture("juniors", "juniors-"+filter, func(p *store.Picture) { p.Work.Alt, p.CreatedAt = "Described", noon.AddDate(0, -1, 0); fits(p) })
		assert.Equal(h, []uint{p.ID}, h.shelf(store.ShelfQuery{Filter: filter}), filter)
		h.ok(h.RemovePicture(p.ID))
	}
	assert.Len(h, store.Filters, 8, "each is asked here")
	edge := h.picture("juniors", "juniors-edge", func(p *store.Picture) {
		p.Work.Alt = "Described"
		p.Consents = []consent.Entry{{ID: "a", State: consent.Allowed, Until: "2026-12-03"}}
		p.CreatedAt = noon.AddDate(0, 0, -8)
	})
	assert.Empty(h, h.shelf(store.ShelfQuery{Filter: "expiring"}), "31 days are more than 30")
	assert.Empty(h, h.shelf(store.ShelfQuery{Filter: "this-week"}))
	assert.Equal(h, []uint{edge.ID, plain.ID}, h.shelf(store.ShelfQuery{Filter: "no such question"}), "what is no question does not narrow")
}

func shelfWords(h *house) {
	boat := h.picture("juniors", "juniors-red-boat", func(p *store.Picture) {
		p.Work.Alt, p.Work.Credit, p.Folder = "A canoe on a quiet lake", "Odo Lind", "2026/autumn"
	})
	lake := h.picture("touring", "touring-lake", func(p *store.Picture) {
		p.Work.Caption = "Größe und Ähre, ήσυχη λίμνη, Озеро, 湖水"
	})
	binned := h.picture("juniors", "juniors-canoe", func(p *store.Picture) { p.Station = store.Bin })
	for text, want := range map[string][]uint{
		"canoe": {boat.ID}, "CANO": {boat.ID}, "quiet canoe": {boat.ID}, "canoe trip": nil, "lind": {boat.ID}, "autumn": {boat.ID},
		"grosse": nil, "größe": {lake.ID}, "GRÖßE": {lake.ID}, "ähre": {lake.ID}, "A\u0308hre": {lake.ID}, "ahre": {lake.ID}, "ησυχη λίμνη": {lake.ID}, "ΉΣΥΧ": {lake.ID}, "озеро": {lake.ID}, "湖": {lake.ID}, "red-boat": {boat.ID}, `"*()`: {lake.ID, boat.ID}, "": {lake.ID, boat.ID}, "JPG": {lake.ID, boat.ID},
	} {
		assert.ElementsMatch(h, want, h.shelf(store.ShelfQuery{Text: text}), "%q", text)
	}
	assert.NotContains(h, h.shelf(store.ShelfQuery{Text: "canoe"}), binned.ID)
	assert.Equal(h, []uint{lake.ID, boat.ID}, h.shelf(store.ShelfQuery{Text: "lake", Sort: store.ByRank}), "in the name is more than in the words")
	h.ok(h.SetTags(boat.ID, []string{"regatta", "summer", "regatta"}))
	h.ok(h.AddFormerName(boat.ID, "juniors", "juniors-first-name"))
	h.ok(h.Reindex(boat.ID))
	assert.Equal(h, []string{"regatta", "summer"}, of(h.Tags(boat.ID))(h))
	assert.Equal(h, []string{"juniors-first-name"}, of(h.FormerNames(boat.ID))(h))
	for _, text := range []string{"regatta", "first-name"} {
		assert.Equal(h, []uint{boat.ID}, h.shelf(store.ShelfQuery{Text: text}), text)
	}
	h.ok(h.SetTags(boat.ID, nil))
	assert.Empty(h, h.shelf(store.ShelfQuery{Text: "regatta"}))
	boat = of(h.Picture(boat.ID))(h)
	boat.Work.Alt = "A kayak"
	h.ok(h.SavePicture(&boat))
	assert.Empty(h, h.shelf(store.ShelfQuery{Text: "canoe"}))
	assert.Equal(h, []uint{boat.ID}, h.shelf(store.ShelfQuery{Text: "kayak"}))
}

func shelfFolders(h *house) {
	at := func(name, folder, person string, bytes int64, taken time.Time) store.Picture {
		return h.picture("juniors", name, func(p *store.Picture) {
			p.Folder, p.Person, p.Facts = folder, person, facts.Facts{Bytes: bytes, Taken: taken}
		})
	}
	a := at("juniors-c", "2026", "Ines", 10, noon)
	b := at("juniors-a", "2026/autumn", "Odo", 30, noon.AddDate(0, 0, -2))
	c := at("juniors-b", "2026-extra", "Odo", 20, noon.AddDate(0, 0, 2))
	other := h.picture("touring", "touring-a", func(p *store.Picture) { p.Folder = "2026" })
	assert.Equal(h, []uint{b.ID, a.ID}, h.shelf(store.ShelfQuery{Section: "juniors", Folder: "2026"}), "and what is below it, not beside it")
	assert.Equal(h, []uint{c.ID, b.ID}, h.shelf(store.ShelfQuery{Person: "Odo"}))
	h.ok(h.SetTags(c.ID, []string{"wide"}))
	assert.Equal(h, []uint{c.ID}, h.shelf(store.ShelfQuery{Tag: "wide"}))
	for sort, want := range map[store.Sort][]uint{
		store.ByNewest: {c.ID, b.ID, a.ID}, store.ByName: {b.ID, c.ID, a.ID}, store.ByTaken: {c.ID, a.ID, b.ID}, store.ByHeavier: {b.ID, c.ID, a.ID}, "": {c.ID, b.ID, a.ID}, store.ByRank: {c.ID, b.ID, a.ID},
	} {
		assert.Equal(h, want, h.shelf(store.ShelfQuery{Section: "juniors", Sort: sort}), "%q", sort)
	}
	found, n, err := h.Shelf(store.ShelfQuery{Section: "juniors", Most: 1, Skip: 1})
	h.ok(err)
	assert.EqualValues(h, 3, n)
	assert.Equal(h, []uint{b.ID}, numbers(found))
	assert.EqualValues(h, 4, of(h.OnShelf())(h))
	assert.Equal(h, []string{"Ines", "Odo"}, of(h.Brought())(h))

	h.ok(h.AddFolder("juniors", "2027/spring/first"))
	h.ok(h.AddFolder("juniors", "2027/spring"))
	all := map[string]int64{}
	for _, f := range of(h.Folders())(h) {
		all[f.Section+" "+f.Path] = f.N
	}
	assert.Equal(h, map[string]int64{"juniors 2026": 1, "juniors 2026/autumn": 1, "juniors 2026-extra": 1, "touring 2026": 1, "juniors 2027": 0, "juniors 2027/spring": 0, "juniors 2027/spring/first": 0}, all)
	assert.False(h, of(h.DropFolder("juniors", "2026"))(h), "one below it holds a picture")
	assert.True(h, of(h.DropFolder("juniors", "2027"))(h))
	assert.Len(h, of(h.Folders())(h), 4)
	h.ok(h.RemovePicture(other.ID))
	assert.Len(h, of(h.Folders())(h), 3)
}

func bin(h *house) {
	then := noon.AddDate(0, 0, -31)
	old := h.picture("juniors", "juniors-old", func(p *store.Picture) { p.Station, p.BinnedAt = store.Bin, &then })
	h.picture("juniors", "juniors-new", func(p *store.Picture) { p.Station, p.BinnedAt = store.Bin, &noon })
	variant := h.picture("juniors", "juniors-variant", func(p *store.Picture) { p.VariantOf = old.ID })
	h.ok(h.AddCuts([]store.Cut{{PictureID: old.ID, Key: "k", Hash: "cut"}}, false))
	assert.Equal(h, []uint{old.ID}, numbers(of(h.BinnedBefore(noon.AddDate(0, 0, -30)))(h)))
	assert.Equal(h, []uint{variant.ID}, h.shelf(store.ShelfQuery{}))
	h.ok(h.RemovePicture(old.ID))
	_, err := h.Picture(old.ID)
	assert.ErrorIs(h, err, store.ErrNotFound)
	assert.Empty(h, of(h.Steps(old.ID))(h))
	assert.Empty(h, of(h.AllCuts(old.ID))(h), "its cuts go with it")
	assert.Zero(h, of(h.Picture(variant.ID))(h).VariantOf)
	h.ok(h.RemovePicture(old.ID))
}
