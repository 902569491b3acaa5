package suite

import (
	"time"

	"github.com/stretchr/testify/assert"

	"mivlet/core/survey"
	"mivlet/store"
)

// rounds keeps what looking through live sites found: what is found again keeps its age and what was decided,
// what is not found any more goes.
func rounds(h *house) {
	open := func() int64 { return of(h.Counts(nil))(h).Findings }
	found := func(marks ...string) (all []store.Found) {
		for _, m := range marks {
			all = append(all, store.Found{Mark: m, Section: "juniors", Finding: survey.Finding{Code: survey.BrokenLink, Page: m, Values: []any{m, ""}}, Since: noon})
		}
		return all
	}
	look := func(place uint, days int, f ...store.Found) {
		r := store.Round{Place: place, At: noon.AddDate(0, 0, days), Sum: survey.Sum{Pages: days}}
		for i := range f {
			f[i].Since = r.At
		}
		h.ok(h.AddRound(&r, f))
	}
	look(0, 1, found("a", "b")...)
	look(7, 1, found("a")...)
	assert.EqualValues(h, 3, open())
	all := of(h.AllFound())(h)
	assert.Equal(h, []any{uint(0), "a", "juniors", survey.BrokenLink, []any{"a", ""}}, []any{all[0].Place, all[0].Mark, all[0].Section, all[0].Finding.Code, all[0].Finding.Values})

	at := noon.AddDate(0, 0, 1).Add(time.Hour)
	h.ok(h.LeaveFound([]uint{all[0].ID}, "Ines", &at))
	assert.EqualValues(h, 2, open())
	changed := found("a", "c")
	changed[0].Finding.Times, changed[0].Section = 5, "touring"
	look(0, 2, changed...)
	all = of(h.AllFound())(h)
	assert.Equal(h, []string{"a", "c", "a"}, []string{all[0].Mark, all[1].Mark, all[2].Mark})
	assert.Equal(h, []any{"Ines", 5, "touring"}, []any{all[0].LeftBy, all[0].Finding.Times, all[0].Section}, "what is known of it is new, what was decided stays")
	assert.True(h, all[0].Since.Equal(noon.AddDate(0, 0, 1)) && all[0].LeftAt.Equal(at))
	assert.True(h, all[1].Since.Equal(noon.AddDate(0, 0, 2)))
	assert.EqualValues(h, 2, open(), "c, and what is wrong at the other place")
	h.ok(h.LeaveFound([]uint{all[0].ID}, "", nil))
	assert.EqualValues(h, 3, open())

	failed := store.Round{Place: 0, At: noon.AddDate(0, 0, 3), Fault: "nobody answers"}
	h.ok(h.AddRound(&failed, nil))
	assert.EqualValues(h, 3, open(), "what could not be looked through is as it was")
	last := of(h.LastRounds())(h)
	assert.Equal(h, []any{2, uint(0), "nobody answers", uint(7)}, []any{len(last), last[0].Place, last[0].Fault, last[1].Place})
	for day := range 420 {
		look(0, 4+day)
	}
	assert.EqualValues(h, 1, open(), "nothing is wrong any more, but at the other place")
	kept := of(h.Rounds(0))(h)
	assert.Equal(h, []any{400, 24, 423}, []any{len(kept), kept[0].Sum.Pages, kept[399].Sum.Pages})
	h.ok(h.DropRounds(7))
	assert.Empty(h, of(h.AllFound())(h))
	assert.Empty(h, of(h.Rounds(7))(h))
}
