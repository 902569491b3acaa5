package publish_test

import (
	"archive/zip"
	"bytes"
	"context"
	"image"
	"io"
	"strings"
	"testing"

	"github.com/PuerkitoBio/goquery"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/facts"
	"mivlet/core/page"
	"mivlet/core/rules"
	"mivlet/desk/access"
	"mivlet/desk/desktest"
	"mivlet/desk/publish"
)

// By a rule of the house the address of a file changes in its name; so does what is
// told of a picture that looks otherwise now.
func TestWhatVisitorsSeeDifferently(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	require.NoError(t, b.House.ChangeRules(func(r rules.Rules) (rules.Rules, error) { r.Placing.CutMark = "suffix"; return r, nil }))
	_, err := b.House.ApplyRules("caches that ignore what stands behind the question mark")
	require.NoError(t, err)
	picture := b.Ready("juniors-boat", 1)
	block := b.Place(picture)
	publish := func() string {
		_, err := b.Publish.Publish(context.Background(), b.PageID, b.PageView().Seen, "", desktest.PlainLayout)
		require.NoError(t, err)
		doc, err := goquery.NewDocumentFromReader(strings.NewReader(b.LivePage()))
		require.NoError(t, err)
		return doc.Find("img").AttrOr("src", "")
	}
	first := publish()
	assert.Regexp(t, `^/juniors/juniors-boat-640-[0-9a-f]{16}\.jpg$`, first)
	f, err := b.Publish.Published(first, "")
	require.NoError(t, err)
	f.Close()
	live, err := b.Kept.FilesOf(b.PageID)
	require.NoError(t, err)
	before := map[string]bool{}
	for _, f := range live {
		if f.PictureID == picture {
			before[f.Hash] = true
		}
	}
	require.Contains(t, before, f.Tag)

	require.NoError(t, b.Bench.SetFrame(picture, image.Rect(0, 0, 1500, 900), facts.Upright))
	changes, err := b.Publish.Changes(b.PageID)
	require.NoError(t, err)
	require.Len(t, changes, 1)
	assert.Equal(t, "picture", changes[0].What)
	assert.Equal(t, block, changes[0].Block.ID)
	assert.Contains(t, before, changes[0].Was, "what they see now")
	assert.Equal(t, picture, changes[0].Now.ID)
	assert.NotEqual(t, first, publish())
	changes, err = b.Publish.Changes(b.PageID)
	require.NoError(t, err)
	assert.Empty(t, changes)
}

// All pages of a section as one archive: each link of its index leads to a page of it.
func TestASectionIsTakenAlong(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	b.Place(b.Ready("juniors-boat", 1))
	_, err := b.Pages.NewPage("juniors", "Spring", "empty")
	require.NoError(t, err)
	var file bytes.Buffer
	require.NoError(t, b.Publish.SectionArchive(&file, "juniors", publish.Dressing{CSS: []byte("p {}"), Script: []byte("1")}))
	z, err := zip.NewReader(bytes.NewReader(file.Bytes()), int64(file.Len()))
	require.NoError(t, err)
	index, err := z.Open("index.html")
	require.NoError(t, err)
	doc, err := goquery.NewDocumentFromReader(index)
	require.NoError(t, err)
	links := doc.Find("main a")
	assert.Equal(t, 2, links.Length())
	links.Each(func(_ int, a *goquery.Selection) {
		f, err := z.Open(a.AttrOr("href", ""))
		if assert.NoError(t, err) {
			f.Close()
		}
	})
	desktest.Refusal(t, b.Publish.SectionArchive(io.Discard, "touring", publish.Dressing{}), access.Bad, "no page yet")
}

// The look back at a live page finds what a visitor would: what leads to an original, a
// stylesheet that does not come, and a picture that is not described. What was said to
// be decorative is well.
func TestTheLookBackAtALivePage(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	ctx := context.Background()
	picture := b.Ready("juniors-boat", 1)
	block := b.Place(picture)
	require.NoError(t, b.Pages.SetPlacement(b.PageID, block, 0, b.MarkOf(block), page.Placement{Slot: "column", Decorative: true, Link: page.Link{Kind: rules.EnlargeLink}}))
	report, err := b.Publish.Publish(ctx, b.PageID, b.PageView().Seen, "", desktest.PlainLayout)
	require.NoError(t, err)
	assert.True(t, report.OK(), report)
	told := ""
	for _, c := range report.Checks {
		told += c.Text + "\n"
	}
	assert.Contains(t, told, "is decorative here, as was said")
	assert.Contains(t, told, "Enlarged: 1600 × 1000")
	assert.Contains(t, told, "Nothing on it leads to an original")

	for text, extra := range map[string]string{
		"leads to its original": `<a href="/originals/` + b.PictureOf(picture).OriginalHash + `">as it came</a>`,
		"does not come":         `<link rel="stylesheet" href="/gone.css">`,
	} {
		bad := func(w io.Writer, p publish.SitePage) error {
			if err := desktest.PlainLayout(w, p); err != nil {
				return err
			}
			_, err := io.WriteString(w, extra)
			return err
		}
		report, err := b.Publish.Publish(ctx, b.PageID, b.PageView().Seen, "", bad)
		require.NoError(t, err)
		assert.False(t, report.OK())
		assert.Contains(t, report.Checks[len(report.Checks)-1].Text+report.Checks[len(report.Checks)-2].Text, text)
	}
}
