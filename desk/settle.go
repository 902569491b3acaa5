package desk

import (
	"fmt"

	"mivlet/core/words"
	"mivlet/store"
)

// settle works out anew what is kept of every page and may have changed since: whether
// visitors see something else than the draft would give and, where judged, how many
// findings the sign-off has. Whatever is written marks the pages that it concerns, so
// that most times there is nothing to do, however large the house is.
func (d *Desk) settle(judged bool) error {
	if d.settled != nil && *d.settled && !judged {
		return nil // in this very request
	}
	if err := d.settleNow(judged); err != nil {
		return err
	}
	if d.settled != nil {
		*d.settled = true
	}
	return nil
}

// unsettled says that something was written in this request, so that what is kept of the
// pages may have to be worked out once more.
func (d *Desk) unsettled() {
	if d.settled != nil {
		*d.settled = false
	}
}

func (d *Desk) settleNow(judged bool) error {
	compared, findings := d.settledUnder()
	if !judged {
		findings = ""
	}
	due, err := d.store.Unsettled(compared, findings)
	if err != nil || len(due) == 0 {
		return err
	}
	return d.store.Tx(func(s *store.Store) error { // nobody writes between the reading and the keeping
		due, err := s.Unsettled(compared, findings)
		if err != nil || len(due) == 0 {
			return err
		}
		var all []*snapshot
		if judged {
			all, err = d.snapshots(s, due)
		} else {
			all, err = d.bare(s, due, *d.rules.Load())
		}
		if err != nil {
			return err
		}
		settled := make([]store.Page, len(all))
		for i, n := range all {
			p := n.Page
			if p.Compared != compared {
				p.Differs, p.Compared = n.differs(), compared
			}
			if judged && p.Judged != findings {
				p.Stops, p.Warns = levels(d.findings(n))
				p.Judged = findings
			}
			settled[i] = p
		}
		return s.Settle(settled)
	})
}

// settledUnder are the tokens of what the two answers depend on besides the pages and
// their pictures: the rules, the engine and, for findings, the day.
func (d *Desk) settledUnder() (compared, judged string) {
	compared = fmt.Sprintf("%d/%d", d.rules.Load().number, engine)
	return compared, compared + "/" + d.today()
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
