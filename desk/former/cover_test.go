package former_test

import (
	"archive/zip"
	"bytes"
	"image"
	"image/draw"
	"image/jpeg"
	"image/png"
	"io"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/survey"
	"mivlet/core/veil"
	"mivlet/desk"
	"mivlet/desk/access"
	"mivlet/desk/desktest"
	"mivlet/store"
)

// hidden is the part of the pictures that is covered.
var hidden = image.Rect(300, 200, 900, 600)

// twoThatDiffer are pictures that differ in what is hidden alone.
func twoThatDiffer(t *testing.T) (a, b []byte) {
	t.Helper()
	m, err := jpeg.Decode(bytes.NewReader(desktest.Photo(1200, 800, 3)))
	require.NoError(t, err)
	same := image.NewNRGBA(m.Bounds())
	draw.Draw(same, same.Rect, m, image.Point{}, draw.Src)
	var first, second bytes.Buffer
	require.NoError(t, png.Encode(&first, same))
	other, err := jpeg.Decode(bytes.NewReader(desktest.Photo(1200, 800, 8)))
	require.NoError(t, err)
	draw.Draw(same, hidden.Inset(6), other, image.Pt(90, 70), draw.Src)
	require.NoError(t, png.Encode(&second, same))
	return first.Bytes(), second.Bytes()
}

// A picture of a site is covered on the bench. Nothing in the mended site depends on what lies below: two pictures that
// differ there alone come out alike. Where the covered one is thrown away, nothing is mended until somebody has decided
// anew.
func TestAPictureOfASiteIsCovered(t *testing.T) {
	t.Parallel()
	one, two := twoThatDiffer(t)
	b := desktest.Fresh(t)
	f, err := b.BringIn.Bring(t.Context(), "camp.zip", bytes.NewReader(packed(t, map[string][]byte{"index.html": []byte(`<title>Camp</title><img src="a.png" width="300" alt="At the pier"><img src="b.png" width="300" alt="In the boat"><img src="copy.png" width="300" alt="At the pier">`), "a.png": one, "b.png": two, "copy.png": one})), nil)
	require.NoError(t, err)
	id := f.ID
	seen := map[string]survey.Seen{"a.png": {Faces: 2}, "copy.png": {Faces: 2}}
	require.NoError(t, b.Kept.Tx(func(s store.Records) error { // as if somebody had looked into the pictures
		return s.SaveFormerLook(store.FormerLook{FormerSiteID: id, Hash: f.Hash, At: b.Time(), Seen: seen})
	}))
	d, err := desk.New(&b.Kept.Store, desk.Options{Now: b.Time})
	require.NoError(t, err)
	t.Cleanup(d.Jobs.End)
	editor := d.As(access.PersonOf(store.Person{ID: 7, Name: "Runa", Login: "runa", Roles: []store.Role{{Section: "juniors", Role: string(access.Contributor)}}}))
	faces := func() (n int) {
		t.Helper()
		v, err := d.Former.Of(id)
		require.NoError(t, err)
		for _, f := range v.Report.Findings {
			if f.Code == survey.Faces {
				n++
			}
		}
		return n
	}
	assert.Equal(t, 2, faces())
	cover := func(file string) uint {
		t.Helper()
		picture, err := editor.Former.ToCover(id, file, "juniors")
		require.NoError(t, err)
		again, err := editor.Former.ToCover(id, file, "juniors")
		require.NoError(t, err)
		assert.Equal(t, picture, again, "it does not come twice")
		return picture
	}
	first, second := cover("a.png"), cover("b.png")
	assert.Equal(t, 2, faces(), "nothing is covered yet")
	for _, p := range []uint{first, second} {
		require.NoError(t, editor.Bench.AddVeils(p, []veil.Veil{{Shape: veil.Rect, Bounds: hidden, Style: veil.Cover, Reason: veil.Face}}))
	}
	assert.Zero(t, faces(), "its copy is covered, too")

	mendIt := func() error {
		job, err := d.Former.Mend(id)
		if err != nil {
			return err
		}
		assert.Empty(t, desktest.Ended(t, job).Failed)
		return nil
	}
	require.NoError(t, mendIt())
	file, _, err := d.Former.Take(id)
	require.NoError(t, err)
	data, err := io.ReadAll(file)
	require.NoError(t, err)
	require.NoError(t, file.Close())
	z, err := zip.NewReader(bytes.NewReader(data), int64(len(data)))
	require.NoError(t, err)
	files := map[string]image.Image{}
	for _, f := range z.File {
		if strings.HasSuffix(f.Name, ".html") {
			continue
		}
		in, err := f.Open()
		require.NoError(t, err)
		files[f.Name], _, err = image.Decode(in)
		require.NoError(t, err, f.Name)
	}
	compared := 0
	for name, m := range files {
		if strings.HasPrefix(name, "b") {
			continue
		}
		other := files["b"+strings.TrimPrefix(strings.TrimPrefix(name, "copy"), "a")]
		if !assert.NotNil(t, other, name) {
			continue
		}
		compared++
		assert.LessOrEqual(t, farthest(m, other), 8, "%s tells what lies below", name)
	}
	assert.GreaterOrEqual(t, compared, 4, "each at its own address, and cuts")
	before, _, err := image.Decode(bytes.NewReader(one))
	require.NoError(t, err)
	after, _, err := image.Decode(bytes.NewReader(two))
	require.NoError(t, err)
	assert.Greater(t, farthest(before, after), 60, "they differ a lot where nothing covers them")

	// A house without it would show what is hidden: nothing is mended then.
	require.NoError(t, editor.Shelves.ThrowAway(first))
	job, err := d.Former.Mend(id)
	require.NoError(t, err)
	assert.Contains(t, strings.Join(desktest.Ended(t, job).Failed, " "), "was thrown away")
	assert.Equal(t, 2, faces())
	v, err := d.Former.Of(id)
	require.NoError(t, err)
	for _, c := range v.Choices {
		require.NoError(t, editor.Former.TakeBack(id, c.ID))
	}
	require.NoError(t, mendIt())

	// Who is seen agreed: it is no longer told, of the copy neither, and nothing is covered.
	require.NoError(t, editor.Former.Allow(id, "copy.png"))
	assert.Zero(t, faces())
	for _, none := range []string{"nothing.jpg", "index.html"} {
		desktest.Refusal(t, editor.Former.Allow(id, none), access.Missing, "There is no picture")
	}

	for _, c := range []struct{ file, section string }{{"nothing.jpg", "juniors"}, {"index.html", "juniors"}, {"a.png", "touring"}} {
		_, err := editor.Former.ToCover(id, c.file, c.section)
		_, ok := desktest.AsRefusal(err)
		assert.True(t, ok, "%+v: %v", c, err)
	}
}

// farthest is how far two pictures are apart where they are farthest, of 255.
func farthest(a, b image.Image) (most int) {
	if a.Bounds() != b.Bounds() {
		return 256
	}
	for y := range a.Bounds().Dy() {
		for x := range a.Bounds().Dx() {
			r, g, bl, _ := a.At(x, y).RGBA()
			r2, g2, bl2, _ := b.At(x, y).RGBA()
			for _, c := range [][2]uint32{{r, r2}, {g, g2}, {bl, bl2}} {
				most = max(most, int(c[0]>>8)-int(c[1]>>8), int(c[1]>>8)-int(c[0]>>8))
			}
		}
	}
	return most
}
