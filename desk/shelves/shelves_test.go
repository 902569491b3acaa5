package shelves_test

import (
	"bytes"
	"fmt"
	"image"
	"image/color"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/consent"
	"mivlet/core/facts"
	"mivlet/core/page"
	"mivlet/core/recipe"
	"mivlet/core/veil"
	"mivlet/core/words"
	"mivlet/desk/access"
	"mivlet/desk/bench"
	"mivlet/desk/derive"
	"mivlet/desk/desktest"
	"mivlet/desk/pictures"
	"mivlet/store"
)

func TestManyInOneAct(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	var ids []uint
	for i := range 3 {
		ids = append(ids, b.Arrive(fmt.Sprintf("DSC_000%d.JPG", i), desktest.Photo(900, 600, uint64(i))).ID)
	}
	require.NoError(t, b.Bench.Send(ids, bench.Assignment{Slot: "column", Section: "touring", Folder: "2026/Autumn tour", Subject: "Across the lake", Credit: "Odo Tamsin", Tags: []string{"Lake", "lake"}}))
	for i, id := range ids {
		c, err := b.Shelves.PictureCard(id)
		require.NoError(t, err)
		assert.Equal(t, fmt.Sprintf("touring-across-the-lake-%d", i+1), c.Name)
		assert.Equal(t, "2026/autumn-tour", c.Folder)
		assert.Equal(t, "Odo Tamsin", c.Work.Credit)
		assert.Equal(t, []string{"lake"}, c.Tags)
		assert.Equal(t, "touring", c.Picture.Section)
	}
	desktest.Refusal(t, b.Bench.Send(ids[:1], bench.Assignment{Slot: "column", Section: "touring", Folder: "a/!!"}), access.Bad, "cannot be a folder name")
}

func TestDeletingIsRefusedWhilePlacedAndUndone(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	id := b.Ready("juniors-boat", 1)
	block := b.Place(id)
	desktest.Refusal(t, b.Shelves.ThrowAway(id), access.Clash, "It is on 1 page: Autumn.")
	require.NoError(t, b.Pages.TakeOff(b.PageID, block, 0, b.MarkOf(block)))
	require.NoError(t, b.Shelves.ThrowAway(id))
	found, err := b.Shelves.Shelves(store.ShelfQuery{Text: "boat"})
	require.NoError(t, err)
	assert.Empty(t, found.Pictures)
	n, err := b.Shelves.EmptyBin()
	require.NoError(t, err)
	assert.Zero(t, n, "it is kept for as long as the house says")
	require.NoError(t, b.Shelves.BringBack(id))
	found, err = b.Shelves.Shelves(store.ShelfQuery{Text: "boat"})
	require.NoError(t, err)
	assert.Len(t, found.Pictures, 1)
	require.NoError(t, b.Shelves.ThrowAway(id))
	b.SetTime(b.Time().AddDate(0, 0, 31))
	n, err = b.Shelves.EmptyBin()
	require.NoError(t, err)
	assert.Equal(t, 1, n)
	_, err = b.Shelves.PictureCard(id)
	desktest.Refusal(t, err, access.Missing, "not here")
}

// The card's field gives all tags anew: those that were there are taken, those
// that are written are added, and what is in both stays.
func TestTagsWrittenAnew(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	one := b.Ready("juniors-launch", 1)
	require.NoError(t, b.Shelves.Tag([]uint{one}, []string{"Lake", "regatta"}, nil))
	require.NoError(t, b.Shelves.Tag([]uint{one}, []string{"lake", "boats"}, []string{"lake", "regatta"}))
	c, err := b.Shelves.PictureCard(one)
	require.NoError(t, err)
	assert.Equal(t, []string{"boats", "lake"}, c.Tags)
}

func TestSearchAndQuestions(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	one, two := b.Ready("juniors-leman-launch", 1), b.Ready("juniors-two", 2)
	require.NoError(t, b.Pictures.SetWords(two, pictures.Newest, pictures.Words{Alt: "Ein Boot auf dem Léman", Credit: "Sunniva Pike"}))
	b.Refuses(two, "the one in front")
	require.NoError(t, b.Pictures.SetConsent(two, "", consent.Entry{Whom: "the other", State: consent.Allowed, Until: "2026-11-20"}, ""))
	require.NoError(t, b.Shelves.Tag([]uint{one}, []string{"regatta"}, nil))
	require.NoError(t, b.Shelves.Move([]uint{one}, "2026/autumn"))
	require.NoError(t, b.Bench.SetFrame(one, image.Rect(0, 0, 500, 400), facts.Upright))
	for query, want := range map[store.ShelfQuery][]uint{
		{Text: "leman"}:                  {one, two}, // accents are folded
		{Text: "LÉM"}:                    {one, two}, // beginnings of words, capitals do not count
		{Text: "sunniva boot"}:           {two},
		{Text: "regatta"}:                {one},
		{Text: "autumn"}:                 {one},
		{Text: `"; DROP TABLE`}:          nil,
		{Text: "nothing like it"}:        nil,
		{Folder: "2026"}:                 {one},
		{Folder: "2026/autumn"}:          {one},
		{Folder: "20"}:                   nil,
		{Section: "touring"}:             nil,
		{Tag: "regatta"}:                 {one},
		{Filter: "refused"}:              {two},
		{Filter: "expiring"}:             {two},
		{Filter: "soft"}:                 {one},
		{Filter: "no-alt"}:               nil,
		{Filter: "never-placed"}:         {one, two},
		{Filter: "this-week"}:            {one, two},
		{Person: "Mivlet"}:               {one, two},
		{Person: "nobody"}:               nil,
		{Sort: store.ByName}:             {one, two},
		{Sort: store.ByHeavier, Most: 1}: nil,
	} {
		found, err := b.Shelves.Shelves(query)
		require.NoError(t, err, "%+v", query)
		var got []uint
		for _, p := range found.Pictures {
			got = append(got, p.ID)
		}
		if query.Most == 1 {
			assert.Len(t, got, 1)
			assert.EqualValues(t, 2, found.All, "the count is of all")
			continue
		}
		assert.ElementsMatch(t, want, got, "%+v", query)
	}
	require.NoError(t, b.Bench.GoTo(one, 3)) // the whole picture again
	b.Place(one)
	found, err := b.Shelves.Shelves(store.ShelfQuery{Filter: "never-placed"})
	require.NoError(t, err)
	assert.Len(t, found.Pictures, 1)
	desktest.Refusal(t, b.Shelves.DropFolder("juniors", "2026"), access.Clash, "still contains")
}

func TestAVariantHasItsOwnRecipeAndName(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	id := b.Ready("juniors-boat", 1)
	made, err := b.Shelves.NewVariant(id)
	require.NoError(t, err)
	require.NoError(t, b.Bench.SetFrame(made, image.Rect(0, 0, 800, 800), facts.Upright))
	require.NoError(t, b.Pictures.SetName(made, "juniors-boat-square"))
	c, err := b.Shelves.PictureCard(id)
	require.NoError(t, err)
	require.Len(t, c.Variants, 1)
	assert.Equal(t, "juniors-boat-square", c.Variants[0].Name)
	assert.Empty(t, c.Work.Recipe.Edits, "the first one is as it was")
	assert.Equal(t, c.OriginalHash, c.Variants[0].OriginalHash)
}

func TestSwappingTheFileKeepsPlacementsAndChecksTheRecipe(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	id := b.Ready("juniors-boat", 1) // 1600 × 1000
	b.Place(id)
	require.NoError(t, b.Bench.SetFrame(id, image.Rect(100, 100, 1300, 900), facts.Upright))
	_, err := b.Publish.Publish(t.Context(), b.PageID, b.PageView().Seen, "", desktest.PlainLayout)
	require.NoError(t, err)
	done, err := b.Shelves.SwapFile(id, "better.jpg", bytes.NewReader(desktest.Photo(3200, 2000, 1)))
	require.NoError(t, err)
	assert.Equal(t, image.Rect(200, 200, 2600, 1800), done.Picture.Work.Recipe.Frame(done.Picture.Facts.Upright()))
	assert.Contains(t, strings.Join(done.Notes, " "), "Check the frame")
	v := b.PageView()
	assert.True(t, v.Differs)
	assert.Equal(t, "better.jpg", v.Blocks[1].Shown[0].Shows.OriginalName, "every placement follows")
	waiting, err := b.Pictures.Waiting()
	require.NoError(t, err)
	assert.Empty(t, waiting, "it does not wait in Arrivals as well")
	assert.NoError(t, desktest.Describe(b.Desk, id, "Another description"))

	done, err = b.Shelves.SwapFile(id, "upright.jpg", bytes.NewReader(desktest.Photo(1000, 1600, 3)))
	require.NoError(t, err)
	assert.Contains(t, strings.Join(done.Notes, " "), "taken off")
	_, err = b.Shelves.SwapFile(id, "no.jpg", strings.NewReader("no picture"))
	desktest.Refusal(t, err, access.Bad, "not a picture")
}

// Nobody outside of the section gets an unveiled pixel of a veiled picture, by
// whatever way: working copy, thumbnail, larger copy, older cut, history.
func TestNobodyElseSeesWhatAVeilHides(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	id := b.Ready("juniors-boat", 1)
	before, err := b.Cuts.MakeCuts(id, "column")
	require.NoError(t, err)
	region := image.Rect(400, 300, 1200, 700)
	p, err := b.Kept.Picture(id)
	require.NoError(t, err)
	p.Work.Recipe, err = p.Work.Recipe.With(recipe.Edit{Op: recipe.OpVeil, Veil: &veil.Veil{Shape: veil.Rect, Bounds: region, Style: veil.Colour}}, p.Facts.Upright())
	require.NoError(t, err)
	require.NoError(t, b.Kept.AddStep(&p, "Hidden", "Ines", b.Time()))
	after, err := b.Cuts.MakeCuts(id, "column")
	require.NoError(t, err)

	other := store.Person{Name: "Odo", Login: "odo", CreatedAt: b.Time(), Roles: []store.Role{{Section: "touring", Role: "publisher"}}}
	require.NoError(t, b.Kept.SavePerson(&other))
	who, _, err := b.People.Returning(other.ID, 0)
	require.NoError(t, err)
	d := b.As(who)

	_, err = d.Derive.Preview(id)
	desktest.Refusal(t, err, access.Forbidden, "You do not work for")
	_, err = d.Bench.View(id)
	desktest.Refusal(t, err, access.Forbidden, "You do not work for")
	_, err = d.Cuts.OpenCut(before[0].Hash)
	desktest.Refusal(t, err, access.Missing, "no such cut")
	card, err := d.Shelves.PictureCard(id)
	require.NoError(t, err, "it can be looked at and used")
	assert.Empty(t, card.Steps, "how it came to be is its people's own")
	require.Len(t, card.Cuts, len(after))

	flat := func(f derive.File, err error) {
		t.Helper()
		require.NoError(t, err)
		defer f.Close()
		m, _, err := image.Decode(f)
		require.NoError(t, err)
		size := m.Bounds()
		at := func(fx, fy float64) color.RGBA {
			return color.RGBAModel.Convert(m.At(int(fx*float64(size.Dx())), int(fy*float64(size.Dy())))).(color.RGBA)
		}
		first := at(0.33, 0.38)
		for _, fx := range []float64{0.33, 0.4, 0.5, 0.6, 0.67} {
			for _, fy := range []float64{0.38, 0.5, 0.62} {
				c := at(fx, fy)
				assert.InDelta(t, first.R, c.R, 6)
				assert.InDelta(t, first.G, c.G, 6)
				assert.InDelta(t, first.B, c.B, 6)
			}
		}
	}
	thumb, _, err := d.Derive.Thumb(id)
	flat(thumb, err)
	look, _, err := d.Derive.Look(id)
	flat(look, err)
	f, err := d.Cuts.OpenCut(after[0].Hash)
	flat(f, err)
	// And whoever works for the section still sees beneath.
	_, err = b.Derive.Preview(id)
	assert.NoError(t, err)
	_, err = b.Cuts.OpenCut(before[0].Hash)
	assert.NoError(t, err)
	// A page of another section may use it.
	pg := store.Page{Section: "touring", Slug: "tour", Version: 1, UpdatedAt: b.Time(), Doc: page.Doc{Version: page.Version, Title: "Tour"}}
	require.NoError(t, b.Kept.AddPage(&pg))
	_, err = d.Pages.Insert(pg.ID, page.Gap{}, page.Placement{Picture: id, Slot: "column"})
	assert.NoError(t, err)
}

func TestWordsThatSayNothing(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	id := b.Ready("juniors-boat", 1)
	require.NoError(t, b.Pictures.SetWords(id, pictures.Newest, pictures.Words{Decorative: true, Reason: "a line between two parts"}))
	v, err := b.Bench.View(id)
	require.NoError(t, err)
	assert.True(t, v.Ready(), "deliberately without words: %v", v.Findings)
	fs, err := b.Pictures.CheckWords(id, pictures.Words{Alt: "Photo of a boat"})
	require.NoError(t, err)
	assert.Equal(t, words.ImageOf, fs[0].Code)
}
