package main

import (
	"context"
	"os"
	"path/filepath"

	"mivlet/desk"
	"mivlet/internal/metrics"
	"mivlet/store/datafolder"
)

// gauges are the numbers of the house and its machine. What cannot be found out is 0.
func gauges(d *desk.Desk, m machine) []metrics.Gauge {
	disk := func(pick func(free, all int64) int64) func() float64 {
		return func() float64 {
			free, all, err := m.Disk()
			if err != nil {
				return 0
			}
			return float64(pick(free, all))
		}
	}
	return []metrics.Gauge{
		{Name: "mivlet_disk_free_bytes", Help: "Bytes that are free where the data lie.", Now: disk(func(free, _ int64) int64 { return free })},
		{Name: "mivlet_disk_size_bytes", Help: "Bytes of the disk that the data lie on.", Now: disk(func(_, all int64) int64 { return all })},
		{Name: "mivlet_database_bytes", Help: "Bytes of the records.", Now: func() float64 {
			info, err := os.Stat(filepath.Join(m.data, datafolder.DatabaseName))
			if err != nil {
				return 0
			}
			return float64(info.Size())
		}},
		{Name: "mivlet_decoding_bytes", Help: "Bytes that pictures take which are being decoded.", Now: func() float64 { return float64(d.Derive.DecodingNow()) }},
		{Name: "mivlet_backup_newest_timestamp_seconds", Help: "When the newest backup was written, since 1970; 0 where there is none.", Now: func() float64 {
			b, err := m.Backups(context.Background())
			if err != nil || b == nil || len(b.All) == 0 {
				return 0
			}
			return float64(b.All[0].At.Unix())
		}},
		{Name: "mivlet_backup_faults", Help: "What was wrong with the newest backup that was tried.", Now: func() float64 {
			b, err := m.Backups(context.Background())
			if err != nil || b == nil {
				return 0
			}
			for _, one := range b.All {
				if one.Tried != nil {
					return float64(len(one.Faults))
				}
			}
			return 0
		}},
	}
}
