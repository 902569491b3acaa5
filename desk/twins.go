package desk

import (
	"cmp"
	"slices"

	"mivlet/core/twin"
	"mivlet/store"
)

// mostNear is how many near-twins are shown.
const mostNear = 4

// nearTwins finds the pictures that show the same photo as p.
func (d *Desk) nearTwins(p store.Picture) ([]store.Picture, error) {
	own := hashOf(p.TwinA, p.TwinB, p.TwinC)
	if own.Flat() {
		return nil, nil
	}
	all, err := d.store.Twins()
	if err != nil {
		return nil, err
	}
	type near struct {
		id       uint
		distance int
	}
	var found []near
	for _, t := range all {
		if t.ID == p.ID {
			continue
		}
		if n := own.Distance(hashOf(t.TwinA, t.TwinB, t.TwinC)); n <= twin.Near {
			found = append(found, near{t.ID, n})
		}
	}
	slices.SortFunc(found, func(a, b near) int { return cmp.Or(a.distance-b.distance, int(a.id)-int(b.id)) })
	var pictures []store.Picture
	for _, f := range found[:min(len(found), mostNear)] {
		t, err := d.store.Picture(f.id)
		if err != nil {
			return nil, err
		}
		if t.VariantOf != p.ID && t.OriginalHash != p.OriginalHash {
			pictures = append(pictures, t)
		}
	}
	return pictures, nil
}

// hashOf reads a perceptual hash as it is kept.
func hashOf(a, b, c int64) twin.Hash { return twin.Hash{uint64(a), uint64(b), uint64(c)} }
