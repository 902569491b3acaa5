package suite

import (
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/store"
)

func destinations(h *house) {
	assert.Empty(h, of(h.Destinations())(h))
	one := store.Destination{Title: "The server", Kind: "folder", Folder: "/srv/one", Base: "https://one.example", Paused: true, GraceHours: 48, CreatedAt: noon}
	two := store.Destination{Title: "Another", Kind: "folder", Region: "north-9", Folder: "/srv/two", Base: "https://two.example", CreatedAt: noon}
	h.ok(h.AddDestination(&one))
	h.ok(h.AddDestination(&two))
	all := of(h.Destinations())(h)
	require.Len(h, all, 2)
	assert.Equal(h, []string{"The server", "Another"}, []string{all[0].Title, all[1].Title}, "in the order in which they came")

	one.Paused, one.GraceHours, one.State, one.SentAt = false, 0, "a state", &noon
	h.ok(h.SaveDestination(one))
	got := of(h.Destination(one.ID))(h)
	assert.Equal(h, []any{false, 0, "a state", true}, []any{got.Paused, got.GraceHours, got.State, got.SentAt.Equal(noon)}, "also what became nothing is kept")
	assert.ErrorIs(h, h.SaveDestination(store.Destination{ID: 99, Title: "None"}), store.ErrNotFound)
	assert.ErrorIs(h, of2(h.Destination(99)), store.ErrNotFound)

	var files []store.SentFile
	for n := range 1200 {
		files = append(files, store.SentFile{DestinationID: one.ID, Path: "a/" + time.Duration(n).String(), Sum: "sum", Bytes: int64(n)})
	}
	h.ok(h.SaveSent(files))
	h.ok(h.SaveSent([]store.SentFile{{DestinationID: two.ID, Path: files[0].Path, Sum: "other"}}))
	h.ok(h.SaveSent([]store.SentFile{{DestinationID: one.ID, Path: files[0].Path, Sum: "new", UnusedSince: &noon}}))
	h.ok(h.SaveSent(nil))
	sent := of(h.SentFiles(one.ID))(h)
	require.Len(h, sent, 1200)
	for i, f := range sent {
		assert.True(h, i == 0 || sent[i-1].Path < f.Path, "by paths")
		if f.Path == files[0].Path {
			assert.Equal(h, []any{"new", int64(0), true}, []any{f.Sum, f.Bytes, f.UnusedSince.Equal(noon)})
		}
	}
	h.ok(h.SaveSent([]store.SentFile{{DestinationID: two.ID, Path: "a.jpg", Sum: "s", PictureID: 7}, {DestinationID: two.ID, Path: "b.jpg", PictureID: 7}, {DestinationID: two.ID, Path: "c.jpg", Sum: "s", PictureID: 8}}))
	of7 := of(h.SentOf([]uint{7, 9}))(h)
	require.Len(h, of7, 1, "what is there of it, and nothing that is only on its way")
	assert.Equal(h, "a.jpg", of7[0].Path)
	h.ok(h.DropSent(two.ID, []string{"a.jpg", "b.jpg", "c.jpg"}))
	var gone []string
	for _, f := range files[1:] {
		gone = append(gone, f.Path)
	}
	h.ok(h.DropSent(one.ID, gone))
	assert.Len(h, of(h.SentFiles(one.ID))(h), 1)
	assert.Len(h, of(h.SentFiles(two.ID))(h), 1, "those of another one stay")
	h.ok(h.RemoveDestination(one.ID))
	assert.Empty(h, of(h.SentFiles(one.ID))(h))
	assert.Len(h, of(h.Destinations())(h), 1)
}

// siteState changes with all that visitors may get otherwise.
func siteState(h *house) {
	state := of(h.SiteState())(h)
	changes := func(what string, do func()) {
		h.Helper()
		do()
		now := of(h.SiteState())(h)
		assert.NotEqual(h, state, now, what)
		state = now
	}
	p := h.page("juniors", "autumn")
	state = of(h.SiteState())(h)
	file := func(hash string) []store.Published {
		return []store.Published{{Path: p.Path(), Hash: hash, MediaType: "text/html"}, {Path: "/juniors/a.jpg", Hash: hash, MediaType: "image/jpeg"}}
	}
	at := noon
	publish := func(hash string) {
		at = at.Add(time.Second)
		h.ok(h.Publish(&p, file(hash), "print", at))
		h.ok(h.AddLiveVersion(&store.LiveVersion{PageID: p.ID, At: at, Doc: "{}", Files: file(hash)}))
	}
	changes("a page goes live", func() { publish("aaaaaaaaaaaaaaaaaaaa") })
	changes("and again", func() { publish("bbbbbbbbbbbbbbbbbbbb") })
	live := of(h.AllPublished())(h)
	require.Len(h, live, 2)
	assert.Equal(h, []string{"/juniors/a.jpg", "image/jpeg", "/juniors/autumn", "bbbbbbbbbbbbbbbbbbbb"}, []string{live[0].Path, live[0].MediaType, live[1].Path, live[1].Hash})
	assert.Empty(h, of(h.GonePaths())(h))
	changes("it moves", func() { h.ok(h.MovePage(&p, "juniors", "late-autumn", at)) })
	changes("it moves back", func() { h.ok(h.MovePage(&p, "juniors", "autumn", at)) })
	changes("it is taken off", func() { h.ok(h.TakeOffline(&p, at)) })
	assert.Equal(h, []string{"/juniors/autumn"}, of(h.GonePaths())(h))
	assert.Empty(h, of(h.AllPublished())(h))
	changes("the rules change", func() {
		r, _, err := h.Rules()
		h.ok(err)
		h.ok(h.SaveRules(r, "Ines", "why not", at))
	})
	changes("a page is deleted", func() { h.ok(h.DropPage(p.ID, at)) })
	assert.Empty(h, of(h.GonePaths())(h), "what was deleted says nothing any more")
	b := store.Banner{Section: "juniors", UpdatedAt: at}
	h.ok(h.AddBanner(&b))
	state = of(h.SiteState())(h)
	changes("a banner is approved", func() {
		b.Live, b.ApprovedAt = &b.Doc, &at
		h.ok(h.Approve(&b, nil, at))
	})
	changes("it is stopped", func() {
		b.Stopped = true
		h.ok(h.Approve(&b, nil, at))
	})
	changes("it is deleted", func() { h.ok(h.DropBanner(b.ID, &at)) })
}
