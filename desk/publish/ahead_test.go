package publish_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/raster"
	"mivlet/desk"
	"mivlet/desk/desktest"
)

// counting counts what is encoded.
type counting struct{ put int }

func (c *counting) Get(string) ([]raster.Encoded, bool)  { return nil, false }
func (c *counting) Put(key string, all []raster.Encoded) { c.put++ }

// What was made while somebody worked on a page is not made again when it is published, and
// what goes live is the same.
func TestFilesAreMadeAhead(t *testing.T) {
	t.Parallel()
	counted := &counting{}
	b := desktest.FreshWith(t, func(o *desk.Options) { o.Encoded = counted })
	b.Place(b.Ready("juniors-launch", 1))
	b.Place(b.Ready("juniors-boats", 2))
	require.NoError(t, b.Publish.Ahead(b.PageID))
	require.NoError(t, b.Publish.Ahead(b.PageID), "twice is once")
	b.Publish.AheadDone()
	made := counted.put
	assert.Positive(t, made)
	assert.True(t, b.GoLive().OK())
	assert.Equal(t, made, counted.put, "nothing was left to make")

	// What changes while files are made is made after it.
	b.Place(b.Ready("juniors-oars", 3))
	require.NoError(t, b.Publish.Ahead(b.PageID))
	b.Place(b.Ready("juniors-pier", 4))
	require.NoError(t, b.Publish.Ahead(b.PageID))
	b.Publish.AheadDone()
	made = counted.put
	assert.True(t, b.GoLive().OK())
	assert.Equal(t, made, counted.put)
	b.IsWhole()
}
