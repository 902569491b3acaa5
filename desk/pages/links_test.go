package pages_test

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/page"
	"mivlet/desk/desktest"
)

// Links lead to files of the page and to pages of the house, live ones first; a link to a file
// of the page itself leads somewhere.
func TestLinkTargets(t *testing.T) {
	b := desktest.Fresh(t)
	rope, err := b.Pages.NewPage("juniors", "Ropes and knots", "empty")
	require.NoError(t, err)
	_, err = b.Attachments.Add(b.PageID, page.Gap{}, "Rota of knots.pdf", strings.NewReader("%PDF-1.4 knots"))
	require.NoError(t, err)
	found, err := b.Pages.LinkTargets(b.PageID, "KNOTS")
	require.NoError(t, err)
	require.Len(t, found, 2)
	assert.True(t, found[0].File)
	assert.True(t, strings.HasSuffix(found[0].Address, ".pdf"), found[0].Address)
	assert.Equal(t, "/juniors/ropes-and-knots", found[1].Address)
	assert.False(t, found[1].Live)
	found, err = b.Pages.LinkTargets(rope, "knots")
	require.NoError(t, err)
	assert.Empty(t, found, "neither itself nor files of other pages")

	file, err := b.Pages.LinkTargets(b.PageID, "rota")
	require.NoError(t, err)
	_, err = b.Pages.AddBlock(b.PageID, page.Gap{}, page.Text, "", "See [the rota]("+file[0].Address+") and [nothing](/juniors/nowhere).")
	require.NoError(t, err)
	view, err := b.Pages.Page(b.PageID)
	require.NoError(t, err)
	var lost []string
	for _, f := range view.Findings {
		lost = append(lost, fmt.Sprint(f.Values...))
	}
	assert.Contains(t, strings.Join(lost, "\n"), "/juniors/nowhere")
	assert.NotContains(t, strings.Join(lost, "\n"), file[0].Address)
}
