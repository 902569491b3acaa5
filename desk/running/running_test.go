package running_test

import (
	"context"
	"errors"
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/desk"
	"mivlet/desk/desktest"
	"mivlet/desk/running"
)

// machine is one that says what a test wants.
type machine struct {
	free, all int64
	disk      error
	backups   *running.Backups
	unread    error
	since     time.Time
}

func (m *machine) Disk() (int64, int64, error) { return m.free, m.all, m.disk }
func (m *machine) Backups(context.Context) (*running.Backups, error) {
	return m.backups, m.unread
}
func (m *machine) Program() (string, time.Time) { return "v1", m.since }

func TestWhatShouldBeDone(t *testing.T) {
	t.Parallel()
	m := &machine{}
	b := desktest.FreshWith(t, func(o *desk.Options) { o.Machine = m })
	now := b.Time()
	ago := func(d time.Duration) time.Time { return now.Add(-d) }
	day := 24 * time.Hour
	tried := now.Add(-day)
	whole := running.Backup{ID: "one", At: ago(2 * time.Hour), Tried: &tried}
	kept := func(all ...running.Backup) *running.Backups {
		return &running.Backups{To: "/srv/b", Every: day, All: all}
	}
	fine := machine{free: 50, all: 100, backups: kept(whole), since: ago(9 * day)}
	for name, c := range map[string]struct {
		as     func(*machine)
		advice []running.Code
	}{
		"all is well":                     {func(*machine) {}, nil},
		"a disk with a tenth left":        {func(m *machine) { m.free, m.all = 100, 1000 }, nil},
		"a disk with less":                {func(m *machine) { m.free, m.all = 99, 1000 }, []running.Code{running.DiskLow}},
		"a disk with hardly anything":     {func(m *machine) { m.free, m.all = 19, 1000 }, []running.Code{running.DiskFull}},
		"a disk that says nothing":        {func(m *machine) { m.disk = errors.New("no") }, []running.Code{running.DiskUnknown}},
		"no backups":                      {func(m *machine) { m.backups = nil }, []running.Code{running.NoBackups}},
		"a place that cannot be read":     {func(m *machine) { m.backups, m.unread = nil, errors.New("away") }, []running.Code{running.BackupsUnread}},
		"one that failed":                 {func(m *machine) { m.backups.Failed = "full" }, []running.Code{running.BackupFailed}},
		"one that is late":                {func(m *machine) { m.backups.All[0].At = ago(2*day + time.Minute) }, []running.Code{running.BackupLate}},
		"one that is not late yet":        {func(m *machine) { m.backups.All[0].At = ago(2*day - time.Minute) }, nil},
		"one that is late as nothing ran": {func(m *machine) { m.backups.All[0].At, m.since = ago(9*day), ago(time.Minute) }, nil},
		"none yet, after a start":         {func(m *machine) { m.backups, m.since = kept(), ago(time.Hour) }, nil},
		"none after days":                 {func(m *machine) { m.backups = kept() }, []running.Code{running.BackupLate}},
		"one that would not come back":    {func(m *machine) { m.backups.All[0].Faults = []string{"missing"} }, []running.Code{running.BackupBroken}},
		"the newest is not tried, one is": {func(m *machine) { m.backups = kept(running.Backup{At: ago(time.Hour)}, whole) }, nil},
		"none was tried in a day": {func(m *machine) {
			m.backups = kept(running.Backup{At: ago(time.Hour)}, running.Backup{At: ago(25 * time.Hour)})
		}, []running.Code{running.BackupNotTried}},
		"the most urgent comes first": {func(m *machine) { m.free, m.all, m.backups = 99, 1000, nil }, []running.Code{running.NoBackups, running.DiskLow}},
		"an old trial failed, the last held": {func(m *machine) {
			m.backups = kept(whole, running.Backup{At: ago(day), Tried: &tried, Faults: []string{"missing"}})
		}, nil},
	} {
		*m = fine
		m.backups = kept(slices.Clone(fine.backups.All)...)
		c.as(m)
		r, err := b.Running.Report(context.Background())
		require.NoError(t, err)
		var got []running.Code
		for _, a := range r.Advice {
			got = append(got, a.Code)
		}
		assert.Equal(t, c.advice, got, name)
	}
	r, err := b.Running.Report(context.Background())
	require.NoError(t, err)
	assert.Equal(t, "v1", r.Version)
	assert.True(t, running.BackupBroken.Urgent())
	assert.False(t, running.DiskLow.Urgent())
}

func TestTheSlowestActsAreRemembered(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	for n := range 30 {
		b.Running.Note(running.Act{What: "GET /pages/{id}", Took: time.Duration(n) * 100 * time.Millisecond})
	}
	r, err := b.Running.Report(context.Background())
	require.NoError(t, err)
	require.Len(t, r.Slow, 10)
	assert.Equal(t, 2900*time.Millisecond, r.Slow[0].Took)
	assert.Equal(t, 2*time.Second, r.Slow[9].Took)
}
