package suite

import (
	"strings"

	"github.com/stretchr/testify/assert"

	"mivlet/core/banner"
	"mivlet/store"
)

// banner adds one for a spot.
func (h *house) banner(title, spot string, picture uint) store.Banner {
	h.Helper()
	b := store.Banner{Section: "juniors", Doc: banner.Doc{Version: banner.Version, Title: title, Spot: spot, Picture: picture}, UpdatedAt: noon}
	h.ok(h.AddBanner(&b))
	return b
}

func banners(h *house) {
	one, two := h.picture("juniors", "juniors-one"), h.picture("juniors", "juniors-two")
	b, a := h.banner("Rope", "foot", one.ID), h.banner("anchors", "foot", 0)
	titles := func(dropped bool) (all []string) {
		for _, b := range of(h.Banners(dropped))(h) {
			all = append(all, b.Doc.Title)
		}
		return all
	}
	assert.Equal(h, []string{"anchors", "Rope"}, titles(false))
	assert.ErrorIs(h, of2(h.Banner(999)), store.ErrNotFound)
	assert.Nil(h, of(h.Banner(b.ID))(h).Live)
	assert.True(h, of(h.StandingOf([]uint{one.ID}))(h)[one.ID].Placed, "who is on a banner has a place")
	assert.False(h, of(h.StandingOf([]uint{two.ID}))(h)[two.ID].Placed)

	now := of(h.Banner(b.ID))(h)
	now.Doc.Picture = two.ID
	h.ok(h.Tx(func(s store.Records) error { return s.AddBannerStep(&now, "Another picture", "Ines", noon) }))
	assert.ErrorIs(h, h.Tx(func(s store.Records) error { return s.AddBannerStep(&b, "late", "Tom", noon) }), store.ErrStale)
	assert.Len(h, of(h.BannersWith(two.ID))(h), 1)
	assert.Empty(h, of(h.BannersWith(one.ID))(h))

	live := now.Doc
	now.Live, now.ApprovedBy, now.ApprovedAt = &live, "Ines", &noon
	file := func(hash string) store.BannerFile {
		return store.BannerFile{Path: "/spots/rope-" + hash[:16] + ".jpg", Hash: hash, MediaType: "image/jpeg", PictureID: two.ID, CutKey: "k", Original: "o", Width: 300, Height: 250}
	}
	first, second := file(strings.Repeat("a", 64)), file(strings.Repeat("b", 64))
	approve := func(files ...store.BannerFile) {
		h.ok(h.Tx(func(s store.Records) error { return s.Approve(&now, files, noon) }))
	}
	approve(first)
	assert.Equal(h, live, *of(h.Banner(b.ID))(h).Live)
	assert.Equal(h, first.Hash, of(h.PublishedAt(first.Path, ""))(h).Hash, "visitors get its file")
	assert.True(h, of(h.ShownToVisitors(first.Hash))(h))
	assert.True(h, of(h.NamedFiles())(h)[first.Hash], "its file stays")
	assert.Contains(h, of(h.FilesMadeOf(two.ID))(h), first.Hash)
	approve(second)
	assert.ErrorIs(h, of2(h.PublishedAt(first.Path, "")), store.ErrNotFound)
	assert.True(h, of(h.WasPublished(first.Path, ""))(h))
	assert.Len(h, of(h.BannerFiles())(h)[b.ID], 1)
	runs := func(day string, spots ...string) int { return len(of(h.BannersFor(spots, day))(h)) }
	assert.Equal(h, []int{1, 0, 0}, []int{runs("2030-01-01", "head", "foot"), runs("2030-01-01", "head"), runs("2030-01-01")}, "it has no last day; a draft is none")
	live.Until = "2026-05-14"
	approve(second)
	assert.Equal(h, []int{1, 0}, []int{runs("2026-05-14", "foot"), runs("2026-05-15", "foot")})
	live.Until = ""
	approve(second)
	h.ok(h.StopBanner(b.ID, true))
	assert.Zero(h, runs("2026-05-14", "foot"))
	assert.ErrorIs(h, of2(h.PublishedAt(second.Path, "")), store.ErrNotFound, "stopped is off the air")
	h.ok(h.StopBanner(b.ID, false))
	at := noon
	h.ok(h.DropBanner(b.ID, &at))
	assert.ErrorIs(h, of2(h.PublishedAt(second.Path, "")), store.ErrNotFound)
	assert.Equal(h, []string{"Rope"}, titles(true))
	assert.Empty(h, of(h.BannersWith(two.ID))(h))
	h.ok(h.DropBanner(b.ID, nil))
	assert.Equal(h, second.Hash, of(h.PublishedAt(second.Path, ""))(h).Hash)
	h.ok(h.Tx(func(s store.Records) error { return s.ShowBannerStep(&now, 0, noon) }))
	assert.Equal(h, one.ID, of(h.Banner(b.ID))(h).Doc.Picture, "one step back")
	assert.Len(h, of(h.BannersWith(two.ID))(h), 1, "visitors still see it")

	h.ok(h.Tx(func(s store.Records) error {
		return s.ForgetInBanners([]uint{two.ID}, func(t string) string { return strings.ReplaceAll(t, "Another", "Some") }, noon)
	}))
	assert.Nil(h, of(h.Banner(b.ID))(h).Live)
	assert.Empty(h, of(h.BannerFiles(b.ID))(h))
	steps := of(h.BannerSteps(b.ID))(h)
	assert.Equal(h, []any{"Some picture", uint(0)}, []any{steps[1].Text, steps[1].Doc.Picture})
	assert.Equal(h, one.ID, of(h.Banner(b.ID))(h).Doc.Picture)

	o := store.Occasion{Title: "Regatta weeks", FromDay: "2026-05-01", Until: "2026-06-30", UpdatedAt: noon}
	h.ok(h.SaveOccasion(&o))
	o.Until = "2026-07-31"
	h.ok(h.SaveOccasion(&o))
	assert.Equal(h, "2026-07-31", of(h.Occasions())(h)[0].Until)
	h.ok(h.DropOccasion(o.ID))
	assert.Empty(h, of(h.Occasions())(h))

	h.ok(h.CountBanners([]store.BannerDay{{BannerID: a.ID, Day: "2026-05-02", Shown: 2}, {BannerID: 999, Day: "2026-05-02", Shown: 1}}))
	h.ok(h.CountBanners([]store.BannerDay{{BannerID: a.ID, Day: "2026-05-02", Shown: 1, Followed: 1}, {BannerID: a.ID, Day: "2026-05-01", Shown: 1}}))
	assert.Equal(h, []store.BannerDay{{BannerID: a.ID, Day: "2026-05-01", Shown: 1}, {BannerID: a.ID, Day: "2026-05-02", Shown: 3, Followed: 1}}, of(h.BannerDays(0))(h))
	assert.Len(h, of(h.BannerDays(a.ID))(h), 2)

	p := h.showing("autumn", 0)
	h.ok(h.SetSpots(p.ID, []string{"foot", "head"}))
	h.ok(h.SetSpots(p.ID, []string{"head", "top"}))
	assert.Equal(h, []string{"head", "top"}, of(h.SpotsOf(p.ID))(h))
	h.ok(h.Tx(func(s store.Records) error { return s.TakeOffline(&p, noon) }))
	assert.Empty(h, of(h.SpotsOf(p.ID))(h))
}
