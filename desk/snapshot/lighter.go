package snapshot

import (
	"mivlet/core/rules"
	"mivlet/desk/cuts"
	"mivlet/store"
)

// Later are the lighter files that were missing when the files of the page were asked for.
func (n *Snapshot) Later() []cuts.Later { return n.later }

// lighter gives the cuts of a picture that are offered beside JPEG files, and notes what is not made yet.
func (d *Desk) lighter(n *Snapshot, pic store.Picture, slot rules.Slot, made []store.Cut) ([][]store.Cut, error) {
	ready, later, err := d.cuts.LighterReady(n.House.Rules, pic, slot, made)
	n.later = append(n.later, later...)
	return ready, err
}
