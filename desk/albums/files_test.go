package albums_test

import (
	"archive/zip"
	"bytes"
	"encoding/csv"
	"image"
	_ "image/jpeg" // read by DecodeConfig
	"io"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/album"
	"mivlet/desk/access"
	"mivlet/desk/desktest"
	"mivlet/store"
)

// packed is a ZIP of some files.
func packed(t *testing.T, files ...string) *bytes.Reader {
	t.Helper()
	var b bytes.Buffer
	z := zip.NewWriter(&b)
	for i := 0; i < len(files); i += 2 {
		w, err := z.Create(files[i])
		require.NoError(t, err)
		_, err = io.WriteString(w, files[i+1])
		require.NoError(t, err)
	}
	require.NoError(t, z.Close())
	return bytes.NewReader(b.Bytes())
}

func unpacked(t *testing.T, data []byte) (names []string, files map[string][]byte) {
	t.Helper()
	z, err := zip.NewReader(bytes.NewReader(data), int64(len(data)))
	require.NoError(t, err)
	files = map[string][]byte{}
	for _, f := range z.File {
		r, err := f.Open()
		require.NoError(t, err)
		files[f.Name], err = io.ReadAll(r)
		require.NoError(t, err)
		names = append(names, f.Name)
	}
	return names, files
}

// An album goes out as a ZIP, in its order and in a width of choice, and comes in again as it
// was, with all of its words.
func TestAnAlbumGoesOutAndComesIn(t *testing.T) {
	t.Parallel()
	g := newRegatta(t)
	require.NoError(t, g.Albums.SetOrder(g.album, album.ByName))
	require.NoError(t, g.Albums.SetCaption(g.album, g.pictures[0], "", `=1+1, "quoted"`))
	require.NoError(t, desktest.Describe(g.Desk, g.pictures[1], "Ünder the bridge,\nround the buoy"))
	var b bytes.Buffer
	left, err := g.Albums.Archive(&b, g.album, 300)
	require.NoError(t, err)
	assert.Empty(t, left)
	names, files := unpacked(t, b.Bytes())
	assert.Equal(t, []string{"juniors-finish.jpg", "juniors-start.jpg", "juniors-turn.jpg", "album.csv"}, names)
	c, _, err := image.DecodeConfig(bytes.NewReader(files["juniors-turn.jpg"]))
	require.NoError(t, err)
	assert.Equal(t, 300, c.Width)
	table, err := csv.NewReader(bytes.NewReader(files["album.csv"])).ReadAll()
	require.NoError(t, err)
	assert.Equal(t, []string{"file", "caption", "alt", "credit", "taken"}, table[0])
	assert.Equal(t, `'=1+1, "quoted"`, table[2][1], "no table program computes it")

	id, refused, err := g.Albums.BringArchive("juniors", "Again", bytes.NewReader(b.Bytes()))
	require.NoError(t, err)
	assert.Empty(t, refused)
	v, err := g.Albums.Of(id)
	require.NoError(t, err)
	require.Len(t, v.Items, 3)
	assert.Equal(t, []string{"juniors-finish.jpg", "juniors-start.jpg", "juniors-turn.jpg"}, []string{v.Items[0].OriginalName, v.Items[1].OriginalName, v.Items[2].OriginalName})
	assert.Equal(t, `=1+1, "quoted"`, v.Items[1].Caption)
	assert.Equal(t, g.PictureOf(g.pictures[1]).Work.Alt, v.Items[2].Work.Alt)
	g.IsWhole()

	_, err = g.Albums.Archive(io.Discard, g.album, 3)
	desktest.Refusal(t, err, access.Bad, "3 pixels")
}

// Somebody who may not be shown does not leave the house in a ZIP.
func TestARefusedPictureDoesNotGoOut(t *testing.T) {
	t.Parallel()
	g := newRegatta(t)
	g.Refuses(g.pictures[2], "Somebody")
	var b bytes.Buffer
	left, err := g.Albums.Archive(&b, g.album, 0)
	require.NoError(t, err)
	assert.Equal(t, []string{"juniors-finish"}, left, "it is told")
	names, files := unpacked(t, b.Bytes())
	assert.NotContains(t, names, "juniors-finish.jpg")
	assert.NotContains(t, string(files["album.csv"]), "finish")
}

func TestOddArchives(t *testing.T) {
	t.Parallel()
	g := newRegatta(t)
	in := func(title string, files ...string) ([]store.Picture, []string, error) {
		z := packed(t, files...)
		id, refused, err := g.Albums.BringArchive("juniors", title, z)
		var names []string
		for _, r := range refused {
			names = append(names, r.Name)
		}
		if err != nil {
			return nil, names, err
		}
		v, err := g.Albums.Of(id)
		require.NoError(t, err)
		var all []store.Picture
		for _, i := range v.Items {
			all = append(all, i.Picture)
		}
		return all, names, nil
	}
	photo := func(seed uint64) string { return string(desktest.Photo(300, 200, seed)) }
	came, refused, err := in("From another machine", "pictures/b.jpg", photo(21), "__MACOSX/pictures/._b.jpg", "x", "pictures/.hidden", "x", "../../evil.jpg", photo(22), "notes.txt", "Dear club",
		"album.csv", "\ufefffile,caption,alt\r\npictures/b.jpg,,A blue boat\r\n")
	require.NoError(t, err)
	assert.Equal(t, []string{"notes.txt"}, refused, "what is no picture is told, and keeps nothing else out")
	require.Len(t, came, 2)
	assert.Equal(t, []string{"b.jpg", "evil.jpg"}, []string{came[0].OriginalName, came[1].OriginalName}, "no path of it counts")
	assert.Equal(t, "A blue boat", came[0].Work.Alt)

	before, err := g.Albums.All(false)
	require.NoError(t, err)
	_, _, err = in("Broken list", "album.csv", "file,caption\n\"never closed", "a.jpg", photo(23))
	desktest.Refusal(t, err, access.Bad, "no table")
	_, _, err = g.Albums.BringArchive("juniors", "No ZIP", strings.NewReader("Dear club"))
	desktest.Refusal(t, err, access.Bad, "not a ZIP")
	_, _, err = in(" ", "a.jpg", photo(23))
	desktest.Refusal(t, err, access.Bad, "title")
	after, err := g.Albums.All(false)
	require.NoError(t, err)
	assert.Len(t, after, len(before), "what is refused leaves nothing behind")
}

// Cuts are made beside the screens: publishing then makes none.
func TestCutsAreMadeAhead(t *testing.T) {
	t.Parallel()
	g := newRegatta(t)
	g.onPage("rows", 0)
	job, err := g.Albums.Prepare(g.album)
	require.NoError(t, err)
	job.Wait()
	count := func() int {
		made, err := g.Kept.CutsIn(g.pictures[1:]) // the first stands for the page elsewhere, too
		require.NoError(t, err)
		n := 0
		for _, cuts := range made {
			n += len(cuts)
		}
		return n
	}
	before := count()
	assert.Equal(t, 14, before, "enlarged, and a thumbnail in six sizes, of each")
	require.True(t, g.GoLive().OK())
	assert.Equal(t, before, count())
	empty, err := g.Albums.Begin("juniors", "Empty", nil)
	require.NoError(t, err)
	_, err = g.Albums.Prepare(empty)
	desktest.Refusal(t, err, access.Bad, "is empty")
}
