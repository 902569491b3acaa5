package snapshot

import (
	"fmt"
	"slices"

	"mivlet/core/words"
	"mivlet/desk/cuts"
	"mivlet/store"
)

// Settle works out anew what is kept of every page and may have changed since: whether
// visitors see something else than the draft would give and, where judged, how many
// findings the sign-off has. Whatever is written marks the pages that it concerns, so
// that most times there is nothing to do, however large the house is.
func (d *Desk) Settle(judged bool) error {
	if d.IsSettled() && !judged {
		return nil // in this very request
	}
	if err := d.settleNow(judged); err != nil {
		return err
	}
	d.NowSettled(true)
	return nil
}

func (d *Desk) settleNow(judged bool) error {
	compared, findings := d.settledUnder()
	if !judged {
		findings = ""
	}
	due, err := d.Store.Unsettled(compared, findings)
	if err != nil || len(due) == 0 {
		return err
	}
	if judged {
		if err := d.measureAll(due); err != nil {
			return err
		}
	}
	return d.Store.Tx(func(s store.Records) error { // nobody writes between the reading and the keeping
		due, err := s.Unsettled(compared, findings)
		if err != nil || len(due) == 0 {
			return err
		}
		var all []*Snapshot
		if judged {
			all, err = d.Snapshots(s, due)
		} else {
			all, err = d.topped(s, due)
		}
		if err != nil {
			return err
		}
		settled := make([]store.Page, len(all))
		for i, n := range all {
			p := n.Page
			if p.Compared != compared {
				p.Differs, p.Compared = n.Differs(), compared
			}
			if judged && p.Judged != findings {
				if contrasts, ok := d.measured(n); ok { // else it is judged the next time
					p.Stops, p.Warns = levels(d.found(n, contrasts))
					p.Judged = findings
				}
			}
			settled[i] = p
		}
		return s.Settle(settled)
	})
}

// measureAll measures the contrasts of pages, which may have to make working copies: nothing
// is made within the transaction that keeps the answers.
func (d *Desk) measureAll(due []store.Page) error {
	due = slices.DeleteFunc(slices.Clone(due), func(p store.Page) bool { return !p.Doc.Backed() })
	if len(due) == 0 {
		return nil
	}
	var all []*Snapshot
	err := d.Store.View(func(s store.Records) (err error) {
		all, err = d.Snapshots(s, due)
		return err
	})
	for _, n := range all {
		if err == nil {
			_, err = d.Contrasts(n)
		}
	}
	return err
}

// topped takes bare snapshots with what stands at the top of the pages.
func (d *Desk) topped(s store.Records, due []store.Page) ([]*Snapshot, error) {
	fronts, err := s.LiveFronts()
	if err != nil {
		return nil, err
	}
	over, err := topsOf(fronts)
	if err != nil {
		return nil, err
	}
	return d.bare(s, due, d.Held(), over)
}

// settledUnder are the tokens of what the two answers depend on besides the pages and
// their pictures: the rules, the engine and, for findings, the day.
func (d *Desk) settledUnder() (compared, judged string) {
	compared = fmt.Sprintf("%d/%d", d.Held().Stamp(), cuts.Engine)
	return compared, compared + "/" + d.Today()
}

// levels counts the findings that say stop and warn.
func levels(fs []PageFinding) (stops, warns int) {
	for _, f := range fs {
		switch f.Level {
		case words.Stop:
			stops++
		case words.Warn:
			warns++
		}
	}
	return stops, warns
}
