package pictures_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/page"
	"mivlet/desk/access"
	"mivlet/desk/desktest"
)

// Names and texts of any length, with signs that nobody sees, are cleaned or refused,
// and names that mean devices never become addresses.
func TestOddNamesAndTexts(t *testing.T) {
	b := desktest.Fresh(t)
	long := b.Arrive(strings.Repeat("x", 9000)+".jpg", desktest.Photo(400, 300, 1))
	assert.Less(t, len(long.OriginalName), 300)
	assert.True(t, strings.HasSuffix(long.OriginalName, ".jpg"))
	odd := b.Arrive("photo\u202egpj.exe\x00\x07.jpg", desktest.Photo(400, 300, 2))
	assert.Equal(t, "photogpj.exe.jpg", odd.OriginalName)
	desktest.Refusal(t, desktest.Describe(b.Desk, odd.ID, strings.Repeat("word ", 2000)), access.TooMuch, "at most 5000")
	id, err := b.Pages.NewPage("juniors", "CON\u202e", "empty")
	require.NoError(t, err)
	v, err := b.Pages.Page(id)
	require.NoError(t, err)
	assert.Equal(t, "/juniors/con-page", v.Path())
	block, err := b.Attachments.Add(id, page.Gap{}, "aux.csv", strings.NewReader("a,b\n1,2\n"))
	require.NoError(t, err)
	v, err = b.Pages.Page(id)
	require.NoError(t, err)
	file, _ := v.Doc.Block(block)
	assert.Equal(t, "aux-file.csv", file.File.Name)
	desktest.Refusal(t, b.Pages.BeAt(b.PageID, strings.Repeat("a", 5000)), access.Missing, "no such place")
	require.NoError(t, b.Pages.BeAt(b.PageID, "a"))
	require.NoError(t, b.Pages.BeAt(b.PageID, ""))
}
