package desk_test

import (
	"bytes"
	"fmt"
	"image"
	"image/color"
	"image/jpeg"
	"io"
	"os"
	"strings"
	"testing"
	"testing/fstest"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"mivlet/core/consent"
	"mivlet/core/page"
	"mivlet/core/recipe"
	"mivlet/core/rules"
	"mivlet/core/veil"
	"mivlet/desk"
	"mivlet/desk/access"
	"mivlet/desk/bench"
	"mivlet/desk/derive"
	"mivlet/desk/pictures"
	"mivlet/store"
)

func TestManyInOneAct(t *testing.T) {
	t.Parallel()
	b := fresh(t)
	var ids []uint
	for i := range 3 {
		ids = append(ids, b.arrive(fmt.Sprintf("DSC_000%d.JPG", i), photo(900, 600, uint64(i))).ID)
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
	refusal(t, b.Bench.Send(ids[:1], bench.Assignment{Slot: "column", Section: "touring", Folder: "a/!!"}), access.Bad, "cannot be a folder name")
}

func TestRenamingIsPlannedAndFollowed(t *testing.T) {
	t.Parallel()
	b := fresh(t)
	one, two := b.ready("juniors-one", 1), b.ready("juniors-two", 2)
	b.place(one)
	_, err := b.Publish.Publish(t.Context(), b.page, b.view().Seen, "", plainLayout)
	require.NoError(t, err)
	plan, err := b.Pictures.PlanNames([]uint{one, two}, "First launch")
	require.NoError(t, err)
	assert.Equal(t, "juniors-one", plan[0].From)
	assert.Equal(t, "juniors-first-launch-1", plan[0].To)
	assert.Equal(t, "juniors-first-launch-2", plan[1].To)
	assert.NotEmpty(t, plan[0].Steps)
	require.NoError(t, b.Pictures.Rename(map[uint]string{one: plan[0].To, two: plan[1].To}))
	assert.True(t, b.view().Differs, "the live page says that it wants publishing again")
	found, err := b.Shelves.Shelves(store.ShelfQuery{Text: "juniors-one"})
	require.NoError(t, err)
	require.Len(t, found.Pictures, 1, "the old name still finds it")
	assert.Equal(t, one, found.Pictures[0].ID)

	var refused *pictures.NameRefusal
	require.ErrorAs(t, b.Pictures.Rename(map[uint]string{one: "juniors-new-name", two: "juniors-first-launch-1!"}), &refused)
	c, err := b.Shelves.PictureCard(one)
	require.NoError(t, err)
	assert.Equal(t, "juniors-first-launch-1", c.Name, "all are renamed, or none")
}

// Under any order of acts no two pictures share a name.
func TestNoTwoPicturesShareAName(t *testing.T) {
	t.Parallel()
	b := fresh(t)
	var ids []uint
	for i := range 4 {
		ids = append(ids, b.arrive(fmt.Sprintf("DSC_000%d.JPG", i), photo(160, 120, uint64(i))).ID)
	}
	require.NoError(t, b.Bench.Send(ids, bench.Assignment{Slot: "thumb", Section: "juniors"}))
	rapid.Check(t, func(t *rapid.T) {
		for range rapid.IntRange(1, 8).Draw(t, "acts") {
			id := rapid.SampledFrom(ids).Draw(t, "picture")
			name := "juniors-" + rapid.SampledFrom([]string{"boat", "boat-2", "boat-3", "lake"}).Draw(t, "name")
			switch rapid.IntRange(0, 4).Draw(t, "act") {
			case 0:
				_ = b.Pictures.SetName(id, name)
			case 1:
				_ = b.Pictures.Rename(map[uint]string{id: name})
			case 2:
				_ = b.Shelves.ThrowAway(id)
			case 3:
				_ = b.Shelves.BringBack(id)
			case 4:
				if plan, err := b.Pictures.PlanNames(ids, "boat"); err == nil {
					names := map[uint]string{}
					for _, p := range plan {
						names[p.Picture.ID] = p.To
					}
					_ = b.Pictures.Rename(names)
				}
			}
			seen := map[string]uint{}
			for _, id := range ids {
				p, err := b.store.Picture(id)
				if err != nil {
					t.Fatal(err)
				}
				if other, there := seen[p.Name]; there && p.Name != "" {
					t.Fatalf("%d and %d are both called %s", id, other, p.Name)
				}
				seen[p.Name] = id
			}
		}
	})
}

func TestDeletingIsRefusedWhilePlacedAndUndone(t *testing.T) {
	t.Parallel()
	b := fresh(t)
	id := b.ready("juniors-boat", 1)
	block := b.place(id)
	refusal(t, b.Shelves.ThrowAway(id), access.Clash, "It is on 1 page: Autumn.")
	require.NoError(t, b.Pages.TakeOff(b.page, block, 0, b.mark(block)))
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
	b.now = b.now.AddDate(0, 0, 31)
	n, err = b.Shelves.EmptyBin()
	require.NoError(t, err)
	assert.Equal(t, 1, n)
	_, err = b.Shelves.PictureCard(id)
	refusal(t, err, access.Missing, "not here")
}

// The card's field gives all tags anew: those that were there are taken, those
// that are written are added, and what is in both stays.
func TestTagsWrittenAnew(t *testing.T) {
	t.Parallel()
	b := fresh(t)
	one := b.ready("juniors-launch", 1)
	require.NoError(t, b.Shelves.Tag([]uint{one}, []string{"Lake", "regatta"}, nil))
	require.NoError(t, b.Shelves.Tag([]uint{one}, []string{"lake", "boats"}, []string{"lake", "regatta"}))
	c, err := b.Shelves.PictureCard(one)
	require.NoError(t, err)
	assert.Equal(t, []string{"boats", "lake"}, c.Tags)
}

func TestSearchAndQuestions(t *testing.T) {
	t.Parallel()
	b := fresh(t)
	one, two := b.ready("juniors-leman-launch", 1), b.ready("juniors-two", 2)
	require.NoError(t, b.Pictures.SetWords(two, pictures.Newest, pictures.Words{Alt: "Ein Boot auf dem Léman", Credit: "Sunniva Pike"}))
	b.refuses(two, "the one in front")
	require.NoError(t, b.Pictures.SetConsent(two, "", consent.Entry{Whom: "the other", State: consent.Allowed, Until: "2026-11-20"}, ""))
	require.NoError(t, b.Shelves.Tag([]uint{one}, []string{"regatta"}, nil))
	require.NoError(t, b.Shelves.Move([]uint{one}, "2026/autumn"))
	require.NoError(t, b.Bench.SetFrame(one, image.Rect(0, 0, 500, 400)))
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
	b.place(one)
	found, err := b.Shelves.Shelves(store.ShelfQuery{Filter: "never-placed"})
	require.NoError(t, err)
	assert.Len(t, found.Pictures, 1)
	refusal(t, b.Shelves.DropFolder("juniors", "2026"), access.Clash, "still contains")
}

func TestAVariantHasItsOwnRecipeAndName(t *testing.T) {
	t.Parallel()
	b := fresh(t)
	id := b.ready("juniors-boat", 1)
	made, err := b.Shelves.NewVariant(id)
	require.NoError(t, err)
	require.NoError(t, b.Bench.SetFrame(made, image.Rect(0, 0, 800, 800)))
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
	b := fresh(t)
	id := b.ready("juniors-boat", 1) // 1600 × 1000
	b.place(id)
	require.NoError(t, b.Bench.SetFrame(id, image.Rect(100, 100, 1300, 900)))
	_, err := b.Publish.Publish(t.Context(), b.page, b.view().Seen, "", plainLayout)
	require.NoError(t, err)
	done, err := b.Shelves.SwapFile(id, "better.jpg", bytes.NewReader(photo(3200, 2000, 1)))
	require.NoError(t, err)
	assert.Equal(t, image.Rect(200, 200, 2600, 1800), done.Picture.Work.Recipe.Frame(done.Picture.Facts.Upright()))
	assert.Contains(t, strings.Join(done.Notes, " "), "Check the frame")
	v := b.view()
	assert.True(t, v.Differs)
	assert.Equal(t, "better.jpg", v.Blocks[1].Shown[0].Shows.OriginalName, "every placement follows")
	waiting, err := b.Pictures.Waiting()
	require.NoError(t, err)
	assert.Empty(t, waiting, "it does not wait in Arrivals as well")
	assert.NoError(t, describe(b.Desk, id, "Another description"))

	done, err = b.Shelves.SwapFile(id, "upright.jpg", bytes.NewReader(photo(1000, 1600, 3)))
	require.NoError(t, err)
	assert.Contains(t, strings.Join(done.Notes, " "), "taken off")
	_, err = b.Shelves.SwapFile(id, "no.jpg", strings.NewReader("no picture"))
	refusal(t, err, access.Bad, "not a picture")
}

// smaller is the same photo at half its size, recompressed.
func smaller(t *testing.T, data []byte) []byte {
	m, err := jpeg.Decode(bytes.NewReader(data))
	require.NoError(t, err)
	out := image.NewRGBA(image.Rect(0, 0, m.Bounds().Dx()/2, m.Bounds().Dy()/2))
	for y := range out.Rect.Dy() {
		for x := range out.Rect.Dx() {
			out.Set(x, y, m.At(2*x, 2*y))
		}
	}
	var b bytes.Buffer
	require.NoError(t, jpeg.Encode(&b, out, &jpeg.Options{Quality: 50}))
	return b.Bytes()
}

func TestTwinsAndNearTwins(t *testing.T) {
	t.Parallel()
	b := fresh(t)
	data, err := os.ReadFile("../demo/pictures/P1040860.JPG")
	require.NoError(t, err)
	first := b.arrive("a.jpg", data)
	assert.Nil(t, first.Twin)
	assert.Empty(t, first.Near)
	again := b.arrive("b.jpg", data)
	require.NotNil(t, again.Twin, "exactly the same file")
	assert.Equal(t, first.ID, again.Twin.ID)
	near := b.arrive("c.jpg", smaller(t, data))
	assert.Nil(t, near.Twin)
	require.NotEmpty(t, near.Near, "the same photo, smaller")
}

func TestTheHousesTypesRuleArrivals(t *testing.T) {
	t.Parallel()
	b := fresh(t)
	svg := []byte(`<svg xmlns="http://www.w3.org/2000/svg" width="10" height="10"/>`)
	_, err := b.Pictures.Arrive("logo.svg", bytes.NewReader(svg), "juniors")
	refusal(t, err, access.Bad, "Save it as PNG")
	bmp := append([]byte("BM\x46\x00\x00\x00\x00\x00\x00\x00\x36\x00\x00\x00\x28\x00\x00\x00\x02\x00\x00\x00\x02\x00\x00\x00\x01\x00\x18\x00\x00\x00\x00\x00\x10\x00\x00\x00\x13\x0b\x00\x00\x13\x0b\x00\x00\x00\x00\x00\x00\x00\x00\x00\x00"),
		bytes.Repeat([]byte{10, 20, 200, 10, 20, 200, 0, 0}, 2)...)
	a, err := b.Pictures.Arrive("scan.bmp", bytes.NewReader(bmp), "juniors")
	require.NoError(t, err)
	assert.Equal(t, "image/bmp", a.Converted)
	assert.Equal(t, "image/png", a.Facts.MediaType, "converted as the house says; the file that came is kept beside it")
	raw, err := b.store.Files.Open(a.ArrivedHash)
	require.NoError(t, err)
	kept, _ := io.ReadAll(raw)
	raw.Close()
	assert.Equal(t, bmp, kept)
	again, err := b.Pictures.Arrive("again.bmp", bytes.NewReader(bmp), "juniors")
	require.NoError(t, err)
	require.NotNil(t, again.Twin, "the file that came is known again")

	require.NoError(t, b.House.ChangeRules(func(r rules.Rules) (rules.Rules, error) {
		return r.AddType(rules.Type{Title: "PDF document", MediaType: "application/pdf", Extension: ".pdf", Bytes: "25504446", Do: rules.Refuse, Say: "Bring its first page as a picture."})
	}))
	require.NoError(t, b.House.ChangeRules(set("/types/image/jpeg/do", "refuse")))
	require.NoError(t, b.House.ChangeRules(set("/types/image/jpeg/say", "Bring it as WebP.")))
	_, err = b.House.ApplyRules("try it")
	require.NoError(t, err)
	_, err = b.Pictures.Arrive("letter.pdf", strings.NewReader("%PDF-1.7 and so on"), "juniors")
	refusal(t, err, access.Bad, "PDF document")
	_, err = b.Pictures.Arrive("a.jpg", bytes.NewReader(photo(90, 60, 1)), "juniors")
	refusal(t, err, access.Bad, "Bring it as WebP.")
}

func TestTheCameraCard(t *testing.T) {
	t.Parallel()
	b := fresh(t)
	card := fstest.MapFS{"DCIM/100BRIND/DSC_0001.JPG": {Data: photo(300, 200, 1)}, "DCIM/100BRIND/DSC_0002.JPG": {Data: photo(300, 200, 2)}, "DCIM/100BRIND/broken.JPG": {Data: []byte{1}}, "MISC/X.MRK": {Data: []byte{1}}}
	d, err := desk.New(&b.store.Store, desk.Options{Card: card})
	require.NoError(t, err)
	t.Cleanup(d.Jobs.End)
	v, err := d.Pictures.Card()
	require.NoError(t, err)
	assert.True(t, v.There)
	assert.Empty(t, v.Files, "nothing is seen before it is inserted")
	require.NoError(t, d.Pictures.InsertCard(true))
	v, err = d.Pictures.Card()
	require.NoError(t, err)
	assert.Len(t, v.Files, 2)
	assert.Equal(t, 2, v.Clutter)
	job, err := d.Pictures.TakeFromCard([]string{"DCIM/100BRIND/DSC_0001.JPG"}, "juniors")
	require.NoError(t, err)
	job.Wait()
	assert.Empty(t, job.Progress().Failed)
	v, err = d.Pictures.Card()
	require.NoError(t, err)
	assert.True(t, v.Files[0].Taken, "taken before")
	assert.False(t, v.Files[1].Taken)
	require.NoError(t, d.Pictures.InsertCard(false))
	_, err = d.Pictures.TakeFromCard([]string{"DCIM/100BRIND/DSC_0002.JPG"}, "juniors")
	refusal(t, err, access.Missing, "no card")
}

// Nobody outside of the section gets an unveiled pixel of a veiled picture, by
// whatever way: working copy, thumbnail, larger copy, older cut, history.
func TestNobodyElseSeesWhatAVeilHides(t *testing.T) {
	t.Parallel()
	b := fresh(t)
	id := b.ready("juniors-boat", 1)
	before, err := b.Cuts.MakeCuts(id, "column")
	require.NoError(t, err)
	region := image.Rect(400, 300, 1200, 700)
	p, err := b.store.Picture(id)
	require.NoError(t, err)
	p.Work.Recipe, err = p.Work.Recipe.With(recipe.Edit{Op: recipe.OpVeil, Veil: &veil.Veil{Shape: veil.Rect, Bounds: region, Style: veil.Colour}}, p.Facts.Upright())
	require.NoError(t, err)
	require.NoError(t, b.store.AddStep(&p, "Hidden", "Ines", b.now))
	after, err := b.Cuts.MakeCuts(id, "column")
	require.NoError(t, err)

	other := store.Person{Name: "Odo", Login: "odo", CreatedAt: b.now, Roles: []store.Role{{Section: "touring", Role: "publisher"}}}
	require.NoError(t, b.store.SavePerson(&other))
	who, _, err := b.People.Returning(other.ID, 0)
	require.NoError(t, err)
	d := b.As(who)

	_, err = d.Derive.Preview(id)
	refusal(t, err, access.Forbidden, "You do not work for")
	_, err = d.Bench.View(id)
	refusal(t, err, access.Forbidden, "You do not work for")
	_, err = d.Cuts.OpenCut(before[0].Hash)
	refusal(t, err, access.Missing, "no such cut")
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
	pg := store.Page{Section: "touring", Slug: "tour", Version: 1, UpdatedAt: b.now, Doc: page.Doc{Version: page.Version, Title: "Tour"}}
	require.NoError(t, b.store.AddPage(&pg))
	_, err = d.Pages.Insert(pg.ID, page.Gap{}, page.Placement{Picture: id, Slot: "column"})
	assert.NoError(t, err)
}

func TestWordsThatSayNothing(t *testing.T) {
	t.Parallel()
	b := fresh(t)
	id := b.ready("juniors-boat", 1)
	require.NoError(t, b.Pictures.SetWords(id, pictures.Newest, pictures.Words{Decorative: true, Reason: "a line between two parts"}))
	v, err := b.Bench.View(id)
	require.NoError(t, err)
	assert.True(t, v.Ready(), "deliberately without words: %v", v.Findings)
	fs, err := b.Pictures.CheckWords(id, pictures.Words{Alt: "Photo of a boat"})
	require.NoError(t, err)
	assert.Equal(t, "image-of", fs[0].Code)
}
