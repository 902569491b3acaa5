package desk_test

import (
	"archive/zip"
	"bytes"
	"context"
	"fmt"
	"image"
	"io"
	"net/url"
	"path/filepath"
	"strings"
	"sync"
	"testing"

	"github.com/PuerkitoBio/goquery"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/page"
	"mivlet/core/recipe"
	"mivlet/desk"
	"mivlet/desk/access"
	"mivlet/desk/pages"
	"mivlet/desk/publish"
)

// Two people write on one page: different blocks join by themselves, the same
// block comes back with both texts, and nothing that was written is lost.
func TestTwoPeopleWriteOnOnePage(t *testing.T) {
	t.Parallel()
	b := fresh(t)
	ines, odo := b.two()
	seenA, seenB := b.mark("a"), b.mark("b")
	require.NoError(t, ines.Pages.SetText(b.page, "a", seenA, "One, by Ines."))
	require.NoError(t, odo.Pages.SetText(b.page, "b", seenB, "Two, by Odo."), "another block")
	err := odo.Pages.SetText(b.page, "a", seenA, "One, by Odo.")
	var clash *pages.TextClash
	require.ErrorAs(t, err, &clash)
	assert.Equal(t, pages.TextClash{Block: "a", Mine: "One, by Odo.", Theirs: "One, by Ines.", Mark: b.mark("a")}, *clash)
	assert.Equal(t, "One, by Ines.", b.view().Blocks[0].Text)
	require.NoError(t, odo.Pages.SetText(b.page, "a", clash.Mark, "One, by both."))
	require.NoError(t, odo.Pages.SetText(b.page, "a", seenA, "One, by both."), "what is there already is no clash")
	assert.Equal(t, "Two, by Odo.", b.view().Blocks[1].Text)

	refusal(t, ines.Pages.DropBlock(b.page, "a", seenA), access.Clash, "in the meantime")
	require.NoError(t, ines.Pages.DropBlock(b.page, "a", b.mark("a")))
	refusal(t, odo.Pages.SetText(b.page, "a", seenA, "Late."), access.Missing, "taken this block off")
	v := b.view()
	require.NoError(t, ines.Pages.PageStep(b.page, v.Version, v.Undo()))
	assert.Equal(t, "One, by both.", b.view().Blocks[0].Text, "undo brings it back")
	refusal(t, ines.Pages.SetText(b.page, "a", b.mark("a"), strings.Repeat("x", 65<<10)), access.Bad, "too long for one block")
}

// Many hands at once: every text that was acknowledged is on the page.
func TestNoAcknowledgedTextIsLost(t *testing.T) {
	t.Parallel()
	b := fresh(t)
	ines, odo := b.two()
	var wg sync.WaitGroup
	for i, d := range []*desk.Desk{ines, odo} {
		wg.Add(1)
		go func() {
			defer wg.Done()
			for n := range 10 {
				_, err := d.Pages.AddBlock(b.page, page.Behind("a"), page.Text, "", fmt.Sprintf("%d-%d", i, n))
				assert.NoError(t, err)
			}
		}()
	}
	wg.Wait()
	all := ""
	for _, block := range b.view().Blocks {
		all += " " + block.Text
	}
	for i := range 2 {
		for n := range 10 {
			assert.Contains(t, all, fmt.Sprintf(" %d-%d", i, n))
		}
	}
	assert.Len(t, b.view().Blocks, 22)
}

func TestPagesBeginMoveAndEnd(t *testing.T) {
	t.Parallel()
	b := fresh(t)
	ctx := context.Background()
	arranged, err := b.Pages.NewPage("juniors", "As it was", "account")
	require.NoError(t, err)
	p, err := b.Pages.Page(arranged)
	require.NoError(t, err)
	assert.Len(t, p.Blocks, 6)
	id, err := b.Pages.NewPage("juniors", " Spring  launch ", "empty")
	require.NoError(t, err)
	p, err = b.Pages.Page(id)
	require.NoError(t, err)
	assert.Equal(t, "/juniors/spring-launch", p.Path())
	_, err = b.Pages.NewPage("juniors", "Spring launch", "empty")
	refusal(t, err, access.Clash, "that address already")
	_, err = b.Pages.NewPage("juniors", "", "empty")
	refusal(t, err, access.Bad, "title has")
	_, err = b.Pages.NewPage("juniors", "A", "poster")
	refusal(t, err, access.Bad, "no arrangement")

	_, err = b.Publish.Publish(ctx, id, p.Seen, "", plainLayout)
	require.NoError(t, err)
	require.NoError(t, b.Pages.RenamePage(id, "The launch", "launch"))
	moved, gone, err := b.Publish.Whereabouts("juniors", "spring-launch")
	require.NoError(t, err)
	assert.Equal(t, "/juniors/launch", moved)
	assert.Empty(t, gone)
	f, err := b.Publish.Published("/juniors/launch", "")
	require.NoError(t, err, "it is live at the new address at once")
	f.Close()
	require.NoError(t, b.Pages.HandOver(id, "touring"))
	moved, _, err = b.Publish.Whereabouts("juniors", "spring-launch")
	require.NoError(t, err)
	assert.Equal(t, "/touring/launch", moved, "an old address leads to where the page is now")

	copied, err := b.Pages.DuplicatePage(id)
	require.NoError(t, err)
	again, err := b.Pages.DuplicatePage(id)
	require.NoError(t, err)
	twin, err := b.Pages.Page(copied)
	require.NoError(t, err)
	assert.Equal(t, "The launch, again", twin.Doc.Title)
	assert.False(t, twin.Live())
	assert.NotEqual(t, copied, again)

	require.NoError(t, b.Publish.TakePageOff(id))
	_, gone, err = b.Publish.Whereabouts("touring", "launch")
	require.NoError(t, err)
	assert.NotEmpty(t, gone)
	_, err = b.Publish.Published("/touring/launch", "")
	assert.Error(t, err)
	refusal(t, b.Publish.TakePageOff(id), access.Bad, "not live")
}

// An earlier live version is put back file by file; the draft stays.
func TestAnEarlierLiveVersionIsPutBack(t *testing.T) {
	t.Parallel()
	b := fresh(t)
	ctx := context.Background()
	live := func() string {
		f, err := b.Publish.Published("/juniors/autumn", "")
		require.NoError(t, err)
		defer f.Close()
		data, err := io.ReadAll(f)
		require.NoError(t, err)
		return string(data)
	}
	b.place(b.ready("juniors-boat", 1))
	_, err := b.Publish.Publish(ctx, b.page, b.view().Seen, "", plainLayout)
	require.NoError(t, err)
	first := live()
	require.NoError(t, b.Pages.SetText(b.page, "a", b.mark("a"), "Another beginning."))
	changes, err := b.Publish.Changes(b.page)
	require.NoError(t, err)
	require.Len(t, changes, 1)
	assert.Equal(t, "changed", changes[0].What)
	assert.Equal(t, "One.", changes[0].Before.Text)
	_, err = b.Publish.Publish(ctx, b.page, b.view().Seen, "", plainLayout)
	require.NoError(t, err)
	assert.NotEqual(t, first, live())
	changes, err = b.Publish.Changes(b.page)
	require.NoError(t, err)
	assert.Empty(t, changes)

	lives, err := b.Publish.Lives(b.page)
	require.NoError(t, err)
	require.Len(t, lives, 2)
	report, err := b.Publish.PutBack(ctx, b.page, lives[1].ID)
	require.NoError(t, err)
	assert.True(t, report.OK())
	assert.Equal(t, first, live())
	v := b.view()
	assert.Equal(t, "Another beginning.", v.Blocks[0].Text, "the draft is as it was")
	assert.True(t, v.Differs)
	_, err = b.Publish.PutBack(ctx, b.page, 999)
	refusal(t, err, access.Missing, "That version")
}

// The archive works from a folder: every address in it is a file of it.
func TestAPageIsTakenAlong(t *testing.T) {
	t.Parallel()
	b := fresh(t)
	b.place(b.ready("juniors-boat", 1))
	var file bytes.Buffer
	require.NoError(t, b.Publish.PageArchive(&file, b.page, publish.Dressing{CSS: []byte("main { color: black }")}))
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
	assert.Len(t, wanted, 4)
	for _, w := range wanted {
		u, err := url.Parse(w)
		require.NoError(t, err)
		assert.Empty(t, u.Host+u.Scheme+u.RawQuery, w)
		assert.NotEmpty(t, files[u.Path], w)
	}
	html, err := b.Publish.PageHTML(b.page, "a")
	require.NoError(t, err)
	assert.Equal(t, "<p>One.</p>\n", html)
	_, err = b.Publish.PageHTML(b.page, "zz")
	refusal(t, err, access.Missing, "not on the page")
}

// A picture that changes on the bench wants its live pages published again, and
// they are published together: visitors get another address for it.
func TestAChangedPictureIsPublishedAgain(t *testing.T) {
	t.Parallel()
	b := fresh(t)
	picture := b.ready("juniors-boat", 1)
	b.place(picture)
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
	for _, id := range []uint{b.page, second} {
		v, err := b.Pages.Page(id)
		require.NoError(t, err)
		_, err = b.Publish.Publish(context.Background(), id, v.Seen, "", plainLayout)
		require.NoError(t, err)
	}
	look("/juniors/autumn")
	look("/juniors/winter")
	_, err = b.Publish.PublishChanged(0, plainLayout)
	refusal(t, err, access.Bad, "No page needs publishing")

	require.NoError(t, b.Bench.SetFrame(picture, image.Rect(100, 100, 1500, 900)))
	job, err := b.Publish.PublishChanged(0, plainLayout)
	require.NoError(t, err)
	job.Wait()
	assert.Equal(t, 2, job.Progress().Done)
	assert.Empty(t, job.Progress().Failed)
	look("/juniors/autumn")
	look("/juniors/winter")
}

// The weight of a page by device is that of the files a browser takes there.
func TestThePageIsWeighed(t *testing.T) {
	t.Parallel()
	b := fresh(t)
	b.place(b.ready("juniors-boat", 1)) // a column of 640, 1600 pixels wide
	weights, err := b.House.Weights(b.page)
	require.NoError(t, err)
	require.Len(t, weights, 3)
	cuts, err := b.Cuts.MakeCuts(b.view().Blocks[1].Placement.Picture, "column")
	require.NoError(t, err)
	for i, c := range []struct {
		device string
		shown  int
		bytes  int64
	}{{"desktop", 640, cuts[1].Bytes}, {"tablet", 640, cuts[1].Bytes}, {"phone", 360, cuts[1].Bytes}} { // 390 less 15 px left and right
		w := weights[i]
		assert.Equal(t, c.device, w.Device)
		assert.Equal(t, c.shown, w.Shares[0].Shown)
		assert.Equal(t, c.bytes, w.Bytes)
		assert.Equal(t, 100, w.Shares[0].Percent)
	}
}

// A version that shows what a veil hides by now is not put back.
func TestPuttingBackUncoversNothing(t *testing.T) {
	t.Parallel()
	b := fresh(t)
	ctx := context.Background()
	picture := b.ready("juniors-boat", 1)
	b.place(picture)
	_, err := b.Publish.Publish(ctx, b.page, b.view().Seen, "", plainLayout)
	require.NoError(t, err)
	v := box(200, 200, 400, 300)
	require.NoError(t, b.Bench.Edit(picture, recipe.Edit{Op: recipe.OpVeil, Veil: &v}))
	_, err = b.Publish.Publish(ctx, b.page, b.view().Seen, "", plainLayout)
	require.NoError(t, err)
	lives, err := b.Publish.Lives(b.page)
	require.NoError(t, err)
	_, err = b.Publish.PutBack(ctx, b.page, lives[1].ID)
	refusal(t, err, access.Clash, "a veil was drawn on juniors-boat since")
	_, err = b.Publish.PutBack(ctx, b.page, lives[0].ID)
	assert.NoError(t, err, "the version with the veil may be")
}
