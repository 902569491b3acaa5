package backgrounds_test

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/page"
	"mivlet/desk/desktest"
	"mivlet/desk/visit"
	"mivlet/desk/withdraw"
)

// group is a house whose front page of the juniors lists its newest page and leads on to all.
type group struct {
	*house
	front uint
}

func newGroup(t *testing.T) group {
	t.Helper()
	g := group{house: fresh(t)}
	require.NoError(t, g.Lists.UseLayout(desktest.PlainLayout))
	var err error
	g.front, err = g.Covers.BeginFront("juniors", "")
	require.NoError(t, err)
	list := g.doc(g.front).Lists()[0]
	require.NoError(t, g.Pages.SetList(g.front, list.ID, list.Mark(), page.Listing{Of: page.OfSection, Which: "juniors", Look: page.Bare, Most: 1, All: true}))
	g.live(g.front)
	g.GoLive()
	g.another("Second")
	return g
}

// another makes a page of the juniors and publishes it.
func (g group) another(title string) {
	g.T.Helper()
	id, err := g.Pages.NewPage("juniors", title, "empty")
	require.NoError(g.T, err)
	g.live(id)
}

func (g group) doc(id uint) page.Doc {
	g.T.Helper()
	p, err := g.Pages.Page(id)
	require.NoError(g.T, err)
	return p.Doc
}

func (g group) live(id uint) visit.Report {
	g.T.Helper()
	p, err := g.Pages.Page(id)
	require.NoError(g.T, err)
	report, err := g.Publish.Publish(g.T.Context(), id, p.Seen, "as it is, for a test", desktest.PlainLayout)
	require.NoError(g.T, err)
	return report
}

// top gives a front page a picture at the top of the other pages of its group.
func (g group) top(front, picture uint) {
	g.T.Helper()
	band, err := g.Pages.AddBlock(front, page.Gap{}, page.Band, "wide", "")
	require.NoError(g.T, err)
	require.NoError(g.T, g.Pages.MoveBlock(front, band, -1))
	require.NoError(g.T, g.Pages.MoveBlock(front, band, -1))
	at, _ := g.doc(front).Block(band)
	back := behind(picture)
	back.Shade, back.Elsewhere = 80, &page.UsualElsewhere
	require.NoError(g.T, g.Backgrounds.Set(front, band, at.Mark(), back))
}

// head is what stands above the list on the page that lists all of the juniors' pages.
func (g group) head() string {
	g.T.Helper()
	status, data := g.Visit("/juniors/all")
	require.Equal(g.T, 200, status)
	head, _, _ := strings.Cut(string(data), "<main>")
	return head
}

func TestPagesThatListAllBeginLikeTheirGroup(t *testing.T) {
	t.Parallel()
	g := newGroup(t)
	require.NotContains(t, g.head(), "<header")
	picture := g.Ready("juniors-boat", 1)
	g.top(g.front, picture)
	require.NotContains(t, g.head(), "<header", "the front page's draft changes nothing")
	report := g.live(g.front)
	assert.True(t, report.OK(), "%v", report.Checks)
	assert.Contains(t, fmt.Sprint(report.Checks), "Behind the name at its top: 390 ×")
	begins := g.head()
	assert.Contains(t, begins, `<header class="topped backed">`)
	assert.Contains(t, begins, "390w")
	assert.Contains(t, string(must(g.Visit("/juniors/all.css"))), "header.topped { --least: 180px;")

	g.another("Third")
	assert.Equal(t, begins, g.head(), "lists that are made anew begin as before")
	g.IsWhole()

	g.Tamper = func(path string, data []byte) []byte {
		if path == "/juniors/all" {
			return append(data, ' ')
		}
		return data
	}
	report, err := g.Visits.Check(t.Context(), g.front)
	require.NoError(t, err)
	assert.Contains(t, fmt.Sprint(report.Checks), "/juniors/all, which lists all of them, is not as it was made")
	g.Tamper = nil

	lives, err := g.Publish.Lives(g.front)
	require.NoError(t, err)
	_, err = g.Publish.PutBack(t.Context(), g.front, lives[len(lives)-1].ID)
	require.NoError(t, err)
	assert.NotContains(t, g.head(), "<header", "as it was at first")
	_, err = g.Publish.PutBack(t.Context(), g.front, lives[0].ID)
	require.NoError(t, err)
	assert.Equal(t, begins, g.head())

	require.NoError(t, g.Withdraw.Withdraw(t.Context(), picture))
	assert.NotContains(t, g.head(), "boat", "it is off the air there, too")
	g.another("Fourth")
	assert.NotContains(t, g.head(), "boat", "and stays off")
	g.IsWhole()
}

// What the house gives to all pages stands at the top of a section's lists, too, where the
// section gives nothing.
func TestPagesThatListAllBeginLikeTheHouse(t *testing.T) {
	t.Parallel()
	g := newGroup(t)
	picture := g.Ready("juniors-boat", 1)
	home, err := g.Covers.BeginFront("", "")
	require.NoError(t, err)
	g.top(home, picture)
	g.live(home)
	lines, err := g.Pages.PageLines()
	require.NoError(t, err)
	for _, l := range lines {
		assert.Equal(t, l.ID != home, l.Differs, "%s: its top is another one now", l.Path())
	}
	g.live(g.front)
	assert.Contains(t, g.head(), `<header class="topped backed">`)

	_, err = g.Withdraw.Erase(t.Context(), picture, withdraw.Erasing{Why: "The family asked for it", Names: true})
	require.NoError(t, err)
	for name, data := range desktest.FilesOf(t, g.Dir) {
		assert.NotContains(t, string(data), "juniors-boat", "no address of it stays in %s", name)
	}
	g.IsWhole()
}
