package snapshot_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/desk/desktest"
)

// A page that went live when documents had an earlier form is not changed by a new one.
func TestAnotherFormOfTheDocumentChangesNoPage(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	b.GoLive()
	n, err := b.Snapshot.Snap(b.PageID)
	require.NoError(t, err)
	was := n.Print()
	for _, version := range []int{1, 2, 3, 9} {
		n.Doc.Version = version
		assert.Equal(t, was, n.Print(), "form %d", version)
		assert.False(t, n.Differs())
	}
	n.Doc.Title = "Another"
	assert.NotEqual(t, was, n.Print())
}
