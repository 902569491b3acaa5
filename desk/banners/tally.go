package banners

import (
	"context"
	"encoding/csv"
	"io"
	"strconv"
	"sync"
	"time"

	"mivlet/desk/access"
	"mivlet/store"
)

// tally holds what was counted and is not kept yet: visitors never wait for those who write.
type tally struct {
	mu  sync.Mutex
	all map[tallied]store.BannerDay
}

// tallied is what is counted together.
type tallied struct {
	banner uint
	day    string
}

func (t *tally) add(more store.BannerDay) {
	t.mu.Lock()
	defer t.mu.Unlock()
	if t.all == nil {
		t.all = map[tallied]store.BannerDay{}
	}
	key := tallied{more.BannerID, more.Day}
	sum := t.all[key]
	sum.BannerID, sum.Day = more.BannerID, more.Day
	sum.Shown += more.Shown
	sum.Followed += more.Followed
	t.all[key] = sum
}

// take takes out all that was counted.
func (t *tally) take() []store.BannerDay {
	t.mu.Lock()
	defer t.mu.Unlock()
	var all []store.BannerDay
	for _, sum := range t.all {
		all = append(all, sum)
	}
	t.all = nil
	return all
}

// keepCounts keeps what was counted; what cannot be kept is counted on.
func (d *Desk) keepCounts() error {
	counted := d.tally.take()
	if len(counted) == 0 {
		return nil
	}
	err := d.Store.CountBanners(counted)
	if err != nil {
		for _, sum := range counted {
			d.tally.add(sum)
		}
	}
	return err
}

// Count keeps what was counted every few moments, until ctx ends, and once more then.
func (d *Desk) Count(ctx context.Context, every time.Duration, failed func(error)) {
	tick := time.NewTicker(every)
	defer tick.Stop()
	for {
		select {
		case <-ctx.Done():
			if err := d.keepCounts(); err != nil {
				failed(err)
			}
			return
		case <-tick.C:
			if err := d.keepCounts(); err != nil {
				failed(err)
			}
		}
	}
}

// counted returns how often a banner was shown and followed each day, oldest first.
func (d *Desk) counted(id uint) ([]store.BannerDay, error) {
	if err := d.keepCounts(); err != nil {
		return nil, err
	}
	return d.Store.BannerDays(id)
}

// Counts writes how often a banner, or with 0 each banner, was shown and followed, day by day,
// as CSV (RFC 4180).
func (d *Desk) Counts(w io.Writer, id uint) error {
	if err := d.MayLook(); err != nil {
		return err
	}
	if id != 0 {
		if _, err := d.Store.Banner(id); err != nil {
			return access.NotFound(err, "The banner")
		}
	}
	days, err := d.counted(id)
	if err != nil {
		return err
	}
	titles := map[uint]string{}
	for _, dropped := range []bool{false, true} {
		all, err := d.Store.Banners(dropped)
		if err != nil {
			return err
		}
		for _, b := range all {
			titles[b.ID] = b.Doc.Title
		}
	}
	out := csv.NewWriter(w)
	out.UseCRLF = true
	lines := [][]string{{"day", "banner", "title", "shown", "followed"}}
	for _, day := range days {
		lines = append(lines, []string{day.Day, strconv.Itoa(int(day.BannerID)), access.Guarded(titles[day.BannerID]), strconv.Itoa(day.Shown), strconv.Itoa(day.Followed)})
	}
	return out.WriteAll(lines)
}
