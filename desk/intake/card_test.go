package intake_test

import (
	"fmt"
	"slices"
	"testing"
	"testing/fstest"
	"time"

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

// What is being taken from a card when the program ends is taken when it runs again, and nothing twice: also where
// it was killed before it could note what it had done.
func TestTakingFromTheCardGoesOn(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	files := fstest.MapFS{}
	var names []string
	for n := range 3 {
		name := fmt.Sprintf("DCIM/100BRIND/DSC_000%d.JPG", n+1)
		files[name] = &fstest.MapFile{Data: desktest.Photo(300, 200, uint64(n+1))}
		names = append(names, name)
	}
	open := func() *desk.Desk {
		d, err := desk.New(&b.Kept.Store, desk.Options{Card: files})
		require.NoError(t, err)
		t.Cleanup(d.Jobs.End)
		return d
	}
	d := open()
	require.NoError(t, d.Intake.InsertCard(true))
	job, err := d.Intake.TakeFromCard(names[:1], "juniors") // one is here already
	require.NoError(t, err)
	job.Wait()

	job, err = d.Intake.TakeFromCard(names, "juniors")
	require.NoError(t, err)
	job.Wait()
	all, err := b.Kept.Jobs(1)
	require.NoError(t, err)
	arrived := func() (all []string) {
		waiting, err := b.Pictures.Waiting()
		require.NoError(t, err)
		for _, p := range waiting {
			all = append(all, p.OriginalName)
		}
		slices.Sort(all)
		return all
	}
	want := []string{"DSC_0001.JPG", "DSC_0001.JPG", "DSC_0002.JPG", "DSC_0003.JPG"}
	assert.Equal(t, want, arrived(), "the one that was here is wanted again")

	for done := range 3 { // it had been killed before it noted the rest
		all[0].Done, all[0].EndedAt = done, nil
		require.NoError(t, b.Kept.SaveJob(all[0]))
		d = open()
		require.NoError(t, d.Jobs.Resume())
		require.Eventually(t, func() bool { p, err := d.Jobs.Job(all[0].ID); return err == nil && p.Ended }, time.Minute, time.Millisecond)
		assert.Equal(t, want, arrived(), "from task %d", done)
	}
}
