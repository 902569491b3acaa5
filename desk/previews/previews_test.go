package previews_test

import (
	"bytes"
	"context"
	"errors"
	"image/jpeg"
	"io"
	"net/http/httptest"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/page"
	"mivlet/desk"
	"mivlet/desk/access"
	"mivlet/desk/desktest"
	"mivlet/desk/pages"
	"mivlet/desk/previews"
	"mivlet/desk/snapshot"
	edge "mivlet/edge/previewer"
	"mivlet/practice/previewer"
)

// fresh is a house whose links are previewed by the stand-in, over HTTP.
func fresh(t *testing.T) *desktest.Fixture {
	t.Helper()
	b := desktest.FreshWith(t, func(o *desk.Options) {
		p, err := previewer.New(o.SiteURL, previewer.Usual, time.Now)
		require.NoError(t, err)
		srv := httptest.NewServer(p.Handler())
		t.Cleanup(srv.Close)
		o.Previewer = edge.New(srv.URL)
	})
	return b
}

func of(b *desktest.Fixture) previews.View {
	b.T.Helper()
	v, err := b.Previews.Of(context.Background(), b.PageID)
	require.NoError(b.T, err)
	return v
}

// Three things are told apart: what the page says now, what is live, and what the previewer
// holds. Only publishing changes the second, only fetching the third.
func TestNowLiveAndHeld(t *testing.T) {
	t.Parallel()
	b := fresh(t)
	v := of(b)
	assert.Nil(t, v.Live, "not live yet")
	assert.Nil(t, v.Held)
	desktest.Refusal(t, b.Previews.FetchAgain(context.Background(), b.PageID), access.Bad, "not live")
	_, err := b.Previews.Picture(context.Background(), b.PageID, "large")
	desktest.Refusal(t, err, access.Missing, "Nothing is held")

	first := b.Ready("juniors-boat", 1)
	b.Place(first)
	b.GoLive()
	v = of(b)
	require.NotNil(t, v.Held)
	assert.Empty(t, v.ToPublish)
	assert.Empty(t, v.ToFetch, "it was never shared before, so it is fetched now")
	assert.Equal(t, []any{"Autumn", 1200, 630, v.Live.File, page.Refusal("")}, []any{v.Held.Title, v.Held.Width, v.Held.Height, v.Held.Hash, v.Held.Refused})
	assert.True(t, v.Held.Large)

	second := b.Ready("juniors-lake", 2)
	require.NoError(t, b.Covers.SetLink(b.PageID, "", second))
	v = of(b)
	assert.Equal(t, []string{"picture"}, v.ToPublish, "changed, not published")
	assert.Empty(t, v.ToFetch)
	b.GoLive()
	v = of(b)
	assert.Empty(t, v.ToPublish)
	assert.Equal(t, []string{"picture"}, v.ToFetch, "published, not fetched: the old one is still shown")
	old := v.Held.Hash
	require.NoError(t, b.Previews.FetchAgain(context.Background(), b.PageID))
	v = of(b)
	assert.Empty(t, v.ToFetch)
	assert.NotEqual(t, old, v.Held.Hash)
	for _, manner := range []string{"large", "square"} {
		data, err := b.Previews.Picture(context.Background(), b.PageID, manner)
		require.NoError(t, err)
		_, err = jpeg.Decode(bytes.NewReader(data))
		require.NoError(t, err, manner)
	}
	_, err = b.Previews.Picture(context.Background(), b.PageID, "round")
	assert.ErrorContains(t, err, "404")
	require.NoError(t, b.Pages.SetDetails(b.PageID, pages.DetailsMark(b.PageView().Doc), page.Details{Summary: "Another sentence."}))
	assert.Equal(t, []string{"description"}, of(b).ToPublish)
	b.Tamper = func(path string, data []byte) []byte {
		if path == "/juniors/autumn" {
			return bytes.ReplaceAll(data, []byte(b.SiteURL()+"/"), []byte("/"))
		}
		return data
	}
	require.NoError(t, b.Previews.FetchAgain(context.Background(), b.PageID))
	v = of(b)
	assert.Equal(t, page.Relative, v.Held.Refused, "a relative address is refused, with its reason")
	assert.Contains(t, v.Held.Because, "whole")
	assert.Contains(t, v.ToFetch, "picture")
}

// silent is a previewer that does not answer.
type silent struct{}

var errSilent = errors.New("no answer")

func (silent) Held(context.Context, string) (page.Held, error) { return page.Held{}, errSilent }
func (silent) Fetch(context.Context, string) (page.Held, error) {
	return page.Held{}, errSilent
}
func (silent) Picture(context.Context, string, string) ([]byte, error) { return nil, errSilent }
func (silent) Base() string                                            { return "http://192.0.2.1" }

// A previewer that does not answer keeps nobody from seeing the rest.
func TestAPreviewerThatDoesNotAnswer(t *testing.T) {
	t.Parallel()
	b := desktest.FreshWith(t, func(o *desk.Options) { o.Previewer = silent{} })
	b.GoLive()
	v := of(b)
	assert.NotNil(t, v.Live)
	assert.Nil(t, v.Held)
	assert.Contains(t, v.Trouble, "no answer")
	desktest.Refusal(t, b.Previews.FetchAgain(context.Background(), b.PageID), access.Bad, "did not fetch")
	assert.Empty(t, of(desktestWithout(t)).Previewer)
}

func desktestWithout(t *testing.T) *desktest.Fixture {
	t.Helper()
	b := desktest.Fresh(t)
	b.GoLive()
	return b
}

// A title card stands for a page without a picture; over a picture it is withdrawn with it.
func TestATitleCardIsShared(t *testing.T) {
	t.Parallel()
	b := fresh(t)
	b.GoLive()
	assert.Equal(t, page.NoPicture, of(b).Held.Refused)
	require.NoError(t, b.Covers.SetCard(b.PageID, "", &page.TitleCard{Ground: page.Deep}))
	v := of(b)
	assert.Equal(t, snapshot.LinkCard, v.By)
	assert.Equal(t, []string{"picture"}, v.ToPublish)
	f, err := b.Previews.Look(b.PageID)
	require.NoError(t, err)
	defer f.Close()
	drawn, err := io.ReadAll(f)
	require.NoError(t, err)
	assert.NotEmpty(t, drawn)
	report := b.GoLive()
	assert.True(t, report.OK(), "%v", report.Checks)
	require.NoError(t, b.Previews.FetchAgain(context.Background(), b.PageID))
	v = of(b)
	assert.Empty(t, v.ToPublish)
	assert.Empty(t, v.ToFetch)
	assert.Equal(t, []any{1200, 630, page.Refusal("")}, []any{v.Held.Width, v.Held.Height, v.Held.Refused})

	picture := b.Ready("juniors-boat", 1)
	desktest.Refusal(t, b.Covers.SetCard(b.PageID, "", &page.TitleCard{Ground: "pink"}), access.Bad, "no such title card")
	desktest.Refusal(t, b.Covers.SetCard(b.PageID, "as somebody saw it", nil), access.Clash, "Somebody else")
	desktest.Refusal(t, b.Covers.SetCard(b.PageID, "", &page.TitleCard{Behind: &page.Cover{Picture: 999}}), access.Missing, "picture")
	require.NoError(t, b.Covers.SetCard(b.PageID, "", &page.TitleCard{Behind: &page.Cover{Picture: picture}}))
	report = b.GoLive()
	assert.True(t, report.OK(), "%v", report.Checks)
	assert.Contains(t, b.LivePage(), "og:image")
	require.NoError(t, b.Withdraw.Withdraw(context.Background(), picture))
	assert.NotContains(t, b.LivePage(), "og:image", "what is taken off the air is shared no more")

	require.NoError(t, b.Covers.SetLink(b.PageID, "", picture))
	assert.Nil(t, b.PageView().Doc.Card, "a picture takes the place of the card")
	require.NoError(t, b.Covers.SetCard(b.PageID, "", &page.TitleCard{}))
	require.NoError(t, b.Covers.SetCard(b.PageID, "", nil))
	assert.Equal(t, snapshot.LinkOwn, of(b).By, "without the card it is as it was before")
}
