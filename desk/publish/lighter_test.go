package publish_test

import (
	"bytes"
	"image"
	"image/color"
	"image/draw"
	"image/jpeg"
	"image/png"
	"io"
	"strings"
	"testing"

	"github.com/PuerkitoBio/goquery"
	"github.com/gen2brain/webp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/recipe"
	"mivlet/core/rules"
	"mivlet/desk/bench"
	"mivlet/desk/desktest"
	"mivlet/desk/publish"
)

// Where the house offers lighter files, a live page names them before its JPEG files, in the same
// widths (HTML Living Standard, "picture" and "source"); what a veil hides is hidden in them, too,
// and what is drawn, which is no JPEG, has none.
func TestLighterFilesBesideJPEG(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	b.UnderRules(func(r *rules.Rules) { r.Placing.Lighter = []string{"webp"} })
	photo := b.Arrive("DSC_0430.JPG", desktest.DemoFile(t, "DSC_0430.JPG")).ID
	drawing := b.Arrive("cartoon final (2).png", desktest.DemoFile(t, "cartoon final (2).png")).ID
	for id, name := range map[uint]string{photo: "juniors-lake", drawing: "juniors-cartoon"} {
		require.NoError(t, b.Bench.Send([]uint{id}, bench.Assignment{Slot: "column", Section: "juniors"}))
		require.NoError(t, b.Pictures.SetName(id, name))
		require.NoError(t, desktest.Describe(b.Desk, id, "A thing by the "+name))
	}
	b.Place(photo)
	b.Place(drawing)
	report := b.GoLive()
	require.True(t, report.OK(), "%+v", report.Checks)

	doc, err := goquery.NewDocumentFromReader(strings.NewReader(b.LivePage()))
	require.NoError(t, err)
	sources := doc.Find("main picture > source")
	require.Equal(t, 1, sources.Length(), "only the photo has any")
	assert.Equal(t, "image/webp", sources.AttrOr("type", ""))
	img := sources.Parent().Find("img")
	assert.Equal(t, img.AttrOr("sizes", "?"), sources.AttrOr("sizes", ""))
	lighter, usual := strings.Split(sources.AttrOr("srcset", ""), ", "), strings.Split(img.AttrOr("srcset", ""), ", ")
	require.Len(t, lighter, len(usual))
	sum := [2]int{}
	for i := range lighter {
		one, two := strings.Fields(lighter[i]), strings.Fields(usual[i])
		assert.Equal(t, two[1], one[1], "the same width")
		status, data := b.Visit(one[0])
		require.Equal(t, 200, status, one[0])
		m, err := webp.Decode(bytes.NewReader(data))
		require.NoError(t, err)
		_, other := b.Visit(two[0])
		was, _, err := image.DecodeConfig(bytes.NewReader(other))
		require.NoError(t, err)
		assert.Equal(t, image.Pt(was.Width, was.Height), m.Bounds().Size())
		sum[0] += len(data)
		sum[1] += len(other)
	}
	assert.Less(t, sum[0], sum[1])
	t.Logf("WebP %d bytes, JPEG %d", sum[0], sum[1])

	v := desktest.BoxVeil(500, 400, 600, 400)
	require.NoError(t, b.Bench.Edit(photo, recipe.Edit{Op: recipe.OpVeil, Veil: &v}))
	require.True(t, b.PageView().Differs)
	before := sources.AttrOr("srcset", "")
	b.GoLive()
	doc, err = goquery.NewDocumentFromReader(strings.NewReader(b.LivePage()))
	require.NoError(t, err)
	assert.NotEqual(t, before, doc.Find("main picture > source").AttrOr("srcset", ""))
	status, _ := b.Visit(strings.Fields(before)[0])
	assert.NotEqual(t, 200, status, "the file that still showed it is off the air")

	var archive bytes.Buffer
	require.NoError(t, b.Publish.PageArchive(&archive, b.PageID, publish.Dressing{}))
	assert.Contains(t, strings.Join(keysOf(picturesIn(t, archive.Bytes())), " "), ".webp")

	require.NoError(t, b.Withdraw.Withdraw(t.Context(), photo))
	assert.NotContains(t, b.LivePage(), ".webp", "what is off the air is named nowhere")
	assert.Contains(t, b.LivePage(), "This picture was taken off.")
}

func keysOf(files map[string][]byte) (all []string) {
	for name := range files {
		all = append(all, name)
	}
	return all
}

// Of lighter files the same holds as of all others: nothing in them depends on what is hidden.
func TestLighterFilesTellNothingOfWhatIsHidden(t *testing.T) {
	t.Parallel()
	photo, err := jpeg.Decode(bytes.NewReader(desktest.Photo(800, 600, 3)))
	require.NoError(t, err)
	hidden := desktest.BoxVeil(200, 200, 240, 160)
	var both [2][]byte
	for i := range both {
		m := image.NewRGBA(photo.Bounds())
		draw.Draw(m, m.Rect, photo, image.Point{}, draw.Src)
		draw.Draw(m, image.Rect(240, 230, 300+80*i, 330), image.NewUniform(color.Gray{uint8(250 * i)}), image.Point{}, draw.Src)
		var file bytes.Buffer
		require.NoError(t, png.Encode(&file, m))
		b := desktest.Fresh(t)
		id := b.Arrive("board.png", file.Bytes()).ID
		require.NoError(t, b.Bench.Send([]uint{id}, bench.Assignment{Slot: "side", Section: "juniors"}))
		require.NoError(t, b.Bench.Edit(id, recipe.Edit{Op: recipe.OpVeil, Veil: &hidden}))
		slot, ok := b.Rules().Slot("side")
		require.True(t, ok)
		made, err := b.Cuts.CutsOf(b.PictureOf(id), slot.As("webp"))
		require.NoError(t, err)
		require.Len(t, made, 2)
		for _, c := range made {
			assert.Equal(t, "image/webp", c.MediaType)
			f, err := b.Cuts.OpenCut(c.Hash)
			require.NoError(t, err)
			data, err := io.ReadAll(f)
			require.NoError(t, err)
			f.Close()
			both[i] = append(both[i], data...)
		}
	}
	assert.True(t, bytes.Equal(both[0], both[1]))
}
