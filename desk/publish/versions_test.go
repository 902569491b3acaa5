package publish_test

import (
	"archive/zip"
	"bytes"
	"context"
	"image"
	"io"
	"net/url"
	"path/filepath"
	"strings"
	"testing"

	"github.com/PuerkitoBio/goquery"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/facts"
	"mivlet/core/page"
	"mivlet/core/recipe"
	"mivlet/desk/access"
	"mivlet/desk/desktest"
	"mivlet/desk/publish"
)

// An earlier live version is put back file by file; the draft stays.
func TestAnEarlierLiveVersionIsPutBack(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	ctx := context.Background()
	live := func() string {
		f, err := b.Publish.Published("/juniors/autumn", "")
		require.NoError(t, err)
		defer f.Close()
		data, err := io.ReadAll(f)
		require.NoError(t, err)
		return string(data)
	}
	b.Place(b.Ready("juniors-boat", 1))
	_, err := b.Publish.Publish(ctx, b.PageID, b.PageView().Seen, "", desktest.PlainLayout)
	require.NoError(t, err)
	first := live()
	require.NoError(t, b.Pages.SetText(b.PageID, "a", b.MarkOf("a"), "Another beginning."))
	changes, err := b.Publish.Changes(b.PageID)
	require.NoError(t, err)
	require.Len(t, changes, 1)
	assert.Equal(t, "changed", changes[0].What)
	assert.Equal(t, "One.", changes[0].Before.Text)
	_, err = b.Publish.Publish(ctx, b.PageID, b.PageView().Seen, "", desktest.PlainLayout)
	require.NoError(t, err)
	assert.NotEqual(t, first, live())
	changes, err = b.Publish.Changes(b.PageID)
	require.NoError(t, err)
	assert.Empty(t, changes)

	lives, err := b.Publish.Lives(b.PageID)
	require.NoError(t, err)
	require.Len(t, lives, 2)
	report, err := b.Publish.PutBack(ctx, b.PageID, lives[1].ID)
	require.NoError(t, err)
	assert.True(t, report.OK())
	assert.Equal(t, first, live())
	v := b.PageView()
	assert.Equal(t, "Another beginning.", v.Blocks[0].Text, "the draft is as it was")
	assert.True(t, v.Differs)
	_, err = b.Publish.PutBack(ctx, b.PageID, 999)
	desktest.Refusal(t, err, access.Missing, "That version")
}

// The archive works from a folder: every address in it is a file of it.
func TestAPageIsTakenAlong(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	b.Place(b.Ready("juniors-boat", 1))
	var file bytes.Buffer
	require.NoError(t, b.Publish.PageArchive(&file, b.PageID, publish.Dressing{CSS: []byte("main { color: black }")}))
	z, err := zip.NewReader(bytes.NewReader(file.Bytes()), int64(file.Len()))
	require.NoError(t, err)
	files := map[string][]byte{}
	for _, f := range z.File {
		assert.True(t, filepath.IsLocal(f.Name), f.Name)
		r, err := f.Open()
		require.NoError(t, err)
		files[f.Name], err = io.ReadAll(r)
		require.NoError(t, err)
		r.Close()
	}
	doc, err := goquery.NewDocumentFromReader(bytes.NewReader(files["index.html"]))
	require.NoError(t, err)
	var wanted []string
	doc.Find("img").Each(func(_ int, s *goquery.Selection) {
		wanted = append(wanted, s.AttrOr("src", ""))
		for _, candidate := range strings.Split(s.AttrOr("srcset", ""), ",") {
			wanted = append(wanted, strings.Fields(candidate)[0])
		}
	})
	doc.Find("link[rel=stylesheet]").Each(func(_ int, s *goquery.Selection) { wanted = append(wanted, s.AttrOr("href", "")) })
	assert.Len(t, wanted, 1+4+1, "what is shown where nothing is chosen, four widths, and the style")
	for _, w := range wanted {
		u, err := url.Parse(w)
		require.NoError(t, err)
		assert.Empty(t, u.Host+u.Scheme+u.RawQuery, w)
		assert.NotEmpty(t, files[u.Path], w)
	}
	html, err := b.Publish.PageHTML(b.PageID, "a")
	require.NoError(t, err)
	assert.Equal(t, "<p>One.</p>\n", html)
	_, err = b.Publish.PageHTML(b.PageID, "zz")
	desktest.Refusal(t, err, access.Missing, "not on the page")
}

// A picture that changes on the bench wants its live pages published again, and
// they are published together: visitors get another address for it.
func TestAChangedPictureIsPublishedAgain(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	picture := b.Ready("juniors-boat", 1)
	b.Place(picture)
	second, err := b.Pages.NewPage("juniors", "Winter", "empty")
	require.NoError(t, err)
	_, err = b.Pages.Insert(second, page.Gap{}, page.Placement{Picture: picture, Slot: "side"})
	require.NoError(t, err)
	addresses := map[string]bool{}
	look := func(at string) {
		f, err := b.Publish.Published(at, "")
		require.NoError(t, err)
		defer f.Close()
		doc, err := goquery.NewDocumentFromReader(f)
		require.NoError(t, err)
		src := doc.Find("img").AttrOr("src", "")
		require.NotEmpty(t, src)
		assert.False(t, addresses[src], "%s is new to every cache", src)
		addresses[src] = true
	}
	for _, id := range []uint{b.PageID, second} {
		v, err := b.Pages.Page(id)
		require.NoError(t, err)
		_, err = b.Publish.Publish(context.Background(), id, v.Seen, "", desktest.PlainLayout)
		require.NoError(t, err)
	}
	look("/juniors/autumn")
	look("/juniors/winter")
	_, err = b.Publish.PublishChanged(0, desktest.PlainLayout)
	desktest.Refusal(t, err, access.Bad, "No page needs publishing")

	require.NoError(t, b.Bench.SetFrame(picture, image.Rect(100, 100, 1500, 900), facts.Upright))
	job, err := b.Publish.PublishChanged(0, desktest.PlainLayout)
	require.NoError(t, err)
	job.Wait()
	assert.Equal(t, 2, job.Progress().Done)
	assert.Empty(t, job.Progress().Failed)
	look("/juniors/autumn")
	look("/juniors/winter")
}

// A version that shows what a veil hides by now is not put back.
func TestPuttingBackUncoversNothing(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	ctx := context.Background()
	picture := b.Ready("juniors-boat", 1)
	b.Place(picture)
	_, err := b.Publish.Publish(ctx, b.PageID, b.PageView().Seen, "", desktest.PlainLayout)
	require.NoError(t, err)
	v := desktest.BoxVeil(200, 200, 400, 300)
	require.NoError(t, b.Bench.Edit(picture, recipe.Edit{Op: recipe.OpVeil, Veil: &v}))
	_, err = b.Publish.Publish(ctx, b.PageID, b.PageView().Seen, "", desktest.PlainLayout)
	require.NoError(t, err)
	lives, err := b.Publish.Lives(b.PageID)
	require.NoError(t, err)
	_, err = b.Publish.PutBack(ctx, b.PageID, lives[1].ID)
	desktest.Refusal(t, err, access.Clash, "a veil was drawn on juniors-boat since")
	_, err = b.Publish.PutBack(ctx, b.PageID, lives[0].ID)
	assert.NoError(t, err, "the version with the veil may be")
}
