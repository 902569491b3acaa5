package former_test

import (
	"context"
	"errors"
	"io/fs"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/fit"
	"mivlet/core/mend"
	"mivlet/core/survey"
	"mivlet/desk"
	"mivlet/desk/access"
	"mivlet/desk/desktest"
)

// All pages that change are compared beside the screens, as they were and as they are; what was found holds until the site
// is mended again.
func TestAllChangedPagesAreCompared(t *testing.T) {
	t.Parallel()
	var fails error
	b, runa, id := brought(t, func(o *desk.Options) {
		o.Compare = func(_ context.Context, was, now fs.FS, pages []string, progress func(done, all int)) (all []mend.Compared, err error) {
			assert.Equal(t, []string{"index.html", "next.html"}, pages)
			before, err := fs.ReadFile(was, pages[0])
			require.NoError(t, err)
			after, err := fs.ReadFile(now, pages[0])
			require.NoError(t, err)
			assert.NotContains(t, string(before), "srcset")
			assert.Contains(t, string(after), "srcset")
			for v := range survey.Viewports {
				all = append(all, mend.Compared{Page: pages[0], Viewport: v}, mend.Compared{Page: pages[1], Viewport: v})
			}
			all[3].Areas = []fit.Box{{X: 8, Y: 16, Width: 24, Height: 8}}
			progress(2, 2)
			return all, fails
		}
	})
	_, err := b.Former.CompareAll(id)
	desktest.Refusal(t, err, access.Missing, "not been mended")
	mended := func() {
		t.Helper()
		job, err := b.Former.Mend(id)
		require.NoError(t, err)
		require.Empty(t, desktest.Ended(t, job).Failed)
	}
	mended()
	c, err := runa.Former.Compared(id)
	require.NoError(t, err)
	assert.True(t, c.May)
	assert.Empty(t, c.Pages)
	_, err = runa.Former.CompareAll(id)
	desktest.Refusal(t, err, access.Forbidden, "keeper")

	fails = errors.New("the browser ended")
	job, err := b.Former.CompareAll(id)
	require.NoError(t, err)
	assert.NotEmpty(t, desktest.Ended(t, job).Failed)
	c, err = runa.Former.Compared(id)
	require.NoError(t, err)
	assert.Empty(t, c.Pages, "half of it would be told as all of it")
	assert.Equal(t, job.ID, c.Job, "it is told why")

	fails = nil
	job, err = b.Former.CompareAll(id)
	require.NoError(t, err)
	require.Empty(t, desktest.Ended(t, job).Failed)
	c, err = runa.Former.Compared(id)
	require.NoError(t, err)
	assert.Equal(t, 1, c.Alike)
	assert.Equal(t, []string{"next.html"}, c.Other)
	assert.Empty(t, c.Not)
	assert.Zero(t, c.Job)
	assert.Equal(t, []fit.Box{{X: 8, Y: 16, Width: 24, Height: 8}}, c.Pages["next.html"][1].Areas)

	require.NoError(t, runa.Former.Leave(id, "files/IMG_2041.jpg"))
	mended()
	c, err = runa.Former.Compared(id)
	require.NoError(t, err)
	assert.Empty(t, c.Pages, "it was another site")
}

// Without a browser nobody is promised a comparison.
func TestNothingComparesWithoutABrowser(t *testing.T) {
	t.Parallel()
	b, _, id := brought(t)
	job, err := b.Former.Mend(id)
	require.NoError(t, err)
	require.Empty(t, desktest.Ended(t, job).Failed)
	c, err := b.Former.Compared(id)
	require.NoError(t, err)
	assert.False(t, c.May)
	_, err = b.Former.CompareAll(id)
	desktest.Refusal(t, err, access.Missing, "no browser")
}
