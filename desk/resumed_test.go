package desk_test

import (
	"bytes"
	"context"
	"fmt"
	"net/url"
	"strings"
	"testing"
	"testing/fstest"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/desk"
	"mivlet/desk/access"
	"mivlet/desk/bringin"
	"mivlet/desk/desktest"
	"mivlet/store"
)

// Whoever began a job and has lost what it takes since then does nothing more: when it goes on behind a restart, it is
// refused, whatever kind it is of.
func TestJobsGoOnWithTheRightsOfToday(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	p := store.Person{Name: "Pell", Login: "pell", CreatedAt: b.Time(), Roles: []store.Role{{Section: "touring", Role: string(access.Contributor)}}} // who kept the house, and worked for juniors
	require.NoError(t, b.Kept.Tx(func(s store.Records) error { return s.SavePerson(&p) }))
	p, err := b.Kept.PersonByLogin("pell")
	require.NoError(t, err)
	tasks := map[string]string{
		"fetch": `{"start":"https://www.club.example/"}`, "mend": `{"site":1}`, "look-into": `{"site":1}`,
		"carry-over": `{"site":1,"page":"index.html","section":"juniors"}`, "card": `{"path":"DCIM/100BRIND/DSC_0001.JPG","section":"juniors"}`, "pages-of-a-file": `{"picture":1,"page":2}`,
	}
	site := desktest.Packed(t, map[string][]byte{"index.html": []byte("<title>Club</title><p>Boats")})
	f, err := b.BringIn.Bring(t.Context(), "club.zip", bytes.NewReader(site), nil)
	require.NoError(t, err)
	came := b.Arrive("minutes.jpg", desktest.Photo(300, 200, 1))
	kept := map[string]uint{}
	for kind, task := range tasks {
		task = strings.NewReplacer(`"site":1`, fmt.Sprintf(`"site":%d`, f.ID), `"picture":1`, fmt.Sprintf(`"picture":%d`, came.ID)).Replace(task)
		job := store.Job{Kind: kind, Title: kind, PersonID: p.ID, BegunAt: b.Time(), Tasks: []store.JobTask{{Steps: 1, Of: []byte(task)}}}
		require.NoError(t, b.Kept.Tx(func(s store.Records) error { return s.AddJob(&job) }))
		kept[kind] = job.ID
	}
	d, err := desk.New(&b.Kept.Store, desk.Options{
		Card:  fstest.MapFS{"DCIM/100BRIND/DSC_0001.JPG": {Data: desktest.Photo(300, 200, 2)}},
		Fetch: func(context.Context, *url.URL, bringin.Into) ([]string, error) { panic("it is fetched") },
	})
	require.NoError(t, err)
	t.Cleanup(d.Jobs.End)
	require.NoError(t, d.Jobs.Resume())
	for kind, id := range kept {
		job, err := d.Jobs.Job(id)
		require.NoError(t, err, kind)
		require.Eventually(t, func() bool { job, err = d.Jobs.Job(id); return err == nil && job.Ended }, time.Minute, time.Millisecond)
		assert.Len(t, job.Failed, 1, kind)
	}
	sites, err := b.Former.Sites()
	require.NoError(t, err)
	require.Len(t, sites, 1)
	assert.Empty(t, sites[0].MendedHash)
	_, err = b.Kept.FormerLook(f.ID)
	assert.ErrorIs(t, err, store.ErrNotFound)
	waiting, err := b.Pictures.Waiting()
	require.NoError(t, err)
	assert.Len(t, waiting, 1, "nothing came")
}
