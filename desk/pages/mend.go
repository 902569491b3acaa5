package pages

import (
	"mivlet/core/audit"
	"mivlet/desk/access"
	"mivlet/desk/snapshot"
	"mivlet/sentences"
)

// Mend does to a page what mends one of its findings: the one at the nth picture of a
// block that offers it. Where it is no longer found, nothing is changed.
func (d *Desk) Mend(id uint, block string, n int, do audit.Mending, value string) error {
	if err := d.MayWorkOn(id); err != nil {
		return err
	}
	v, err := d.Page(id)
	if err != nil {
		return err
	}
	for _, f := range v.Findings {
		if f.Block == block && f.Nth == n && f.Mend.Do == do && f.Mend.Value == value {
			return d.Edit(id, Newest, "Fixed: "+sentences.Fix(f.OnPage, d.Rules()), f.Apply)
		}
	}
	return access.Refuse(access.Missing, "That is fixed already, or has changed.", "Look at the sign-off again.")
}

// Stops returns the findings that keep the page from going live.
func (v PageView) Stops() []snapshot.PageFinding { return snapshot.StopsAmong(v.Findings) }
