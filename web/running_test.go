package web

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"

	"mivlet/desk/running"
)

func TestHowItRunsIsTold(t *testing.T) {
	t.Parallel()
	var v runningView
	for _, c := range []running.Code{running.DiskFull, running.BackupBroken, running.BackupFailed, running.BackupsUnread, running.BackupLate, running.NoBackups, running.BackupNotTried, running.SendingFailed, running.DiskLow, running.DiskUnknown} {
		assert.Greater(t, len(v.Says(running.Advice{Code: c, Of: "this"})), 30, "%s has a sentence", c)
	}
	v.Free, v.All = 25, 100
	assert.Equal(t, 75, v.Used())
	assert.Equal(t, "25 bytes of 100 bytes", v.Room())
	v.Free, v.All = 61_788_000_000, 270_553_000_000
	assert.Equal(t, "61.8 GB of 271 GB", v.Room())
	for every, says := range map[time.Duration]string{24 * time.Hour: "Every day", 48 * time.Hour: "Every 2 days", 12 * time.Hour: "Every 12 hours", 30 * time.Minute: "Every 30 minutes"} {
		v.Backups = &running.Backups{Every: every}
		assert.Equal(t, says, v.Often())
	}
}
