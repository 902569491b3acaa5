package running

import (
	"cmp"
	"slices"
	"time"
)

// Code is what somebody should do something about.
type Code string

// The codes, the most urgent first.
const (
	DiskFull       Code = "disk_full"        // less than 2 of 100 are free
	BackupBroken   Code = "backup_broken"    // the newest that was tried would not come back whole
	BackupFailed   Code = "backup_failed"    // the last one could not be written
	BackupsUnread  Code = "backups_unread"   // nobody knows what is there
	BackupLate     Code = "backup_late"      // the newest is older than twice what was said
	NoBackups      Code = "no_backups"       // none are written by themselves
	BackupNotTried Code = "backup_not_tried" // none of them ever
	SendingFailed  Code = "sending_failed"   // to a destination
	DiskLow        Code = "disk_low"         // less than 10 of 100 are free
	DiskUnknown    Code = "disk_unknown"
)

var codes = []Code{DiskFull, BackupBroken, BackupFailed, BackupsUnread, BackupLate, NoBackups, BackupNotTried, SendingFailed, DiskLow, DiskUnknown}

// Urgent reports whether it cannot wait.
func (c Code) Urgent() bool { return slices.Index(codes, c) < slices.Index(codes, BackupLate) }

// Advice is something to be done. Its sentence belongs to the interface.
type Advice struct {
	Code Code
	Of   string // what it is about, or what was said of it
}

func (r *Report) advise(c Code, of string) { r.Advice = append(r.Advice, Advice{c, of}) }

// judge finds what should be done, the most urgent first.
func (r *Report) judge() {
	switch {
	case r.All > 0 && r.Free < r.All/50:
		r.advise(DiskFull, "")
	case r.All > 0 && r.Free < r.All/10:
		r.advise(DiskLow, "")
	}
	unread := slices.ContainsFunc(r.Advice, func(a Advice) bool { return a.Code == BackupsUnread })
	switch b := r.Backups; {
	case b == nil && !unread:
		r.advise(NoBackups, "")
	case b != nil:
		r.judgeBackups(b)
	}
	for _, d := range r.Destinations {
		if d.Failed != "" && !d.Paused {
			r.advise(SendingFailed, d.Title)
		}
	}
	slices.SortStableFunc(r.Advice, func(a, b Advice) int {
		return cmp.Compare(slices.Index(codes, a.Code), slices.Index(codes, b.Code))
	})
}

func (r *Report) judgeBackups(b *Backups) {
	if b.Failed != "" {
		r.advise(BackupFailed, b.Failed)
	}
	newest := r.Since
	if len(b.All) > 0 {
		newest = b.All[0].At
	}
	// After a start the first one may be under way.
	if r.Now.Sub(newest) > 2*b.Every && r.Now.Sub(r.Since) > time.Hour {
		r.advise(BackupLate, "")
	}
	tried := slices.IndexFunc(b.All, func(b Backup) bool { return b.Tried != nil })
	switch {
	case tried >= 0 && len(b.All[tried].Faults) > 0:
		r.advise(BackupBroken, b.All[tried].ID)
	case tried < 0 && len(b.All) > 0 && r.Now.Sub(b.All[len(b.All)-1].At) > 24*time.Hour:
		r.advise(BackupNotTried, "")
	}
}
