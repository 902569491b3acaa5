package publish_test

import (
	"bytes"
	"io"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/facts"
	"mivlet/core/fit"
	"mivlet/core/rules"
	"mivlet/desk/access"
	"mivlet/desk/bench"
	"mivlet/desk/desktest"
)

// course is a drawing that would act where a browser got it.
const course = `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 60 40" onload="alert('acts-1')"><title>Course around the buoys</title><script>alert('acts-2')</script>
	<rect width="60" height="40" fill="#d7ecf4"/><path d="M5 35 L30 5 L55 35 Z" fill="none" stroke="#b3471d"/><text x="26" y="20" font-size="4">North</text><image href="photo-acts-3.jpg" width="9" height="9"/></svg>`

// A house that takes drawings gives visitors pictures that were drawn of them. The drawing itself,
// which can act, is among the originals and nowhere else.
func TestDrawingsComeToVisitorsAsPictures(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	_, err := b.Pictures.Arrive("course.svg", strings.NewReader(course), "juniors")
	desktest.Refusal(t, err, access.Bad, "Save it as PNG")
	b.UnderRules(func(r *rules.Rules) {
		set, err := r.Set("/types/image/svg+xml/do", "convert")
		require.NoError(t, err)
		*r = set
	})
	a, err := b.Pictures.Arrive("course.svg", strings.NewReader(course), "juniors")
	require.NoError(t, err)
	assert.Equal(t, "image/svg+xml", a.Converted)
	assert.Equal(t, "image/png", a.Facts.MediaType)
	assert.Equal(t, fit.Size{W: 3000, H: 2000}, a.Facts.Upright(), "for the widest place on the sharpest screen")
	assert.Equal(t, "Course around the buoys", a.Facts.Title)
	require.NotNil(t, a.Facts.Differs)
	assert.True(t, a.Facts.Differs.Words)
	assert.Equal(t, 1, a.Facts.Differs.Outside)
	again, err := b.Pictures.Arrive("again.svg", strings.NewReader(course), "juniors")
	require.NoError(t, err)
	require.NotNil(t, again.Twin, "it is here already")

	require.NoError(t, b.Bench.Send([]uint{a.ID}, bench.Assignment{Slot: "column", Section: "juniors"}))
	require.NoError(t, b.Pictures.SetName(a.ID, "juniors-course"))
	require.NoError(t, desktest.Describe(b.Desk, a.ID, "The course around three buoys, drawn"))
	b.Place(a.ID)
	b.GoLive()
	live := b.FilesLive()
	require.NotEmpty(t, live)
	pictures := 0
	for _, f := range live {
		file, err := b.Kept.Files.Open(f.Hash)
		require.NoError(t, err)
		data, err := io.ReadAll(file)
		file.Close()
		require.NoError(t, err)
		assert.NotContains(t, string(data), "acts-", f.Path)
		assert.NotEqual(t, "image/svg+xml", f.MediaType)
		known, err := facts.Read(bytes.NewReader(data))
		if err != nil {
			continue // a page
		}
		pictures++
		assert.Contains(t, []string{"image/png", "image/jpeg", "image/webp"}, known.MediaType, f.Path)
	}
	assert.Positive(t, pictures)
}
