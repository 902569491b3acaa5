package bench_test

import (
	"bytes"
	"image"
	"image/color"
	"image/draw"
	"image/jpeg"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	scaled "golang.org/x/image/draw"

	"mivlet/core/consent"
	"mivlet/core/fit"
	"mivlet/core/rules"
	"mivlet/core/veil"
	"mivlet/desk"
	"mivlet/desk/access"
	"mivlet/desk/bench"
	"mivlet/desk/desktest"
	"mivlet/desk/pictures"
)

// looking is a fresh desk that looks for faces.
func looking(t *testing.T, set ...func(*desk.Options)) *desktest.Fixture {
	t.Helper()
	b := desktest.FreshWith(t, func(o *desk.Options) {
		for _, s := range set {
			s(o)
		}
	})
	b.UnderRules(func(r *rules.Rules) { r.Hiding.LeaveFace = false })
	return b
}

func TestFacesAreHiddenAndAllowed(t *testing.T) {
	t.Parallel()
	b := looking(t)
	id := b.Juniors()
	all, keys := b.FacesOf(id)
	assert.Contains(t, b.FoundIn(id), "warn: 2 faces can be seen, and nobody was asked.")
	for _, f := range all {
		assert.Equal(t, bench.FaceOpen, f.State, "finding covers nothing")
	}
	require.NoError(t, b.Bench.HideFaces(id, keys[:1], veil.Cover))
	require.NoError(t, b.Bench.AllowFaces(id, keys[1:], true))
	all, _ = b.FacesOf(id)
	assert.Equal(t, bench.FaceCovered, all[0].State)
	assert.Equal(t, bench.FaceLeft, all[1].State)
	assert.NotContains(t, b.FoundIn(id), "can be seen, and nobody was asked")
	desktest.Refusal(t, b.Bench.HideFaces(id, keys[:1], veil.Cover), access.Bad, "hidden already")
	desktest.Refusal(t, b.Bench.HideFaces(id, []string{"1-2-3-4"}, veil.Cover), access.Missing, "not in this picture")
	desktest.Refusal(t, b.Bench.AllowFaces(id, []string{"1-2-3-4"}, true), access.Missing, "not in this picture")
	desktest.Refusal(t, b.Bench.HideFaces(id, keys, veil.Colour), access.Bad, "to cover or to soften")
	require.NoError(t, b.Bench.AllowFaces(id, keys[1:], false))
	require.NoError(t, b.Bench.HideFaces(id, keys, veil.Figure))
	v, err := b.Bench.View(id)
	require.NoError(t, err)
	veils := v.Work.Recipe.Veils()
	require.Len(t, veils, 2)
	assert.Equal(t, veil.Figure, veils[1].Style)
	assert.Zero(t, veils[1].Bits(), "it tells nothing")
	require.NoError(t, b.Bench.GoTo(id, 0))
	all, _ = b.FacesOf(id)
	assert.Equal(t, bench.FaceOpen, all[0].State, "undone")
}

// Automatic crops keep the faces.
func TestCropsKeepFaces(t *testing.T) {
	t.Parallel()
	b := looking(t)
	id := b.Juniors()
	all, _ := b.FacesOf(id)
	boxes, err := b.Bench.Boxes(id, nil)
	require.NoError(t, err)
	require.NotEmpty(t, boxes.Boxes)
	for _, box := range boxes.Boxes {
		both := all[0].Bounds.Union(all[1].Bounds)
		if part := fit.SizeOf(box.Part); part.W >= both.Dx() && part.H >= both.Dy() {
			assert.True(t, both.In(box.Part), "%s takes %v, the faces are %v", box.Title, box.Part, both)
		}
	}
}

// Who said no has a face: the sign-off asks which, and covering it answers.
func TestARefusalAndItsFace(t *testing.T) {
	t.Parallel()
	b := looking(t)
	id := b.Juniors()
	_, keys := b.FacesOf(id)
	require.NoError(t, b.Pictures.SetConsent(id, "", consent.Entry{Whom: "the one in red", State: consent.Refused}, ""))
	assert.Contains(t, b.FoundIn(id), "stop: One person in this picture refused permission. Under “Who is seen”, choose which face is theirs")
	e := b.PictureOf(id).Consents[0]
	desktest.Refusal(t, b.Bench.CoverPerson(id, e.ID, "another", keys[0]), access.Clash, "in the meantime")
	require.NoError(t, b.Bench.CoverPerson(id, e.ID, pictures.ConsentMark(e), keys[0]))
	assert.NotContains(t, b.FoundIn(id), "refused")
	p := b.PictureOf(id)
	assert.Equal(t, p.Work.Recipe.VeilIDs(), p.Consents[0].Veils)
	all, _ := b.FacesOf(id)
	assert.Equal(t, bench.FaceCovered, all[0].State)
	assert.Equal(t, bench.FaceOpen, all[1].State)
	v, err := b.Bench.View(id)
	require.NoError(t, err)
	assert.Equal(t, "Covered the face of the one in red", v.Steps[len(v.Steps)-1].Text)
	require.NoError(t, b.Bench.GoTo(id, 0))
	assert.Contains(t, b.FoundIn(id), "refused", "without its veil the refusal binds again")
}

func TestWhatTheHouseSaysOfFaces(t *testing.T) {
	t.Parallel()
	b := looking(t)
	id := b.Juniors()
	b.UnderRules(func(r *rules.Rules) { r.Hiding.FacesStop = true })
	assert.Contains(t, b.FoundIn(id), "stop: 2 faces can be seen")
	require.NoError(t, b.Pictures.SetConsent(id, "", consent.Entry{Whom: "both", State: consent.Allowed}, ""))
	assert.NotContains(t, b.FoundIn(id), "can be seen, and nobody")
	b.UnderRules(func(r *rules.Rules) { r.Hiding.LeaveFace = true })
	_, err := b.Bench.Faces(id)
	desktest.Refusal(t, err, access.Bad, "does not look for faces")
	assert.Empty(t, b.Arrive("DSC_0430.JPG", desktest.DemoFile(t, "DSC_0430.JPG")).Faces)
	later := b.Arrive("again.jpg", desktest.DemoFile(t, "IMG_2140.JPG")).ID
	b.UnderRules(func(r *rules.Rules) { r.Hiding.LeaveFace = false })
	require.NoError(t, b.Bench.Send([]uint{later}, bench.Assignment{Slot: "column", Section: "juniors"}))
	all, _ := b.FacesOf(later)
	assert.NotEmpty(t, all, "what came meanwhile is looked at when somebody asks")
	assert.Len(t, b.PictureOf(later).Faces, len(all), "and remembered")
}

// Another file has other faces, and what was allowed of the old ones is not of the new.
func TestASwappedFileHasOtherFaces(t *testing.T) {
	t.Parallel()
	b := looking(t)
	id := b.Juniors()
	_, keys := b.FacesOf(id)
	require.NoError(t, b.Bench.AllowFaces(id, keys, true))
	_, err := b.Shelves.SwapFile(id, "fire.jpg", bytes.NewReader(desktest.DemoFile(t, "IMG_2140.JPG")))
	require.NoError(t, err)
	all, now := b.FacesOf(id)
	assert.NotEqual(t, keys, now)
	for _, f := range all {
		assert.Equal(t, bench.FaceOpen, f.State)
	}
}

// A closer look finds who is small in a large photo; what was said of the others stays, and
// it is offered until somebody has looked.
func TestLookingCloser(t *testing.T) {
	t.Parallel()
	if testing.Short() {
		t.Skip("slow")
	}
	b := looking(t)
	a := b.Arrive("crowd.jpg", crowd(t))
	require.NoError(t, b.Bench.Send([]uint{a.ID}, bench.Assignment{Slot: "thumb", Section: "juniors"}))
	id := a.ID
	before, _ := b.FacesOf(id)
	require.NotEmpty(t, before, "who is near by")
	found, err := b.Bench.Faces(id)
	require.NoError(t, err)
	require.True(t, found.Closer)
	for _, f := range before {
		require.NoError(t, b.Bench.AllowFaces(id, []string{f.ID()}, true))
	}
	more, err := b.Bench.LookCloser(id)
	require.NoError(t, err)
	require.GreaterOrEqual(t, more, 2, "one at least of each two who are far away")
	after, _ := b.FacesOf(id)
	require.Len(t, after, len(before)+more)
	for _, f := range after {
		known := slices.ContainsFunc(before, func(k bench.FoundFace) bool { return k.ID() == f.ID() })
		assert.Equal(t, known, f.State == bench.FaceLeft, "only what was allowed before is allowed")
	}
	found, err = b.Bench.Faces(id)
	require.NoError(t, err)
	assert.False(t, found.Closer)
	more, err = b.Bench.LookCloser(id)
	require.NoError(t, err)
	assert.Zero(t, more)
	stranger := b.As(access.Person{ID: 77, Name: "Nobody"})
	_, err = stranger.Bench.LookCloser(id)
	assert.Error(t, err, "whoever does not work for the section")
	_, err = stranger.Bench.Faces(id)
	assert.Error(t, err)
}

// crowd is a large photo of two juniors near by, and twice the same two far away.
func crowd(t *testing.T) []byte {
	src, err := jpeg.Decode(bytes.NewReader(desktest.DemoFile(t, "IMG_2101.JPG")))
	require.NoError(t, err)
	m := image.NewRGBA(image.Rect(0, 0, 3000, 2000))
	draw.Draw(m, m.Rect, image.NewUniform(color.RGBA{160, 190, 210, 255}), image.Point{}, draw.Src)
	scaled.CatmullRom.Scale(m, image.Rect(100, 100, 1500, 1850), src, src.Bounds(), draw.Src, nil)
	for _, y := range []int{300, 1300} {
		scaled.CatmullRom.Scale(m, image.Rect(2300, y, 2600, y+375), src, src.Bounds(), draw.Src, nil)
	}
	var out bytes.Buffer
	require.NoError(t, jpeg.Encode(&out, m, &jpeg.Options{Quality: 92}))
	return out.Bytes()
}
