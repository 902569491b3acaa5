package web

import (
	"fmt"
	"net/http"
	"time"

	"mivlet/core/fit"
	"mivlet/desk/access"
	"mivlet/desk/running"
)

// runningView is how the program and its machine are doing.
type runningView struct {
	running.Report
}

// Used is how much of the disk is taken, of 100.
func (v runningView) Used() int { return int(100 * (v.All - v.Free) / max(v.All, 1)) }

// Room tells how much of the disk is free: in GB where there are some.
func (v runningView) Room() string {
	if v.All < 10e9 {
		return fit.Weight(v.Free) + " of " + fit.Weight(v.All)
	}
	return fmt.Sprintf("%.1f GB of %.0f GB", float64(v.Free)/1e9, float64(v.All)/1e9)
}

// Often tells how often a backup is written.
func (v runningView) Often() string {
	switch every := v.Backups.Every; {
	case every == 24*time.Hour:
		return "Every day"
	case every%(24*time.Hour) == 0:
		return "Every " + access.Count(int(every/(24*time.Hour)), "day")
	case every%time.Hour == 0:
		return "Every " + access.Count(int(every/time.Hour), "hour")
	default:
		return "Every " + access.Count(int(every/time.Minute), "minute")
	}
}

// Says tells what should be done.
func (v runningView) Says(a running.Advice) string {
	switch a.Code {
	case running.DiskFull:
		return "The disk is nearly full. Empty it now: nothing can be taken in or published soon."
	case running.DiskLow:
		return "Less than a tenth of the disk is free. Make room, or move to a larger one."
	case running.DiskUnknown:
		return "It could not be found out how much of the disk is free."
	case running.BackupBroken:
		return "The backup " + a.Of + " would not come back whole. See below what is wrong, and look at its disk."
	case running.BackupFailed:
		return "The last backup could not be written: " + a.Of
	case running.BackupsUnread:
		return "The place of the backups cannot be read: " + a.Of
	case running.BackupLate:
		return "The newest backup is too old. See in the log of the program why."
	case running.NoBackups:
		return "No backups are written by themselves. Whoever runs the program can say where with --backup-to."
	case running.BackupNotTried:
		return "It was never tried whether a backup would come back."
	case running.SendingFailed:
		return "Nothing could be sent to " + a.Of + ". Look at it under Destinations."
	}
	return string(a.Code)
}

// running shows how it is running.
func (s *server) running(w http.ResponseWriter, r *http.Request) {
	report, err := s.at(r).Running.Report(r.Context())
	if err != nil {
		s.fail(w, r, err)
		return
	}
	s.screen(w, r, "running", "How it runs", "people", runningView{report})
}
