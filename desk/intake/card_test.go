package intake_test

import (
	"testing"
	"testing/fstest"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/desk"
	"mivlet/desk/access"
	"mivlet/desk/desktest"
)

// The card is seen once it is inserted, only pictures are taken from it, and what was taken is marked.
func TestTheCameraCard(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	card := fstest.MapFS{"DCIM/100BRIND/DSC_0001.JPG": {Data: desktest.Photo(300, 200, 1)}, "DCIM/100BRIND/DSC_0002.JPG": {Data: desktest.Photo(300, 200, 2)}, "DCIM/100BRIND/broken.JPG": {Data: []byte{1}}, "MISC/X.MRK": {Data: []byte{1}}}
	d, err := desk.New(&b.Kept.Store, desk.Options{Card: card})
	require.NoError(t, err)
	t.Cleanup(d.Jobs.End)
	v, err := d.Intake.Card()
	require.NoError(t, err)
	assert.True(t, v.There)
	assert.Empty(t, v.Files, "nothing is seen before it is inserted")
	require.NoError(t, d.Intake.InsertCard(true))
	v, err = d.Intake.Card()
	require.NoError(t, err)
	assert.Len(t, v.Files, 2)
	assert.Equal(t, 2, v.Clutter)
	job, err := d.Intake.TakeFromCard([]string{"DCIM/100BRIND/DSC_0001.JPG"}, "juniors")
	require.NoError(t, err)
	job.Wait()
	assert.Empty(t, job.Progress().Failed)
	v, err = d.Intake.Card()
	require.NoError(t, err)
	assert.True(t, v.Files[0].Taken, "taken before")
	assert.False(t, v.Files[1].Taken)
	require.NoError(t, d.Intake.InsertCard(false))
	_, err = d.Intake.TakeFromCard([]string{"DCIM/100BRIND/DSC_0002.JPG"}, "juniors")
	desktest.Refusal(t, err, access.Missing, "no card")
}
