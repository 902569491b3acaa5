package suite

import (
	"encoding/json"
	"fmt"
	"time"

	"github.com/stretchr/testify/assert"

	"mivlet/store"
)

// keptJobs keeps work that goes on after a restart.
func keptJobs(h *house) {
	begin := func(title string) store.Job {
		j := store.Job{Kind: "cuts", Title: title, PersonID: 3, BegunAt: noon, Tasks: []store.JobTask{{Steps: 2, Of: json.RawMessage(`{"picture":7}`)}, {Steps: 1, Of: json.RawMessage(`"x"`)}}}
		h.ok(h.AddJob(&j))
		return j
	}
	first, second := begin("first"), begin("second")
	assert.Less(h, first.ID, second.ID)
	first.Failed = []string{}
	assert.Equal(h, first, of(h.OpenJobs())(h)[0], "with all that it was begun with")
	first.Done, first.Failed, first.Title = 1, []string{"too large"}, "another title"
	h.ok(h.SaveJob(first))
	first.Title = "first"
	assert.Equal(h, first, of(h.OpenJobs())(h)[0], "what it is stays as it was")
	for _, c := range []struct {
		from, to string
		got      bool
	}{{"", "a", true}, {"", "b", false}, {"a", "b", true}, {"b", "", true}} {
		assert.Equal(h, c.got, of(h.TakeJob(first.ID, c.from, c.to))(h), "from %q to %q", c.from, c.to)
	}
	assert.Equal(h, first, of(h.Job(first.ID))(h))
	h.ok(h.NoteJob(first.ID, "somebody else", 9))
	assert.Equal(h, first, of(h.Job(first.ID))(h), "only who does it tells how far it is")
	h.ok(h.NoteJob(first.ID, first.Program, 9))
	assert.Equal(h, 9, of(h.Job(first.ID))(h).Within)
	_, err := h.Job(9999)
	assert.ErrorIs(h, err, store.ErrNotFound)
	// Of some kinds one goes on at a time about each thing.
	about := func(kind string, about uint) (*store.Job, error) {
		j := store.Job{Kind: kind, About: about, Title: fmt.Sprint(kind, about), BegunAt: noon, Tasks: []store.JobTask{{Steps: 1, Of: json.RawMessage(`7`)}}}
		return &j, h.Tx(func(s store.Records) error { return s.AddJob(&j) })
	}
	seven, err := about("mend", 7)
	h.ok(err)
	for _, other := range []struct {
		kind  string
		about uint
		fails bool
	}{{"mend", 7, true}, {"mend", 8, false}, {"look", 7, false}, {"mend", 0, false}, {"mend", 0, false}} {
		j, err := about(other.kind, other.about)
		if other.fails {
			assert.ErrorIs(h, err, store.ErrTaken)
			continue
		}
		h.ok(err)
		j.EndedAt = &noon
		h.ok(h.SaveJob(*j))
	}
	last := of(h.LastJob("mend", 7))(h)
	assert.Equal(h, seven.ID, last.ID)
	assert.Nil(h, last.EndedAt)
	assert.Empty(h, last.Tasks)
	seven.EndedAt, seven.Failed = &noon, []string{"no"}
	h.ok(h.SaveJob(*seven))
	assert.Equal(h, []string{"no"}, of(h.LastJob("mend", 7))(h).Failed)
	again, err := about("mend", 7)
	h.ok(err)
	assert.Equal(h, again.ID, of(h.LastJob("mend", 7))(h).ID)
	again.EndedAt = &noon
	h.ok(h.SaveJob(*again))
	_, err = h.LastJob("mend", 9)
	assert.ErrorIs(h, err, store.ErrNotFound)
	h.ok(h.DropJobsEndedBefore(noon.Add(time.Second)))

	ended := noon.Add(time.Hour)
	first.Done, first.EndedAt, first.Stopped = 2, &ended, true
	h.ok(h.SaveJob(first))
	open := of(h.OpenJobs())(h)
	assert.Len(h, open, 1)
	assert.Equal(h, "second", open[0].Title)
	all := of(h.Jobs(9))(h)
	assert.Equal(h, []string{"second", "first"}, []string{all[0].Title, all[1].Title})
	assert.Equal(h, first, all[1])
	assert.Len(h, of(h.Jobs(1))(h), 1)
	assert.False(h, of(h.TakeJob(first.ID, "", "a"))(h), "nobody takes what has ended")
	h.ok(h.DropJobsEndedBefore(ended))
	assert.Len(h, of(h.Jobs(9))(h), 2)
	h.ok(h.DropJobsEndedBefore(ended.Add(time.Second)))
	assert.Len(h, of(h.Jobs(9))(h), 1, "those that go on are not forgotten")
}
