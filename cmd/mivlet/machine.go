package main

import (
	"context"
	"runtime/debug"
	"time"

	"mivlet/desk/running"
)

// machine tells keepers of what the program runs on.
type machine struct {
	data    string
	since   time.Time
	backing *backing
}

// Disk looks at the disk that the data lie on.
func (m machine) Disk() (free, all int64, err error) { return diskOf(m.data) }

// Program returns the version that was built, or the revision where it has none.
func (m machine) Program() (string, time.Time) {
	version := "not known"
	if info, ok := debug.ReadBuildInfo(); ok {
		version = info.Main.Version
		for _, s := range info.Settings {
			if s.Key == "vcs.revision" && (version == "" || version == "(devel)") {
				version = s.Value[:min(len(s.Value), 12)]
			}
		}
	}
	return version, m.since
}

// Backups returns what was known when the place was last looked at.
func (m machine) Backups(context.Context) (*running.Backups, error) {
	if m.backing.to == "" {
		return nil, nil
	}
	b := &running.Backups{To: m.backing.to, Every: m.backing.every}
	m.backing.mu.Lock()
	defer m.backing.mu.Unlock()
	b.Failed = m.backing.failed
	for _, is := range m.backing.known {
		one := running.Backup{ID: is.ID(), At: is.At, Files: is.Files, Bytes: is.Bytes, New: is.New}
		if is.Tried != nil {
			one.Tried, one.Faults = &is.Tried.At, is.Tried.Faults
		}
		b.All = append(b.All, one)
	}
	return b, nil
}
