package intake_test

import (
	"bytes"
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/fit"
	"mivlet/desk/access"
	"mivlet/desk/desktest"
	"mivlet/internal/reference"
	"mivlet/store"
)

// A scan of several pages comes in with its first page, and the others are brought on request, each as a
// picture of its own; then they are not offered again.
func TestOtherPagesAreBrought(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	file := filepath.Join(t.TempDir(), "scan.tif")
	reference.Run(t, "convert", "-size", "400x300", "gradient:red-navy", "-size", "410x300", "gradient:white-green", "-size", "420x300", "plasma:", file)
	data, err := os.ReadFile(file)
	require.NoError(t, err)
	came, err := b.Pictures.Arrive("minutes.tif", bytes.NewReader(data), "juniors")
	require.NoError(t, err)
	require.Equal(t, 3, came.Facts.Pages)

	job, err := b.Intake.BringPages(came.ID)
	require.NoError(t, err)
	job.Wait()
	assert.Empty(t, job.Progress().Failed)
	waiting, err := b.Pictures.Waiting()
	require.NoError(t, err)
	sizes := map[string]fit.Size{}
	for _, a := range waiting {
		sizes[a.OriginalName] = a.Facts.Upright()
		assert.Equal(t, store.Arrivals, a.Station)
		assert.Equal(t, "juniors", a.Section)
	}
	assert.Equal(t, map[string]fit.Size{"minutes.tif": {W: 400, H: 300}, "minutes-page-2.png": {W: 410, H: 300}, "minutes-page-3.png": {W: 420, H: 300}}, sizes)

	_, err = b.Intake.BringPages(came.ID)
	desktest.Refusal(t, err, access.Bad, "no other pages")

	// It had been killed before it noted that they came: they do not come twice.
	p, err := b.Kept.Picture(came.ID)
	require.NoError(t, err)
	p.Facts.Pages = 3
	require.NoError(t, b.Kept.Tx(func(s store.Records) error { return s.SavePicture(&p) }))
	job, err = b.Intake.BringPages(came.ID)
	require.NoError(t, err)
	job.Wait()
	waiting, err = b.Pictures.Waiting()
	require.NoError(t, err)
	assert.Len(t, waiting, 3)
	p, err = b.Kept.Picture(came.ID)
	require.NoError(t, err)
	assert.Equal(t, 1, p.Facts.Pages)
}

// A page that is spoiled is told, the others come, and all are offered again.
func TestASpoiledPage(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	file := filepath.Join(t.TempDir(), "scan.tif")
	reference.Run(t, "convert", "-size", "200x100", "gradient:red-navy", "-size", "211x100", "gradient:white-green", "-size", "223x100", "plasma:", "-compress", "lzw", file)
	data, err := os.ReadFile(file)
	require.NoError(t, err)
	at := bytes.Index(data, []byte{0x00, 0x01, 0x03, 0x00, 0x01, 0x00, 0x00, 0x00, 211, 0}) // the width of the second page
	require.Positive(t, at)
	data[at+8], data[at+9] = 0, 0
	came, err := b.Pictures.Arrive("minutes.tif", bytes.NewReader(data), "juniors")
	require.NoError(t, err)
	job, err := b.Intake.BringPages(came.ID)
	require.NoError(t, err)
	job.Wait()
	require.Len(t, job.Progress().Failed, 1)
	assert.Contains(t, job.Progress().Failed[0], "page 2")
	waiting, err := b.Pictures.Waiting()
	require.NoError(t, err)
	assert.Len(t, waiting, 2)
	for _, a := range waiting {
		if a.ID == came.ID {
			assert.Equal(t, 3, a.Facts.Pages)
			assert.Equal(t, []int{3}, a.PagesBrought)
		}
	}
	job, err = b.Intake.BringPages(came.ID)
	require.NoError(t, err)
	job.Wait()
	assert.Equal(t, 1, job.Progress().All, "the others do not come again")
}
