package suite

import (
	"image"
	"slices"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/consent"
	"mivlet/core/face"
	"mivlet/core/facts"
	"mivlet/core/recipe"
	"mivlet/store"
)

func pictures(h *house) {
	taken := time.Date(2026, 10, 31, 9, 30, 0, 0, time.UTC)
	whole := h.picture("juniors", "juniors-boat", func(p *store.Picture) {
		p.Facts = facts.Facts{MediaType: "image/jpeg", Bytes: 900, Taken: taken, Position: true}
		p.Work.Alt, p.Work.Also, p.Work.Budgets = "A boat", []string{"wide"}, map[string]int64{"column": 9000}
		p.Consents = []consent.Entry{{ID: "a", Whom: "the girl", State: consent.Refused, Until: "2027-01-01", Veils: []string{"veil1"}}}
		p.Faces = []face.Face{{Bounds: image.Rect(1, 2, 30, 40), Score: 0.75}}
		p.Secret, p.Person, p.Folder, p.TwinA = "s", "Ines", "2026/autumn", -5
	})
	p := of(h.Picture(whole.ID))(h)
	assert.Equal(h, 1, p.Version)
	whole.Work.Recipe, p.Work.Recipe = recipe.Recipe{}, recipe.Recipe{} // core/recipe knows its own form
	assert.Equal(h, whole.Work, p.Work)
	assert.Equal(h, whole.Consents, p.Consents)
	assert.Equal(h, whole.Faces, p.Faces)
	assert.Equal(h, whole.Facts, p.Facts)
	assert.EqualValues(h, -5, p.TwinA)
	assert.True(h, noon.Equal(p.CreatedAt))
	assert.Equal(h, []any{"2026-10-31T09:30:00", true, int64(900), true, string(consent.Refused), true}, []any{p.Taken, p.Described, p.Bytes, p.Position, p.Consent, p.Shelved}, "what follows from the rest is filled in")

	p.Section, p.Work.Name, p.Work.Alt = "touring", "touring-boat", ""
	h.ok(h.SavePicture(&p))
	again := of(h.Picture(p.ID))(h)
	assert.Equal(h, []any{2, "touring", "touring-boat", false}, []any{again.Version, again.Section, again.Name, again.Described})
	_, err := h.Picture(999)
	assert.ErrorIs(h, err, store.ErrNotFound)

	assert.True(h, of(h.NameTaken("touring", "touring-boat", 0))(h))
	assert.False(h, of(h.NameTaken("touring", "touring-boat", p.ID))(h), "not by another")
	assert.False(h, of(h.NameTaken("juniors", "touring-boat", 0))(h), "not in that section")
	assert.ErrorIs(h, h.AddPicture(&store.Picture{Section: "touring", Work: store.Work{Name: "touring-boat"}}), store.ErrTaken, "two pictures of a section never share a name")
	for range 2 {
		h.ok(h.AddPicture(&store.Picture{Section: "touring", OriginalHash: p.OriginalHash, ArrivedHash: "came", Station: store.Arrivals}))
	}
	assert.Len(h, of(h.PicturesByOriginal(p.OriginalHash))(h), 3)
	assert.Len(h, of(h.PicturesByOriginal("came"))(h), 2)
	by := of(h.PicturesByOriginals([]string{"came", p.OriginalHash, "nothing"}))(h)
	assert.Equal(h, []int{2, 3, 0}, []int{len(by["came"]), len(by[p.OriginalHash]), len(by["nothing"])})

	assert.True(h, of(h.SetPreview(store.Picture{ID: p.ID, OriginalHash: p.OriginalHash, PreviewHash: "small", TwinA: 1, TwinB: 2, TwinC: 3, TwinCrops: []byte{4, 5}}))(h))
	assert.False(h, of(h.SetPreview(store.Picture{ID: p.ID, OriginalHash: "of another file"}))(h), "it was swapped meanwhile")
	assert.False(h, of(h.SetPreview(store.Picture{ID: 999}))(h))
	assert.True(h, of(h.SetLooks(store.Picture{ID: p.ID, LookKey: "k", ThumbHash: "t", LookHash: "l"}))(h))
	assert.False(h, of(h.SetLooks(store.Picture{ID: 999}))(h))
	h.ok(h.SetFaces(store.Picture{ID: p.ID, OriginalHash: p.OriginalHash, FacesBy: 7}))
	h.ok(h.SetFaces(store.Picture{ID: p.ID, OriginalHash: "of another file", FacesBy: 8}))
	h.ok(h.SetStation(p.ID, store.Arrivals))
	again = of(h.Picture(p.ID))(h)
	assert.Equal(h, []any{"small", int64(2), "k", "t", "l", 7, store.Arrivals, false, "touring-boat", 2},
		[]any{again.PreviewHash, again.TwinB, again.LookKey, again.ThumbHash, again.LookHash, again.FacesBy, again.Station, again.Shelved, again.Name, again.Version}, "each notes its own and nothing else")
	assert.Empty(h, again.Faces)
	assert.Equal(h, []store.Twins{{ID: p.ID, TwinA: 1, TwinB: 2, TwinC: 3, TwinCrops: []byte{4, 5}}}, of(h.Twins())(h))

	arrived := numbers(of(h.PicturesAt(store.Arrivals))(h))
	assert.True(h, len(arrived) == 3 && slices.IsSortedFunc(arrived, func(a, b uint) int { return int(b) - int(a) }), "newest first: %v", arrived)
	assert.Equal(h, arrived[:2], numbers(of(h.PicturesOf(store.Arrivals, []string{"touring"}, 2))(h)))
	assert.Empty(h, of(h.PicturesOf(store.Arrivals, []string{"juniors"}, 9))(h))
	assert.Empty(h, of(h.PicturesOf(store.Arrivals, []string{}, 9))(h), "of no section")
	assert.Len(h, of(h.PicturesOf(store.Arrivals, nil, 9))(h), 3, "of all")
	h.page("touring", "trips")
	assert.EqualValues(h, 4, of(h.CountInSection("touring"))(h))
	assert.EqualValues(h, 0, of(h.CountInSection("juniors"))(h))
}

// manyPictures asks for more at once than one statement of a database may name.
func manyPictures(h *house) {
	p := h.picture("juniors", "juniors-boat")
	placed := h.page("juniors", "autumn", p.ID)
	many := make([]uint, 40_000)
	hashes := make([]string, len(many))
	for i := range many {
		many[i] = uint(i + 1)
	}
	hashes[39_999] = p.OriginalHash
	assert.Equal(h, map[uint]int{p.ID: 1}, of(h.VersionsOf(many))(h))
	assert.Contains(h, of(h.PicturesIn(many))(h), p.ID)
	assert.Equal(h, map[uint]store.Standing{p.ID: {Station: store.Bench, Name: "juniors-boat", Placed: true}}, of(h.StandingOf(many))(h))
	assert.Empty(h, of(h.CutsIn(many))(h))
	assert.Empty(h, of(h.Showing(many...))(h))
	assert.Len(h, of(h.PicturesByOriginals(hashes))(h)[p.OriginalHash], 1)
	h.ok(h.DropCuts(many))
	for _, none := range [][]uint{nil, {}} {
		assert.Empty(h, of(h.PicturesIn(none))(h))
		assert.Empty(h, of(h.PagesIn(none))(h))
	}
	assert.Equal(h, []string{"autumn"}, titles(of(h.PagesIn([]uint{placed.ID, 999}))(h)))
}

func pictureSteps(h *house) {
	p := h.picture("juniors", "")
	for _, name := range []string{"juniors-one", "juniors-two"} {
		p.Work.Name = name
		h.ok(h.AddStep(&p, "Named "+name, "Ines", noon))
	}
	p.Step = 1
	h.ok(h.SavePicture(&p))
	p.Work.Name = "juniors-three"
	h.ok(h.AddStep(&p, "Named", "Odo", noon.Add(time.Hour)))
	steps := of(h.Steps(p.ID))(h)
	require.Len(h, steps, 4, "what was undone is kept")
	assert.Equal(h, []int{-1, 0, 1, 1}, []int{steps[0].Parent, steps[1].Parent, steps[2].Parent, steps[3].Parent}, "a new step after an undo begins a branch")
	assert.Equal(h, []any{"juniors-three", "Odo", 3}, []any{steps[3].Work.Name, steps[3].Person, steps[3].Seq})
	assert.True(h, noon.Add(time.Hour).Equal(steps[3].CreatedAt))
	assert.Equal(h, 3, of(h.Picture(p.ID))(h).Step)
	assert.Equal(h, "juniors-two", of(h.Step(p.ID, 2))(h).Work.Name)
	_, err := h.Step(p.ID, 9)
	assert.ErrorIs(h, err, store.ErrNotFound)
	assert.Len(h, of(h.StepsSince(p.ID, 2))(h), 2)
	h.ok(h.ForgetSteps(p.ID, 3))
	steps = of(h.Steps(p.ID))(h)
	require.Len(h, steps, 1)
	assert.Equal(h, -1, steps[0].Parent)
	h.ok(h.AddStep(&p, "Named", "Odo", noon))
	assert.Equal(h, 4, p.Step, "numbers are not given again")
}

func cutsAndCopies(h *house) {
	p, other := h.picture("juniors", "juniors-boat"), h.picture("juniors", "juniors-lake")
	h.ok(h.AddCuts([]store.Cut{{PictureID: p.ID, Key: "k", Density: 2, Hash: "two", MadeAt: noon}, {PictureID: p.ID, Key: "k", Density: 1, Hash: "one", Width: 640, Why: "as small as it may be", MadeAt: noon}}, true))
	h.ok(h.AddCuts([]store.Cut{{PictureID: p.ID, Key: "later", Density: 1, Hash: "one", MadeAt: noon.Add(time.Hour)}}, false))
	h.ok(h.AddCuts([]store.Cut{{PictureID: other.ID, Key: "k", Density: 1, Hash: "other", MadeAt: noon}}, true))
	assert.ErrorIs(h, h.AddCuts([]store.Cut{{PictureID: 999, Key: "k"}}, false), store.ErrNotFound)
	cuts := of(h.Cuts(p.ID, "k"))(h)
	require.Len(h, cuts, 2)
	assert.Equal(h, []any{1.0, 2.0, 640, "as small as it may be"}, []any{cuts[0].Density, cuts[1].Density, cuts[0].Width, cuts[0].Why}, "in ascending density")
	assert.False(h, of(h.Picture(p.ID))(h).Heavy, "the last ones say")
	assert.True(h, of(h.Picture(other.ID))(h).Heavy)
	assert.Len(h, of(h.CutsByHash("one"))(h), 2)
	assert.Len(h, of(h.AllCuts(p.ID))(h), 3)
	assert.Equal(h, "later", of(h.AllCuts(p.ID))(h)[0].Key, "newest first")
	in := of(h.CutsIn([]uint{p.ID, other.ID}))(h)
	assert.Equal(h, []int{3, 1}, []int{len(in[p.ID]), len(in[other.ID])})
	old := of(h.CutsMadeBefore(noon.Add(time.Minute)))(h)
	assert.Equal(h, []int{2, 1}, []int{len(old[p.ID]), len(old[other.ID])})
	h.ok(h.DropCuts([]uint{cuts[0].ID}))
	assert.Len(h, of(h.Cuts(p.ID, "k"))(h), 1)

	h.ok(h.SetCopies(p.ID, "stage", "k", []string{"a", "b"}))
	h.ok(h.SetCopies(p.ID, "stage", "l", []string{"c"}))
	h.ok(h.SetCopies(p.ID, "faces", "k", []string{"d"}))
	assert.Empty(h, of(h.Copies(p.ID, "stage", "k"))(h), "the new ones stand in the place of the old")
	assert.Equal(h, "c", of(h.Copies(p.ID, "stage", "l"))(h)[0].Hash)
	assert.Len(h, of(h.Copies(p.ID, "faces", "k"))(h), 1)
	assert.ErrorIs(h, h.SetCopies(999, "stage", "k", []string{"a"}), store.ErrNotFound)
	made := of(h.FilesMadeOf(p.ID))(h)
	slices.Sort(made)
	assert.Equal(h, []string{"c", "d", "one", "two"}, made)
}
