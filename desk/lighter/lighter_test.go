package lighter_test

import (
	"archive/zip"
	"bytes"
	"context"
	"fmt"
	"image"
	"image/color"
	"image/draw"
	"image/jpeg"
	"image/png"
	"io"
	"slices"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/PuerkitoBio/goquery"
	_ "github.com/gen2brain/avif"
	_ "github.com/gen2brain/webp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/page"
	"mivlet/core/recipe"
	"mivlet/core/rules"
	"mivlet/desk/bench"
	"mivlet/desk/desktest"
	"mivlet/desk/lighter"
	"mivlet/desk/publish"
	"mivlet/desk/withdraw"
)

// house is one with a photo and a drawing on a page that is live, which offers lighter files.
func house(t *testing.T, formats ...string) *desktest.Fixture {
	t.Helper()
	b := desktest.Fresh(t)
	b.UnderRules(func(r *rules.Rules) { r.Placing.Lighter = formats })
	photo := b.Arrive("DSC_0430.JPG", desktest.DemoFile(t, "DSC_0430.JPG")).ID
	drawing := b.Arrive("cartoon final (2).png", desktest.DemoFile(t, "cartoon final (2).png")).ID
	for id, name := range map[uint]string{photo: "juniors-lake", drawing: "juniors-cartoon"} {
		require.NoError(t, b.Bench.Send([]uint{id}, bench.Assignment{Slot: "column", Section: "juniors"}))
		require.NoError(t, b.Pictures.SetName(id, name))
		require.NoError(t, desktest.Describe(b.Desk, id, "A thing by the "+name))
	}
	b.PlaceIn(photo, "side")
	b.Place(drawing)
	report := b.GoLive()
	require.True(t, report.OK(), "%+v", report.Checks)
	return b
}

// small is one with a small photo, on a page that is live.
func small(t *testing.T, formats ...string) (b *desktest.Fixture, photo uint) {
	t.Helper()
	b = desktest.Fresh(t)
	b.UnderRules(func(r *rules.Rules) { r.Placing.Lighter = formats })
	photo = b.Ready("juniors-lake", 1)
	b.PlaceIn(photo, "side")
	report := b.GoLive()
	require.True(t, report.OK(), "%+v", report.Checks)
	return b, photo
}

// sources are what the live page offers beside JPEG.
func sources(b *desktest.Fixture) *goquery.Selection {
	b.T.Helper()
	doc, err := goquery.NewDocumentFromReader(strings.NewReader(b.LivePage()))
	require.NoError(b.T, err)
	return doc.Find("main picture > source")
}

// due reports whether lighter files of the page are due.
func due(b *desktest.Fixture) bool {
	b.T.Helper()
	p, err := b.Kept.Page(b.PageID)
	require.NoError(b.T, err)
	_, is, err := b.Lighter.Progress(p)
	require.NoError(b.T, err)
	return is
}

// Where the house offers lighter files, a page goes live with its JPEG files and names the others when
// they are made, before its JPEG files and in the same widths (HTML Living Standard, "picture" and
// "source"), the lightest first. What is drawn, which is no JPEG, has none.
func TestLighterFilesComeAfterJPEG(t *testing.T) {
	t.Parallel()
	b := house(t, "webp", "avif")
	first := b.LivePage()
	assert.Zero(t, sources(b).Length(), "nobody waits for them")
	require.True(t, due(b))
	require.NoError(t, b.Lighter.Make(t.Context(), desktest.PlainLayout))
	require.False(t, due(b))

	all := sources(b)
	require.Equal(t, 2, all.Length(), "only the photo has any")
	assert.Equal(t, "image/avif image/webp", all.Eq(0).AttrOr("type", "")+" "+all.Eq(1).AttrOr("type", ""))
	assert.Equal(t, string(page.WithoutLighter([]byte(first))), string(page.WithoutLighter([]byte(b.LivePage()))), "nothing else has changed")
	img := all.Parent().Find("img")
	usual := strings.Split(img.AttrOr("srcset", ""), ", ")
	var sums [3]int
	for k, s := range append([]*goquery.Selection{img}, all.Eq(0), all.Eq(1)) {
		assert.Equal(t, img.AttrOr("sizes", "?"), s.AttrOr("sizes", ""))
		set := strings.Split(s.AttrOr("srcset", ""), ", ")
		require.Len(t, set, len(usual))
		for i := range set {
			one, two := strings.Fields(set[i]), strings.Fields(usual[i])
			assert.Equal(t, two[1], one[1], "the same width")
			status, data := b.Visit(one[0])
			require.Equal(t, 200, status, one[0])
			is, _, err := image.DecodeConfig(bytes.NewReader(data))
			require.NoError(t, err)
			_, other := b.Visit(two[0])
			was, _, err := image.DecodeConfig(bytes.NewReader(other))
			require.NoError(t, err)
			assert.Equal(t, []int{was.Width, was.Height}, []int{is.Width, is.Height})
			sums[k] += len(data)
		}
	}
	assert.Less(t, sums[1], sums[2])
	assert.Less(t, sums[2], sums[0])
	t.Logf("JPEG %d bytes, AVIF %d, WebP %d", sums[0], sums[1], sums[2])
}

// What a veil hides since is hidden in them, too, and what is taken off is named nowhere.
func TestLighterFilesFollowThePicture(t *testing.T) {
	t.Parallel()
	b, photo := small(t, "webp")
	require.NoError(t, b.Lighter.Make(t.Context(), desktest.PlainLayout))
	before := sources(b).AttrOr("srcset", "")
	require.NotEmpty(t, before)
	v := desktest.BoxVeil(500, 400, 600, 400)
	require.NoError(t, b.Bench.Edit(photo, recipe.Edit{Op: recipe.OpVeil, Veil: &v}))
	require.True(t, b.PageView().Differs)
	b.GoLive()
	assert.Zero(t, sources(b).Length(), "the files without the veil are not named")
	status, _ := b.Visit(strings.Fields(before)[0])
	assert.NotEqual(t, 200, status, "the file that still showed it is off the air")
	require.NoError(t, b.Lighter.Make(t.Context(), desktest.PlainLayout))
	after := sources(b).Eq(0).AttrOr("srcset", "")
	assert.NotEmpty(t, after)
	assert.NotEqual(t, before, after)

	var archive bytes.Buffer
	require.NoError(t, b.Publish.PageArchive(&archive, b.PageID, publish.Dressing{}))
	z, err := zip.NewReader(bytes.NewReader(archive.Bytes()), int64(archive.Len()))
	require.NoError(t, err)
	assert.True(t, slices.ContainsFunc(z.File, func(f *zip.File) bool { return strings.HasSuffix(f.Name, ".webp") }))

	require.NoError(t, b.Withdraw.Withdraw(t.Context(), photo))
	assert.NotContains(t, b.LivePage(), ".webp", "what is off the air is named nowhere")
	assert.Contains(t, b.LivePage(), "This picture was taken off.")
}

// Whatever somebody does between going live and naming the lighter files, no visitor sees it before it
// is published, and nothing that was taken off comes back.
func TestNothingElseGoesLiveWithLighterFiles(t *testing.T) {
	t.Parallel()
	acts := map[string]func(t *testing.T, b *desktest.Fixture, photo uint){
		"a veil is drawn": func(t *testing.T, b *desktest.Fixture, photo uint) {
			v := desktest.BoxVeil(500, 400, 600, 400)
			require.NoError(t, b.Bench.Edit(photo, recipe.Edit{Op: recipe.OpVeil, Veil: &v}))
		},
		"it is described otherwise": func(t *testing.T, b *desktest.Fixture, photo uint) {
			require.NoError(t, desktest.Describe(b.Desk, photo, "Nobody has signed this"))
		},
		"the picture is taken off": func(t *testing.T, b *desktest.Fixture, photo uint) {
			require.NoError(t, b.Withdraw.Withdraw(t.Context(), photo))
		},
		"the picture is erased": func(t *testing.T, b *desktest.Fixture, photo uint) {
			_, err := b.Withdraw.Erase(t.Context(), photo, withdraw.Erasing{Why: "Their parents have asked us to"})
			require.NoError(t, err)
		},
		"the page is taken off": func(t *testing.T, b *desktest.Fixture, _ uint) {
			require.NoError(t, b.Publish.TakePageOff(b.PageID))
		},
		"the rules change": func(_ *testing.T, b *desktest.Fixture, _ uint) {
			b.UnderRules(func(r *rules.Rules) { r.House = "Another house" })
		},
	}
	for name, act := range acts {
		for _, late := range []bool{false, true} {
			t.Run(fmt.Sprintf("%s, late %v", name, late), func(t *testing.T) {
				t.Parallel()
				b, photo := small(t, "webp")
				var during func(time.Duration)
				var then string
				do := func() {
					act(t, b, photo)
					then = live(b)
				}
				if late { // while the files are made
					var once sync.Once
					during = func(time.Duration) { once.Do(do) }
				} else {
					do()
					during = func(time.Duration) {}
				}
				require.NoError(t, lighter.MakeResting(b.Lighter, t.Context(), desktest.PlainLayout, during))
				require.NotEmpty(t, then, "it was done")
				assert.Equal(t, then, live(b))
				assert.False(t, due(b))
			})
		}
	}
}

// Where a page would be laid out otherwise by now, naming lighter files does not bring that live.
func TestAnotherLayoutDoesNotComeWithLighterFiles(t *testing.T) {
	t.Parallel()
	b, _ := small(t, "webp")
	before := live(b)
	require.NoError(t, b.Lighter.Make(t.Context(), func(w io.Writer, p publish.SitePage) error {
		p.Main += "<p>Nobody has signed this.</p>"
		return desktest.PlainLayout(w, p)
	}))
	assert.Equal(t, before, live(b))
	assert.False(t, due(b))
	b.GoLive()
	assert.Equal(t, 1, sources(b).Length(), "what is made is named when it is published again")
}

// live is what visitors get of the page, whatever that is.
func live(b *desktest.Fixture) string {
	p, err := b.Kept.Page(b.PageID)
	require.NoError(b.T, err)
	status, data := b.Visit(p.Path())
	return fmt.Sprint(status, string(data))
}

// What is broken off goes on: what is made stays, and the page names nothing by halves.
func TestLighterFilesGoOn(t *testing.T) {
	t.Parallel()
	b, photo := small(t, "webp")
	ctx, stop := context.WithCancel(t.Context())
	made := 0
	err := lighter.MakeResting(b.Lighter, ctx, desktest.PlainLayout, func(time.Duration) {
		made++
		stop()
	})
	require.ErrorIs(t, err, context.Canceled)
	require.Equal(t, 1, made)
	assert.True(t, due(b))
	assert.Zero(t, sources(b).Length())
	require.NoError(t, lighter.MakeResting(b.Lighter, t.Context(), desktest.PlainLayout, func(time.Duration) { made++ }))
	assert.Equal(t, 4, made, "what was made is not made again: where it stands, and three shapes for lists")
	assert.Equal(t, 1, sources(b).Length())

	// What is made already is named as soon as the page is published anew.
	require.NoError(t, desktest.Describe(b.Desk, photo, "The lake in the morning"))
	b.GoLive()
	assert.Equal(t, 1, sources(b).Length())
	assert.False(t, due(b))
}

// Of lighter files the same holds as of all others: nothing in them depends on what is hidden.
func TestLighterFilesTellNothingOfWhatIsHidden(t *testing.T) {
	t.Parallel()
	for _, format := range rules.LighterFormats {
		t.Run(format, func(t *testing.T) {
			t.Parallel()
			tellsNothing(t, format)
		})
	}
}

func tellsNothing(t *testing.T, format string) {
	photo, err := jpeg.Decode(bytes.NewReader(desktest.Photo(400, 300, 3)))
	require.NoError(t, err)
	hidden := desktest.BoxVeil(100, 100, 120, 80)
	var both [2][]byte
	for i := range both {
		m := image.NewRGBA(photo.Bounds())
		draw.Draw(m, m.Rect, photo, image.Point{}, draw.Src)
		draw.Draw(m, image.Rect(120, 115, 150+40*i, 165), image.NewUniform(color.Gray{uint8(250 * i)}), image.Point{}, draw.Src)
		var file bytes.Buffer
		require.NoError(t, png.Encode(&file, m))
		b := desktest.Fresh(t)
		id := b.Arrive("board.png", file.Bytes()).ID
		require.NoError(t, b.Bench.Send([]uint{id}, bench.Assignment{Slot: "side", Section: "juniors"}))
		require.NoError(t, b.Bench.Edit(id, recipe.Edit{Op: recipe.OpVeil, Veil: &hidden}))
		slot, ok := b.Rules().Slot("side")
		require.True(t, ok)
		made, err := b.Cuts.CutsOf(b.PictureOf(id), slot.As(format))
		require.NoError(t, err)
		require.NotEmpty(t, made)
		for _, c := range made {
			assert.Equal(t, "image/"+format, c.MediaType)
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
