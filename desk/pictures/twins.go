package pictures

import (
	"cmp"
	"slices"

	"mivlet/core/twin"
	"mivlet/store"
)

// mostNear is how many near-twins are shown.
const mostNear = 4

// known is what pictures are compared by.
type known struct {
	id    uint
	hash  twin.Hash
	crops twin.Crops
}

// NearTwins finds the pictures that show the same photos as some, turned and mirrored or not, or with a
// tenth cut off, by
// the numbers of those, as far as whoever is at the desk may see them.
func (d *Desk) NearTwins(ps []store.Picture) (map[uint][]store.Picture, error) {
	all, err := d.Store.Twins()
	if err != nil {
		return nil, err
	}
	type near struct {
		id       uint
		distance int
	}
	others := make([]known, len(all))
	for i, t := range all {
		others[i] = known{t.ID, HashOf(t.TwinA, t.TwinB, t.TwinC), twin.ReadCrops(t.TwinCrops)}
	}
	found := map[uint][]near{}
	var ids []uint
	for _, p := range ps {
		own := HashOf(p.TwinA, p.TwinB, p.TwinC)
		if own.Flat() {
			continue
		}
		var nearest []near
		ways, crops := own.Ways(), twin.ReadCrops(p.TwinCrops)
		for _, t := range others {
			if t.id == p.ID {
				continue
			}
			if n := min(ways.Apart(t.hash), crops.Distance(t.hash), t.crops.Distance(own)); n <= twin.Near {
				nearest = append(nearest, near{t.id, n})
			}
		}
		slices.SortFunc(nearest, func(a, b near) int { return cmp.Or(a.distance-b.distance, int(a.id)-int(b.id)) })
		found[p.ID] = nearest[:min(len(nearest), mostNear)]
		for _, f := range found[p.ID] {
			ids = append(ids, f.id)
		}
	}
	pictures, err := d.Store.PicturesIn(ids)
	if err != nil {
		return nil, err
	}
	twins := map[uint][]store.Picture{}
	for _, p := range ps {
		for _, f := range found[p.ID] {
			if t, ok := pictures[f.id]; ok && d.Sees(t) && t.VariantOf != p.ID && t.OriginalHash != p.OriginalHash {
				twins[p.ID] = append(twins[p.ID], t)
			}
		}
	}
	return twins, nil
}

// HashOf reads a perceptual hash as it is kept.
func HashOf(a, b, c int64) twin.Hash { return twin.Hash{uint64(a), uint64(b), uint64(c)} }
