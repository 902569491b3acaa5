package suite

import (
	"strings"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/page"
	"mivlet/store"
)

func drafts(h *house) {
	pic := h.picture("juniors", "juniors-boat")
	p := h.page("juniors", "autumn")
	second := h.page("touring", "trips")
	assert.ErrorIs(h, h.AddPage(&store.Page{Section: "juniors", Slug: "autumn"}), store.ErrTaken, "two pages never share an address")
	mine, theirs := p, p
	mine.Doc.Title, mine.Doc.Blocks = "Mine", []page.Block{placing(pic.ID)}
	h.ok(h.Tx(func(s store.Records) error { return s.AddPageStep(&mine, "Placed", "Ines", noon.Add(time.Hour)) }))
	theirs.Doc.Title = "Theirs"
	assert.ErrorIs(h, h.Tx(func(s store.Records) error { return s.AddPageStep(&theirs, "Renamed", "Odo", noon) }), store.ErrStale, "the second of two from one version is refused")
	now := of(h.Page(p.ID))(h)
	assert.Equal(h, []any{"Mine", 2, 1}, []any{now.Doc.Title, now.Version, now.Step})
	assert.True(h, noon.Add(time.Hour).Equal(now.UpdatedAt))
	steps := of(h.PageSteps(p.ID))(h)
	require.Len(h, steps, 2, "the refused draft left no step")
	assert.Equal(h, []any{"Placed", "Ines", 0}, []any{steps[1].Text, steps[1].Person, steps[1].Parent})
	assert.Equal(h, map[uint]string{p.ID: "Ines", second.ID: ""}, of(h.LastHands())(h))

	assert.True(h, of(h.IsPlaced(pic.ID))(h))
	assert.Equal(h, []string{"autumn"}, titles(of(h.PagesWith(pic.ID))(h)))
	h.ok(h.Tx(func(s store.Records) error { return s.ShowPageStep(&now, 0, noon) }))
	assert.False(h, of(h.IsPlaced(pic.ID))(h), "it was undone")
	assert.Equal(h, []any{"About autumn", 3, 0}, []any{now.Doc.Title, now.Version, now.Step})
	assert.ErrorIs(h, h.Tx(func(s store.Records) error { return s.ShowPageStep(&now, 9, noon) }), store.ErrNotFound)
	h.ok(h.Tx(func(s store.Records) error { return s.AddPageStep(&now, "Renamed", "Odo", noon) }))
	assert.Equal(h, 2, now.Step)
	assert.Equal(h, []string{"autumn", "trips"}, titles(of(h.Pages())(h)), "in the order of their addresses")
	assert.Equal(h, "trips", of(h.PageAt("touring", "trips"))(h).Slug)
	for _, err := range []error{of2(h.PageAt("juniors", "trips")), of2(h.Page(999)), of2(h.MovedTo("/juniors/old"))} {
		assert.ErrorIs(h, err, store.ErrNotFound)
	}
}

// of2 is the error of two.
func of2[V any](_ V, err error) error { return err }

func answers(h *house) {
	pic := h.picture("juniors", "juniors-boat")
	p, other := h.page("juniors", "autumn", pic.ID), h.page("touring", "trips")
	h.publish(&p, file("/juniors/autumn", "aaaa", 0))
	settle := func() {
		h.Helper()
		h.ok(h.Tx(func(s store.Records) error {
			all, err := s.Pages()
			if err != nil {
				return err
			}
			for i := range all {
				all[i].Differs, all[i].Compared, all[i].Stops, all[i].Warns, all[i].Judged = all[i].ID == p.ID, "c", 2, 3, "j"
			}
			return s.Settle(all)
		}))
	}
	assert.Equal(h, []string{"autumn"}, titles(of(h.Unsettled("c", ""))(h)), "what is not live has nothing to differ from")
	assert.Len(h, of(h.Unsettled("", "j"))(h), 2)
	assert.Empty(h, of(h.Unsettled("", ""))(h))
	settle()
	assert.Empty(h, of(h.Unsettled("c", "j"))(h))
	assert.Len(h, of(h.Unsettled("other rules", ""))(h), 1)
	kept := of(h.Page(p.ID))(h)
	assert.Equal(h, []any{true, 2, 3}, []any{kept.Differs, kept.Stops, kept.Warns})
	assert.Equal(h, []string{"autumn"}, titles(of(h.ChangedPages())(h)))
	assert.Equal(h, store.Counts{Bench: 1, Shelves: 1, Live: 1, Changed: 1}, of(h.Counts([]string{"juniors"}))(h))
	assert.Zero(h, of(h.Counts([]string{"touring"}))(h).Bench)
	all := of(h.PageTitles(pic.ID))(h)
	require.Len(h, all, 2)
	assert.Equal(h, store.PageTitle{ID: p.ID, Section: "juniors", Slug: "autumn", Title: "About autumn", Live: true, Differs: true, Shows: true}, all[0])
	assert.Equal(h, store.PageTitle{ID: other.ID, Section: "touring", Slug: "trips", Title: "About trips"}, all[1])
	for _, change := range []struct {
		name             string
		do               func() error
		compared, judged []string
	}{
		{"a picture on it", func() error { p := of(h.Picture(pic.ID))(h); return h.SavePicture(&p) }, []string{"autumn"}, []string{"autumn"}},
		{"its cuts", func() error { return h.AddCuts([]store.Cut{{PictureID: pic.ID, Key: "k"}}, true) }, nil, []string{"autumn"}},
		{"its faces", func() error {
			return h.SetFaces(store.Picture{ID: pic.ID, OriginalHash: pic.OriginalHash, FacesBy: 1})
		}, nil, []string{"autumn"}},
		{"its draft", func() error {
			p := of(h.Page(other.ID))(h)
			return h.Tx(func(s store.Records) error { return s.AddPageStep(&p, "x", "", noon) })
		}, nil, []string{"trips"}},
		{"an address", func() error {
			p := of(h.Page(other.ID))(h)
			return h.Tx(func(s store.Records) error { return s.MovePage(&p, "touring", "tours", noon) })
		}, []string{"autumn"}, []string{"autumn", "tours"}},
	} {
		settle()
		h.ok(change.do())
		assert.ElementsMatch(h, change.compared, titles(of(h.Unsettled("c", ""))(h)), change.name)
		assert.ElementsMatch(h, change.judged, titles(of(h.Unsettled("", "j"))(h)), change.name)
	}
	settle()
	moved := of(h.Page(other.ID))(h)
	h.publish(&moved, file(moved.Path(), "bbbb", 0))
	assert.Len(h, of(h.Unsettled("", "j"))(h), 2, "others may link to what is live for the first time")
}

func published(h *house) {
	pic := h.picture("juniors", "juniors-boat")
	p := h.page("juniors", "autumn", pic.ID)
	h.publish(&p, file("/juniors/autumn", "aaaaaaaaaaaaaaaa", 0), file("/juniors/boat.jpg", "bbbbbbbbbbbbbbbb", pic.ID))
	assert.Equal(h, 1, p.LiveVersion)
	live := of(h.Page(p.ID))(h)
	assert.Equal(h, []any{1, "print", true}, []any{live.LiveVersion, live.LivePrint, live.Live()})
	assert.ErrorIs(h, h.Tx(func(s store.Records) error {
		if err := s.Publish(&live, []store.Published{file("/juniors/other", "cccc", 0)}, "print", noon); err != nil {
			return err
		}
		return errStop
	}), errStop)
	for address, want := range map[[2]string]error{
		{"/juniors/autumn", ""}: nil, {"/juniors/autumn", "aaaaaaaaaaaaaaaa"}: nil, {"/juniors/autumn", "aaaaaaaa"}: nil,
		{"/juniors/autumn", "aaaa"}: store.ErrNotFound, {"/juniors/autumn", "ffffffffffffffff"}: store.ErrNotFound, {"/juniors/other", ""}: store.ErrNotFound, {"", ""}: store.ErrNotFound,
	} {
		assert.ErrorIs(h, of2(h.PublishedAt(address[0], address[1])), want, "%v", address)
	}
	f := of(h.PublishedAt("/juniors/boat.jpg", ""))(h)
	assert.Equal(h, []any{pic.ID, p.ID, "image/jpeg"}, []any{f.PictureID, f.PageID, f.MediaType})
	assert.True(h, of(h.ShownToVisitors(f.Hash))(h))
	assert.False(h, of(h.ShownToVisitors(file("", "aaaaaaaaaaaaaaaa", 0).Hash))(h), "a page is no picture")
	assert.Len(h, of(h.FilesOf(p.ID))(h), 2)
	assert.Len(h, of(h.Showing(pic.ID, 999))(h), 1)
	assert.Equal(h, []string{"autumn"}, titles(of(h.LivePagesShowing(pic.ID))(h)))
	assert.Equal(h, []store.LiveTitle{{Section: "juniors", Slug: "autumn", Title: "About autumn"}}, of(h.LiveTitles())(h))
	h.ok(h.SetReport(p.ID, "all is well"))
	assert.Equal(h, "all is well", of(h.Page(p.ID))(h).Report)

	second := h.page("touring", "trips")
	h.publish(&second, file("/touring/trips", "dddddddddddddddd", 0), file("/juniors/boat.jpg", "eeeeeeeeeeeeeeee", pic.ID))
	assert.ErrorIs(h, of2(h.PublishedAt("/juniors/boat.jpg", "")), store.ErrNotFound, "which of two contents is meant, nobody can say")
	assert.Equal(h, second.ID, of(h.PublishedAt("/juniors/boat.jpg", "eeeeeeee"))(h).PageID)

	for address, was := range map[[2]string]bool{{"/juniors/boat.jpg", ""}: true, {"/juniors/boat.jpg", "bbbbbbbbbbbbbbbb"}: true, {"/juniors/boat.jpg", "bbbbbbbb"}: true, {"/juniors/boat.jpg", "ffffffff"}: false, {"/juniors/never", ""}: false} {
		h.ok(h.Tx(func(s store.Records) error { return s.TakeOffline(&p, noon) }))
		assert.Equal(h, was, of(h.WasPublished(address[0], address[1]))(h), "%v", address)
	}
	assert.False(h, of(h.Page(p.ID))(h).Live())
	assert.Empty(h, of(h.FilesOf(p.ID))(h))
	averaged := file("/touring/trips", "dddddddddddddddd", 0)
	averaged.Averaged, averaged.Veils, averaged.Original = true, []string{"v"}, "o"
	h.publish(&second, averaged)
	again := of(h.FilesOf(second.ID))(h)[0]
	assert.Equal(h, []any{true, []string{"v"}, "o"}, []any{again.Averaged, again.Veils, again.Original})
	assert.Equal(h, second.ID, of(h.AveragedPages())(h)[0].ID)
	_, count, err := h.Check()
	h.ok(err)
	assert.Equal(h, 1, count)
}

func moves(h *house) {
	p := h.page("juniors", "autumn")
	move := func(section, slug string) {
		h.Helper()
		h.ok(h.Tx(func(s store.Records) error { return s.MovePage(&p, section, slug, noon) }))
	}
	move("juniors", "fall")
	assert.ErrorIs(h, of2(h.MovedTo("/juniors/autumn")), store.ErrNotFound, "nobody knew it")
	h.publish(&p, file("/juniors/fall", "aaaaaaaa", 0))
	h.ok(h.AddLiveVersion(&store.LiveVersion{PageID: p.ID, At: noon, Path: p.Path(), Doc: "{}", Files: []store.Published{}}))
	move("touring", "trips")
	assert.Equal(h, p.ID, of(h.MovedTo("/juniors/fall"))(h).ID)
	assert.Equal(h, "/touring/trips", of(h.PublishedAt("/touring/trips", ""))(h).Path, "what is live moves along")
	site := of(h.LiveSite())(h)
	live, moved := site.Paths, site.Moved
	assert.Equal(h, map[string]bool{"/touring/trips": true}, live)
	assert.Equal(h, map[string]string{"/juniors/fall": "/touring/trips"}, moved)
	move("juniors", "fall")
	assert.ErrorIs(h, of2(h.MovedTo("/juniors/fall")), store.ErrNotFound, "it is there itself again")
	assert.Equal(h, p.ID, of(h.MovedTo("/touring/trips"))(h).ID)
	other := h.page("juniors", "other")
	assert.ErrorIs(h, h.Tx(func(s store.Records) error { return s.MovePage(&other, "juniors", "fall", noon) }), store.ErrTaken, "somebody lives there")
}

func lives(h *house) {
	p := h.page("juniors", "autumn")
	for _, print := range []string{"first", "second"} {
		h.ok(h.AddLiveVersion(&store.LiveVersion{PageID: p.ID, At: noon, Person: "Ines", Path: p.Path(), Doc: `{"title":"x"}`, Files: []store.Published{file("/a", "aaaa", 3)}, Print: print, Signed: "s"}))
	}
	newest := of(h.NewestLive(p.ID))(h)
	assert.Equal(h, []any{"second", "Ines", "s", `{"title":"x"}`}, []any{newest.Print, newest.Person, newest.Signed, newest.Doc})
	assert.EqualValues(h, 3, newest.Files[0].PictureID)
	short, whole := of(h.LiveVersions(p.ID))(h), of(h.WholeLiveVersions(p.ID))(h)
	require.Len(h, short, 2)
	assert.Equal(h, []any{"second", "first"}, []any{short[0].Print, short[1].Print}, "newest first")
	assert.True(h, short[0].Doc == "" && len(short[0].Files) == 0 && whole[0].Doc != "" && len(whole[0].Files) == 1)
	assert.Equal(h, "first", of(h.LiveVersion(p.ID, short[1].ID))(h).Print)
	assert.ErrorIs(h, of2(h.LiveVersion(999, short[1].ID)), store.ErrNotFound, "of another page")
	assert.ErrorIs(h, of2(h.NewestLive(999)), store.ErrNotFound)
}

func erasing(h *house) {
	pic, other := h.picture("juniors", "juniors-boat"), h.picture("juniors", "juniors-lake")
	p, quiet := h.page("juniors", "autumn", pic.ID, other.ID), h.page("juniors", "quiet", other.ID)
	doc := func(pictures ...uint) string {
		d := page.Doc{Version: page.Version, Title: "Autumn", Blocks: []page.Block{}}
		for _, id := range pictures {
			d.Blocks = append(d.Blocks, placing(id))
		}
		return string(of(jsonOf(d))(h))
	}
	for _, v := range []store.LiveVersion{{Doc: doc(pic.ID), Files: []store.Published{file("/a", "aaaa", pic.ID)}}, {Doc: doc(other.ID), Files: []store.Published{file("/b", "bbbb", other.ID)}}, {Doc: doc(other.ID), Files: []store.Published{}}} {
		v.PageID, v.At = p.ID, noon
		h.ok(h.AddLiveVersion(&v))
	}
	assert.Equal(h, []uint{p.ID}, of(h.PagesThatShowed(pic.ID))(h))
	assert.ElementsMatch(h, []uint{p.ID, quiet.ID}, of(h.PagesThatShowed(other.ID))(h))
	var n int
	var files []string
	h.ok(h.Tx(func(s store.Records) (err error) {
		n, files, err = s.ForgetLiveVersions(p.ID, []uint{pic.ID})
		return err
	}))
	assert.Equal(h, 1, n)
	assert.Equal(h, []string{file("", "aaaa", 0).Hash}, files)
	assert.Len(h, of(h.LiveVersions(p.ID))(h), 2)
	h.ok(h.Tx(func(s store.Records) error {
		return s.ForgetOnSteps(p.ID, []uint{pic.ID}, func(text string) string { return strings.ReplaceAll(text, "began", "started") })
	}))
	assert.Equal(h, "As it started", of(h.PageSteps(p.ID))(h)[0].Text)
	now := of(h.Page(p.ID))(h)
	h.ok(h.Tx(func(s store.Records) error { return s.ShowPageStep(&now, 0, noon) }))
	assert.False(h, now.Shows(pic.ID))
	assert.True(h, now.Shows(other.ID))
	h.ok(h.Scrub())
	assert.Len(h, of(h.Pages())(h), 2)
}

// lighterDue notes pages whose lighter files are to be made.
func lighterDue(h *house) {
	one, two := h.page("juniors", "one"), h.page("juniors", "two")
	for _, p := range []store.Page{two, one, two} {
		h.ok(h.SetLighterDue(p.ID, true))
	}
	assert.Equal(h, []uint{two.ID, one.ID}, of(h.LighterDue())(h), "each once, the first one first")
	h.ok(h.SetLighterDue(two.ID, false))
	h.ok(h.SetLighterDue(two.ID, false))
	assert.Equal(h, []uint{one.ID}, of(h.LighterDue())(h))
	h.ok(h.SetLighterDue(two.ID, true))
	assert.Equal(h, []uint{one.ID, two.ID}, of(h.LighterDue())(h), "whoever comes again comes last")
}
