package suite

import (
	"time"

	"github.com/stretchr/testify/assert"

	"mivlet/core/fit"
	"mivlet/core/mend"
	"mivlet/core/private"
	"mivlet/core/survey"
	"mivlet/core/twin"
	"mivlet/store"
)

// formerSites keeps sites that were made elsewhere, and one decision of a kind about each thing.
func formerSites(h *house) {
	first := "archive"
	f := store.FormerSite{Title: "Old site", Hosts: []string{"www.club.example"}, Hash: first, Bytes: 10, Sum: survey.Sum{Pages: 3, Bytes: 900}, Person: "Ines", AddedAt: noon, Stayed: []string{}}
	h.ok(h.AddFormerSite(&f))
	other := store.FormerSite{Title: "Older", Hash: first, AddedAt: noon}
	h.ok(h.AddFormerSite(&other))
	assert.Equal(h, f, of(h.FormerSite(f.ID))(h))
	assert.Equal(h, []string{"Older", "Old site"}, []string{of(h.FormerSites())(h)[0].Title, of(h.FormerSites())(h)[1].Title})

	mended, at := "mended archive", noon.Add(time.Hour)
	h.ok(h.SaveMended(f.ID, mended, survey.Sum{Pages: 3, Bytes: 90}, []string{"a.jpg: it is damaged"}, at))
	got := of(h.FormerSite(f.ID))(h)
	assert.Equal(h, []any{"Old site", first, mended, int64(90), []string{"a.jpg: it is damaged"}}, []any{got.Title, got.Hash, got.MendedHash, got.MendedSum.Bytes, got.Stayed})
	assert.True(h, got.MendedAt.Equal(at))
	named := of(h.NamedFiles())(h)
	assert.True(h, named[first] && named[mended], "its files stay")

	more := store.FormerSite{ID: f.ID, Hash: "more", Bytes: 20, Sum: survey.Sum{Pages: 5, Bytes: 1900}, AddedAt: at, Title: "Not its title"}
	part := store.FormerSite{Title: "A part", Start: "https://www.club.example/", Unfinished: true, Hash: "part", AddedAt: noon}
	h.ok(h.AddFormerSite(&part))
	assert.True(h, of(h.FormerSite(part.ID))(h).Unfinished)
	h.ok(h.SaveFetched(more))
	got = of(h.FormerSite(f.ID))(h)
	assert.Equal(h, []any{"Old site", "more", "", int64(20), 5}, []any{got.Title, got.Hash, got.MendedHash, got.Bytes, got.Sum.Pages})
	assert.True(h, got.MendedSum == nil && got.MendedAt == nil && len(got.Stayed) == 0, "what was mended was a part")
	more.ID, more.Unfinished = part.ID, false
	h.ok(h.SaveFetched(more))
	got = of(h.FormerSite(part.ID))(h)
	assert.Equal(h, []any{"A part", "https://www.club.example/", false}, []any{got.Title, got.Start, got.Unfinished})
	h.ok(h.DropFormerSite(part.ID))
	h.ok(h.SaveFetched(f))
	h.ok(h.SaveMended(f.ID, mended, survey.Sum{}, nil, at))

	_, err := h.FormerLook(f.ID)
	assert.ErrorIs(h, err, store.ErrNotFound)
	look := store.FormerLook{FormerSiteID: f.ID, Hash: first, At: at, Seen: map[string]survey.Seen{"a.jpg": {Faces: 2, Tells: []private.Kind{private.Phone}, Look: &twin.Hash{1 << 63, 2, 3}}}, Measured: []survey.Measured{{Page: "p.html", Viewport: 1, Widths: []float64{300.5}, Chosen: []string{"a.jpg"}, Shift: 0.2}}}
	h.ok(h.SaveFormerLook(store.FormerLook{FormerSiteID: f.ID, Hash: "before", At: noon, Seen: map[string]survey.Seen{}}))
	h.ok(h.SaveFormerLook(look))
	kept := of(h.FormerLook(f.ID))(h)
	assert.Equal(h, []any{look.Seen, look.Measured, look.Hash}, []any{kept.Seen, kept.Measured, kept.Hash})
	assert.True(h, kept.At.Equal(at))

	_, err = h.FormerCompared(f.ID)
	assert.ErrorIs(h, err, store.ErrNotFound)
	compared := store.FormerCompared{FormerSiteID: f.ID, Hash: mended, At: at, Pages: []mend.Compared{{Page: "p.html", Viewport: 1, Areas: []fit.Box{{X: 8, Y: 16, Width: 16, Height: 16}}}, {Page: "q.html", Fault: "It is not loaded."}}}
	h.ok(h.SaveFormerCompared(store.FormerCompared{FormerSiteID: f.ID, Hash: "before", At: noon, Pages: []mend.Compared{}}))
	h.ok(h.SaveFormerCompared(compared))
	beside := of(h.FormerCompared(f.ID))(h)
	assert.Equal(h, []any{compared.Pages, compared.Hash}, []any{beside.Pages, beside.Hash})
	assert.True(h, beside.At.Equal(at))

	choose := func(c store.FormerChoice) store.FormerChoice {
		c.FormerSiteID, c.Person = f.ID, "Runa"
		h.ok(h.ChooseForFormer(&c))
		return c
	}
	choose(store.FormerChoice{Kind: store.FormerWords, Page: "p.html", Address: "a.jpg", Text: "A pier", At: noon})
	choose(store.FormerChoice{Kind: store.FormerWords, Page: "q.html", Address: "a.jpg", Text: "The pier", At: noon.Add(time.Microsecond)})
	choose(store.FormerChoice{Kind: store.FormerLeft, File: "a.jpg", At: noon.Add(2 * time.Microsecond)})
	choose(store.FormerChoice{Kind: store.FormerWords, Page: "p.html", Address: "a.jpg", Text: "The old pier", At: noon.Add(3 * time.Microsecond)})
	all := of(h.FormerChoices(f.ID))(h)
	var texts []string
	for _, c := range all {
		texts = append(texts, c.Text)
	}
	assert.Equal(h, []string{"The pier", "", "The old pier"}, texts)
	assert.Empty(h, of(h.FormerChoices(other.ID))(h))
	h.ok(h.DropFormerChoice(other.ID, all[0].ID))
	assert.Len(h, of(h.FormerChoices(f.ID))(h), 3, "it is not the other site's")
	h.ok(h.DropFormerChoice(f.ID, all[0].ID))
	assert.Len(h, of(h.FormerChoices(f.ID))(h), 2)

	h.ok(h.DropFormerSite(f.ID))
	_, err = h.FormerSite(f.ID)
	assert.ErrorIs(h, err, store.ErrNotFound)
	_, err = h.FormerLook(f.ID)
	assert.ErrorIs(h, err, store.ErrNotFound)
	_, err = h.FormerCompared(f.ID)
	assert.ErrorIs(h, err, store.ErrNotFound)
	assert.Empty(h, of(h.FormerChoices(f.ID))(h))
	assert.False(h, of(h.NamedFiles())(h)[mended])
	assert.True(h, of(h.NamedFiles())(h)[first], "the other one has it, too")
	_, err = h.FormerSite(99)
	assert.ErrorIs(h, err, store.ErrNotFound)
}
